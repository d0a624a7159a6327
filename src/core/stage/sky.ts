/**
 * The sky's light. Its distribution is one of the fifteen general skies of CIE S 011 / ISO 15469 (and
 * the sixteenth, the traditional overcast of Moon and Spencer); its absolute level is the daylight
 * availability model of IES RP-21; its colour, where it is clear, that of Preetham, Shirley, Smits,
 * "A practical analytic model for daylight", 1999, with turbidity acting on colour alone.
 * Angles are radians, luminances kcd/m², illuminances klx.
 */
import type { Vec3 } from '../math/bounds.js';
import { luminance, type Rgb, rgbOfChromaticity } from '../units/colour.js';

/** Skies by their cloud. */
export const CONDITIONS = ['clear', 'partly cloudy', 'overcast'] as const;
/** One of {@link CONDITIONS}. */
export type Condition = (typeof CONDITIONS)[number];

/** a b c d e of types 1 to 15. */
const TYPES: readonly (readonly [number, number, number, number, number])[] = [
  [4.0, -0.7, 0, -1.0, 0],
  [4.0, -0.7, 2, -1.5, 0.15],
  [1.1, -0.8, 0, -1.0, 0],
  [1.1, -0.8, 2, -1.5, 0.15],
  [0, -1.0, 0, -1.0, 0],
  [0, -1.0, 2, -1.5, 0.15],
  [0, -1.0, 5, -2.5, 0.3],
  [0, -1.0, 10, -3.0, 0.45],
  [-1.0, -0.55, 2, -1.5, 0.15],
  [-1.0, -0.55, 5, -2.5, 0.3],
  [-1.0, -0.55, 10, -3.0, 0.45],
  [-1.0, -0.32, 10, -3.0, 0.45],
  [-1.0, -0.32, 16, -3.0, 0.3],
  [-1.0, -0.15, 16, -3.0, 0.3],
  [-1.0, -0.15, 24, -2.8, 0.15],
];
/** Number of the traditional overcast sky. */
export const TRADITIONAL_OVERCAST = 16;
/** Types of sky run from 1 to this. */
export const MAX_SKY_TYPE = 16;

/** The type that stands for a condition unless another is chosen. */
export const TYPE_OF: Record<Condition, number> = { clear: 12, 'partly cloudy': 7, overcast: 1 };

/** Of a place: its angle from the zenith, and the angle between it and the sun. */
type OfPlace<T> = (zenith: number, away: number) => T;

/** Luminance over that of the zenith, as a function of the place. @param sunZenith angle of the sun from the zenith. */
function luminanceOver(type: number, sunZenith: number): OfPlace<number> {
  if (type === TRADITIONAL_OVERCAST) return (zenith) => (1 + 2 * Math.max(0, Math.cos(zenith))) / 3;
  const coefficients = TYPES[type - 1];
  if (!coefficients) throw new Error(`There is no sky of type ${type}; choose 1 to ${MAX_SKY_TYPE}.`);
  const [a, b, c, d, e] = coefficients;
  const gradation = (z: number): number => (Math.cos(z) > 1e-9 ? 1 + a * Math.exp(b / Math.cos(z)) : 1);
  const right = Math.exp((d * Math.PI) / 2);
  const indicatrix = (x: number): number => 1 + c * (Math.exp(d * x) - right) + e * Math.cos(x) ** 2;
  const atZenith = indicatrix(sunZenith) * gradation(0);
  return (zenith, away) => (indicatrix(away) * gradation(zenith)) / atZenith;
}

/**
 * Luminance over that of the zenith. `zenith` is the angle of the place from the zenith, `sunZenith`
 * the sun's, `away` the angle between place and sun.
 */
export function relativeLuminance(type: number, zenith: number, sunZenith: number, away: number): number {
  return luminanceOver(type, sunZenith)(zenith, away);
}

