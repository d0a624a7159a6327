/** Lights in metres and linear light, as a frame carries them. */
import type { Vec3 } from '../math/bounds.js';
import type { Rgb } from '../units/colour.js';

/** Whole edges u and v of a rectangle, or radii of a disc; it shines to the side of u × v. Seen in mirrors, not by the camera. */
export interface AreaLight {
  kind: 'rectangle' | 'disc';
  centre: Vec3;
  u: Vec3;
  v: Vec3;
  radiance: Rgb;
}

/** A light without extent that shines all round. */
export interface PointLight {
  kind: 'point';
  centre: Vec3;
  /** Candela: gives intensity / distance² on a surface that faces it. */
  intensity: Rgb;
}

/** A light without extent that shines into a cone. */
export interface SpotLight {
  kind: 'spot';
  centre: Vec3;
  /** Unit vector that it shines along. */
  direction: Vec3;
  intensity: Rgb;
  /** Half angles in radians: full light within the first, none beyond the second. */
  inner: number;
  outer: number;
}

/** Light from afar. */
export interface SunLight {
  kind: 'sun';
  /** Unit vector that it shines along. */
  direction: Vec3;
  /** Angular radius in radians; 0: sharp shadows, and not to be seen. */
  radius: number;
  /** On a surface that faces it. */
  irradiance: Rgb;
  /** A light that somebody added, which turns with the lights and not with the sky. */
  added?: true;
}

/** Any light of a stage. */
export type Light = AreaLight | PointLight | SpotLight | SunLight;
