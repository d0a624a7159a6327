/** Exposure as a camera has it, beside stops: what luminance comes out white under daylight. */
import { DAYLIGHT_UNIT } from '../stage/daylight.js';
import { EXPOSURE } from './tone.js';

/**
 * A saturation-based exposure value at ISO 100 has its white at 1.2 · 2^EV cd/m² (ISO 12232: 78 / (S q) N² / t with q 0.65).
 */
const WHITE_AT_ZERO = 1.2;

/** EV100 of a grade's stops under daylight: so many candela a square metre come out as 1 before the tone curve. */
export function ev100OfStops(stops: number): number {
  return Math.log2(DAYLIGHT_UNIT / (EXPOSURE * WHITE_AT_ZERO)) - stops;
}

/** Stops over the stage's own exposure for a scene metered at that exposure value at ISO 100. */
export function stopsOfEv100(ev: number): number {
  return Math.log2(DAYLIGHT_UNIT / (EXPOSURE * WHITE_AT_ZERO)) - ev;
}

/** Stops by which light may miss the exposure before it is said: sixteen times as bright, or as dark. */
const TOLERANCE_EV = 4;

/**
 * How many times too bright (above 1) or too dark (below 1) a view comes out, where that is by orders of
 * magnitude; null where it is not. `wanted` are the stops that its mean light asks for.
 */
export function exposureWarning(stops: number, wanted: number): number | null {
  return Math.abs(stops - wanted) > TOLERANCE_EV ? 2 ** (stops - wanted) : null;
}

/** How a camera is set. */
export interface CameraExposure {
  /** f-number. */
  aperture: number;
  /** Seconds that the shutter is open. */
  time: number;
  /** ISO. */
  sensitivity: number;
}

/** EV100 = log2(N² / t · 100 / S). */
export function ev100OfCamera({ aperture, time, sensitivity }: CameraExposure): number {
  return Math.log2(((aperture * aperture) / time) * (100 / sensitivity));
}

/** Seconds that an EV100 takes at an aperture and sensitivity. */
export function shutterTimeOf(ev: number, { aperture, sensitivity }: Pick<CameraExposure, 'aperture' | 'sensitivity'>): number {
  return (aperture * aperture * 100) / (sensitivity * 2 ** ev);
}