/** Day's share of the year's mean distance to the sun, on extraterrestrial illuminance, klx (IES RP-21: 127.5 klx). */
export function extraterrestrial(dayOfYear: number): number {
  return 127.5 * (1 + 0.034 * Math.cos((2 * Math.PI * (dayOfYear - 2)) / 365));
}

const AVAILABILITY: Record<Condition, { extinction: number; a: number; b: number; c: number }> = {
  clear: { extinction: 0.21, a: 0.8, b: 15.5, c: 0.5 },
  'partly cloudy': { extinction: 0.8, a: 0.3, b: 45, c: 1 },
  overcast: { extinction: Infinity, a: 0.3, b: 21, c: 1 },
};

/** So much darker a degree the sky grows under the horizon: to 3.4 lx when the sun is 6° below, where civil twilight ends (common practice, no source). */
const TWILIGHT = Math.log(800 / 3.4) / 6;

/** Klx from the sky on level ground, and from the sun on what faces it, for a sun of that altitude in radians. */
export function availability(condition: Condition, altitude: number, dayOfYear: number): { direct: number; diffuse: number } {
  const { extinction, a, b, c } = AVAILABILITY[condition];
  const sine = Math.sin(altitude);
  if (sine <= 0) return { direct: 0, diffuse: a * Math.exp((TWILIGHT * altitude * 180) / Math.PI) };
  // The model's own optical air mass is 1 / sin h.
  return { direct: extraterrestrial(dayOfYear) * Math.exp(-extinction / sine), diffuse: a + b * sine ** c };
}

type Perez = readonly [number, number, number, number, number];

const perez = ([a, b, c, d, e]: Perez, theta: number, gamma: number): number =>
  (1 + a * Math.exp(b / Math.cos(theta))) * (1 + c * Math.exp(d * gamma) + e * Math.cos(gamma) ** 2);

/** Preetham's chromaticity x, y of a clear sky, as a function of the place. `turbidity` 1.7 to 10. */
function chromaticityOf(turbidity: number, sunZenith: number): OfPlace<[number, number]> {
  const t = turbidity;
  const s = Math.min(sunZenith, Math.PI / 2 - 0.01);
  const atZenith = (m: number[][]): number => {
    const row = (k: number): number => m[k]![0]! * s ** 3 + m[k]![1]! * s ** 2 + m[k]![2]! * s + m[k]![3]!;
    return t * t * row(0) + t * row(1) + row(2);
  };
  const xs: Perez = [-0.0193 * t - 0.2592, -0.0665 * t + 0.0008, -0.0004 * t + 0.2125, -0.0641 * t - 0.8989, -0.0033 * t + 0.0452];
  const ys: Perez = [-0.0167 * t - 0.2608, -0.095 * t + 0.0092, -0.0079 * t + 0.2102, -0.0441 * t - 1.6537, -0.0109 * t + 0.0529];
  const xz = atZenith([
    [0.00166, -0.00375, 0.00209, 0],
    [-0.02903, 0.06377, -0.03202, 0.00394],
    [0.11693, -0.21196, 0.06052, 0.25886],
  ]);
  const yz = atZenith([
    [0.00275, -0.0061, 0.00317, 0],
    [-0.04214, 0.0897, -0.04153, 0.00516],
    [0.15346, -0.26756, 0.0667, 0.26688],
  ]);
  const [x0, y0] = [perez(xs, 0, s), perez(ys, 0, s)];
  return (zenith, away) => {
    // The distribution has no end at the horizon.
    const z = Math.min(zenith, Math.PI / 2 - 0.01);
    return [(xz * perez(xs, z, away)) / x0, (yz * perez(ys, z, away)) / y0];
  };
}

/** Preetham's chromaticity x, y of a clear sky. `turbidity` 1.7 to 10. */
export function clearChromaticity(turbidity: number, zenith: number, sunZenith: number, away: number): [number, number] {
  return chromaticityOf(turbidity, sunZenith)(zenith, away);
}

/**
 * Colour of luminance 1 of the sun's beam: white outside, less what air and haze scatter out of it
 * (Preetham 1999, appendix, at 610, 550 and 465 nm; air mass after Kasten 1966).
 */
