/** Lights that a user adds: placed and aimed, in lumens and kelvin. */
import * as z from 'zod';
import type { Vec3 } from '../math/bounds.js';
import { blackBody, MIN_KELVIN, MAX_KELVIN } from '../units/colourTemperature.js';
import { rgbOfChromaticity, type Rgb } from '../units/colour.js';
import { idSchema, pointSchema } from '../camera/view.js';
import type { Light } from './light.js';

/** Kinds of light that can be added. */
export const USER_LIGHT_KINDS = ['point', 'spot', 'rectangle', 'disc', 'directional'] as const;
/** One of {@link USER_LIGHT_KINDS}. */
export type UserLightKind = (typeof USER_LIGHT_KINDS)[number];

/** Candela a square metre that radiance 1 stands for on a stage preset: a white sheet in a well-lit room has about as much. */
export const ROOM_UNIT = 200;

/** Lumens of a watt of visible white light, of equal energy over the spectrum: the factor that lighting simulation commonly takes (from memory). */
export const LUMENS_PER_WATT = 179;

/** A light that was added to the stage. */
export const userLightSchema = z
  .strictObject({
    id: idSchema,
    name: z.string().min(1).max(80),
    kind: z.enum(USER_LIGHT_KINDS),
    on: z.boolean().default(true),
    at: pointSchema,
    /** What it is aimed at; a point lamp shines all round. */
    target: pointSchema,
    lumens: z.number().min(0).max(1e9).default(800),
    kelvin: z.number().min(MIN_KELVIN).max(MAX_KELVIN).default(3000),
    /** Metres across, of a rectangle or a disc: the larger, the softer its shadows. */
    width: z.number().min(1e-4).max(1000).default(0.3),
    height: z.number().min(1e-4).max(1000).default(0.3),
    /** Lux on what faces a directional light; 1000 where absent. */
    lux: z.number().min(0).max(1e6).optional(),
    /** Degrees across a directional light, seen from the subject: the larger, the softer its shadows; 0.5 where absent, as the sun. */
    spread: z.number().min(0).max(60).optional(),
    /** Degrees across the cone of a spot. */
    cone: z.number().min(1).max(179).default(40),
  })
  .refine((l) => l.kind === 'point' || Math.hypot(...l.at.map((v, i) => v - l.target[i]!)) > 1e-6, {
    path: ['target'],
    message: 'A light cannot aim at itself; move its target.',
  });

/** What {@link userLightSchema} reads. */
export type UserLight = z.infer<typeof userLightSchema>;

/** Share of a spot's cone that has its full light. */
const FULL_CONE_SHARE = 0.7;

/** What a directional light gives, where the set does not say it: lux, and degrees across. */
const DIRECTIONAL = { lux: 1000, spread: 0.5 };

/** Illuminance in lux and angle of spread in degrees of a directional light, with defaults where they are not given. */
export const directionalOf = ({
  lux = DIRECTIONAL.lux,
  spread = DIRECTIONAL.spread,
}: Pick<UserLight, 'lux' | 'spread'>): { lux: number; spread: number } => ({
  lux,
  spread,
});

/** Rectangular edges u and v about an axis; u is level, and u × v points along the axis. */
function areaLightEdges(axis: Vec3, width: number, height: number): [Vec3, Vec3] {
  const level = Math.hypot(axis[0], axis[2]);
  const u: Vec3 = level > 1e-9 ? [-axis[2] / level, 0, axis[0] / level] : [1, 0, 0];
  const v: Vec3 = [axis[1] * u[2] - axis[2] * u[1], axis[2] * u[0] - axis[0] * u[2], axis[0] * u[1] - axis[1] * u[0]];
  return [u.map((c) => c * width) as Vec3, v.map((c) => c * height) as Vec3];
}

/**
 * The lamp in the engine's terms, where radiance 1 stands for `unit` cd/m². A point of F lumens has F / 4π
 * candela, a spot F over its cone's solid angle, and an area A that shines to one side F / (π A) cd/m².
 */
export function toLight(own: UserLight, unit: number): Light {
  const colour = rgbOfChromaticity(...blackBody(own.kelvin));
  const times = (k: number): Rgb => colour.map((c) => (c * k) / unit) as Rgb;
  const centre = own.at as Vec3;
  if (own.kind === 'point') return { kind: 'point', centre, intensity: times(own.lumens / (4 * Math.PI)) };
  const way = own.target.map((v, i) => v - own.at[i]!);
  const n = Math.hypot(...way);
  const direction = way.map((v) => v / n) as Vec3;
  if (own.kind === 'directional') {
    const { lux, spread } = directionalOf(own);
    return { kind: 'sun', direction, radius: ((spread / 2) * Math.PI) / 180, irradiance: times(lux), added: true };
  }
  if (own.kind === 'spot') {
    const outer = ((own.cone / 2) * Math.PI) / 180;
    const inner = outer * FULL_CONE_SHARE;
    return { kind: 'spot', centre, direction, intensity: times(own.lumens / spotAngle(inner, outer)), inner, outer };
  }
  const disc = own.kind === 'disc';
  // Edges of a rectangle are whole, those of a disc are radii.
  const [u, v] = areaLightEdges(direction, disc ? own.width / 2 : own.width, disc ? own.width / 2 : own.height);
  const area = disc ? Math.PI * (own.width / 2) ** 2 : own.width * own.height;
  return { kind: own.kind, centre, u, v, radiance: times(own.lumens / (Math.PI * area)) };
}

/**
 * Solid angle of a spot, weighed with its falloff: full inside the inner cone, ((cos − cos o) / (cos i − cos o))²
 * between (KHR_lights_punctual); the integral of the square over the cosine is a third of its span.
 */
export function spotAngle(inner: number, outer: number): number {
  return 2 * Math.PI * (1 - Math.cos(inner) + (Math.cos(inner) - Math.cos(outer)) / 3);
}

/** A light that gives so small a share of the daylight changes nothing that is seen. */
export const LOST_SHARE = 0.01;

/** Lux that the light gives on what faces it at its target, before anything is in the way; areas are taken as small beside the way. */
export function luxAtTarget(own: UserLight): number {
  if (own.kind === 'directional') return directionalOf(own).lux;
  const squared = own.at.reduce((s, v, i) => s + (v - own.target[i]!) ** 2, 0);
  const outer = ((own.cone / 2) * Math.PI) / 180;
  const angle = own.kind === 'point' ? 4 * Math.PI : own.kind === 'spot' ? spotAngle(outer * FULL_CONE_SHARE, outer) : Math.PI;
  return own.lumens / (angle * squared);
}
