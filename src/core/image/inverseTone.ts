/** A grade backwards: the light that comes out of it as a colour that is wanted, for what stands behind a subject and is no light. */
import { luminance, type Rgb } from '../units/colour.js';
import type { Grade } from './grade.js';
import { CURVE_LIST, EXPOSURE } from './tone.js';
import { invertMatrix, whiteMatrix } from './whiteBalance.js';

/** What of a grade tells how bright something must be to look so. */
export type ToneMapping = Pick<Grade, 'exposure' | 'whiteBalance' | 'curve'>;

/** How many times its own luminance (above 0, to 1) something must have; by halving, as all curves rise and have reached 1 before 64. */
function toneGain(wanted: number, { exposure, curve }: ToneMapping): number {
  const { map } = CURVE_LIST[curve];
  let [low, high] = [0, 64];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (map(middle) < wanted) low = middle;
    else high = middle;
  }
  return (low + high) / 2 / wanted / (EXPOSURE * 2 ** exposure);
}

/** By rows, the matrix that undoes the white balance. */
function invertWhiteBalance({ whiteBalance }: ToneMapping): number[] {
  const white = whiteMatrix(whiteBalance);
  return white ? invertMatrix(white) : [1, 0, 0, 0, 1, 0, 0, 0, 1];
}

/** The same for a kernel: gains at `cells` + 1 even steps of the luminance's root from 0 to 1, then the matrix' nine numbers. */
export function inverseToneTable(look: ToneMapping, cells: number): Float32Array {
  // The first step stands for black, whose gain is that of what is hardly brighter.
  return Float32Array.from([
    ...Array.from({ length: cells + 1 }, (_, i) => toneGain((Math.max(i, 0.25) / cells) ** 2, look)),
    ...invertWhiteBalance(look),
  ]);
}

/** Linear light that comes out of the grade (without its glow) as the display-linear colour, each 0..1. */
export function sceneFromDisplay(colour: Rgb, look: ToneMapping): Rgb {
  const l = Math.min(1, luminance(...colour));
  if (!(l > 0)) return [0, 0, 0];
  const gain = toneGain(l, look);
  const m = invertWhiteBalance(look);
  return [0, 3, 6].map((row) => Math.max(0, gain * (m[row]! * colour[0] + m[row + 1]! * colour[1] + m[row + 2]! * colour[2]))) as Rgb;
}