export function sunColour(turbidity: number, altitude: number): Rgb {
  const degrees = Math.max(0, (altitude * 180) / Math.PI);
  const mass = 1 / (Math.sin(Math.max(0, altitude)) + 0.15 * (degrees + 3.885) ** -1.253);
  const haze = 0.04608 * turbidity - 0.04586;
  const rgb = [0.61, 0.55, 0.465].map((w) => Math.exp(-mass * (0.008735 * w ** -4.08 + haze * w ** -1.3))) as Rgb;
  const l = luminance(...rgb);
  return rgb.map((c) => c / l) as Rgb;
}

/** A sky as a frame carries it. */
export interface SkyLight {
  /** CIE type, 1 to 16. */
  type: number;
  turbidity: number;
  /** Unit vector in the model to the sun's middle. */
  sun: Vec3;
  /** What it gives on level ground, in the frame's unit of light. */
  diffuse: number;
  /** Radiance from below the horizon. */
  ground: Rgb;
}

/** How much of the colour is that of a clear sky: clouds are white. */
function clearness(type: number): number {
  if (type === TRADITIONAL_OVERCAST || type <= 6) return 0;
  return type <= 10 ? 0.5 : 1;
}

/** Degrees below the horizon down to which the ground takes on the horizon's light. */
const TURBIDITY_RANGE = 6;

/**
 * The sky as an equirectangular table: linear Rec. 709, three values a texel, rows from the zenith
 * down, the middle column looking to -Z. Its upper half gives `diffuse` on level ground.
 */
export function skyTable(sky: SkyLight, width: number, height: number): Float32Array {
  const texels = new Float32Array(width * height * 3);
  const { type, turbidity, sun, ground } = sky;
  // While the sun is below, its glow stays at the horizon.
  const sunZenith = Math.acos(Math.min(1, Math.max(sun[1], 0)));
  const across = Math.hypot(sun[0], sun[2]) || 1;
  const flat = [sun[0] / across, sun[2] / across] as const;
  const share = clearness(type);
  const luminanceAt = luminanceOver(type, sunZenith);
  const chromaticityAt = chromaticityOf(turbidity, sunZenith);
  let level = 0;
  for (let row = 0; row < height; row++) {
    const zenith = ((row + 0.5) / height) * Math.PI;
    if (zenith >= Math.PI / 2) break;
    for (let column = 0; column < width; column++) {
      const at = (row * width + column) * 3;
      const turn = ((column + 0.5) / width - 0.5) * 2 * Math.PI;
      const [x, z] = [Math.sin(turn) * Math.sin(zenith), -Math.cos(turn) * Math.sin(zenith)];
      const cosine = Math.sin(sunZenith) * (x * flat[0] + z * flat[1]) + Math.cos(sunZenith) * Math.cos(zenith);
      const away = Math.acos(Math.min(1, Math.max(-1, cosine)));
      const l = luminanceAt(zenith, away);
      const colour: Rgb = share > 0 ? rgbOfChromaticity(...chromaticityAt(zenith, away)) : [1, 1, 1];
      for (let c = 0; c < 3; c++) texels[at + c] = l * (1 + share * (colour[c]! - 1));
      level += l * Math.cos(zenith) * Math.sin(zenith);
    }
  }
  const k = sky.diffuse / (level * (Math.PI / height) * ((2 * Math.PI) / width));
  const upper = Math.floor(height / 2) * width * 3;
  for (let i = 0; i < upper; i++) texels[i] = texels[i]! * k;
  // The far ground lies in the haze of the horizon.
  for (let i = upper; i < texels.length; i++) {
    const below = ((Math.floor(i / (3 * width)) + 0.5) / height - 0.5) * 180;
    const haze = Math.max(0, 1 - below / TURBIDITY_RANGE) ** 2;
    const own = ground[i % 3]!;
    texels[i] = own + haze * (texels[upper - 3 * width + (i % (3 * width))]! - own);
  }
  return texels;
}
