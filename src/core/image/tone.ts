/** Tone curves: luminance of a scene to what a display shows. Each by its publication, one list. */
import { toDisplay } from '../units/colour.js';

/** Luminance that Reinhard's curve maps to white. */
export const WHITE = 2.5;
/** Luminance that Drago's and Hable's curves map to white: what a window or a light may reach beside a lit room. */
const FAR_WHITE = 11.2;

/**
 * Reinhard, Stark, Shirley, Ferwerda, "Photographic tone reproduction for digital images", 2002,
 * equation 4, on luminance: L (1 + L / white²) / (1 + L).
 */
export function reinhard(l: number, white = WHITE): number {
  return (l * (1 + l / (white * white))) / (1 + l);
}

/**
 * Drago, Myszkowski, Annen, Chiba, "Adaptive logarithmic mapping for displaying high contrast scenes",
 * 2003, equation 4, for a display of full range and bias 0.85.
 */
export function drago(l: number, white = FAR_WHITE, bias = 0.85): number {
  if (!(l > 0)) return 0;
  const base = 2 + (Math.min(l, white) / white) ** (Math.log(bias) / Math.log(0.5)) * 8;
  return Math.log(l + 1) / Math.log(base) / Math.log10(white + 1);
}

/** Hable, "Uncharted 2: HDR lighting", Game Developers Conference 2010: a curve with toe and shoulder, over its value at white. */
export function hable(l: number, white = FAR_WHITE): number {
  const curve = (x: number): number => (x * (0.15 * x + 0.05) + 0.004) / (x * (0.15 * x + 0.5) + 0.06) - 0.02 / 0.3;
  // The talk's own exposure bias of 2.
  return curve(2 * l) / curve(white);
}

/** Ids of tone curves. */
export const CURVES = ['shoulder', 'wide', 'toe', 'straight'] as const;
/** One of {@link CURVES}. */
export type Curve = (typeof CURVES)[number];

interface CurveEntry {
  /** In a few words, with its publication. */
  label: string;
  /** Display luminance, linear 0..1, of the scene's. */
  map: (l: number) => number;
}

/** Tone curves, each with the publication that it is from. */
export const CURVE_LIST: Record<Curve, CurveEntry> = {
  shoulder: { label: 'soft shoulder · Reinhard 2002', map: reinhard },
  wide: { label: 'wide range · Drago 2003', map: drago },
  toe: { label: 'filmic · Hable 2010', map: hable },
  straight: { label: 'straight', map: (l) => l },
};

/** Scales radiance before the curve: a white surface in full light of a stage preset comes out near white. */
export const EXPOSURE = 1.5;

// The sRGB power is slow; between so many values a straight line is exact to 16 bits.
const STEPS = 8192;
const TABLE = Float32Array.from({ length: STEPS + 2 }, (_, i) => toDisplay((i / STEPS) ** 2));

/** toDisplay by table, over the square root so that the dark end has the finer steps. */
export function quantizeSrgb(c: number): number {
  if (!(c > 0)) return 0;
  if (c >= 1) return 1;
  const x = Math.sqrt(c) * STEPS;
  const i = Math.floor(x);
  const a = TABLE[i]!;
  return a + (TABLE[i + 1]! - a) * (x - i);
}
