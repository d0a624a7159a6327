/** Curves of a grade as tables, for loops that grade many pixels (kernel/grade). */
import { toDisplay } from '../units/colour.js';
import { contrastCurve, levelsCurve, type Look } from './look.js';
import { type Curve, CURVE_LIST } from './tone.js';

/** Luminance at which the table of the tone curve ends: farther than any half float. */
const FAR = 1e9;

/**
 * By what light is multiplied so that its luminance follows the tone curve: `cells` + 2 values over u = √l / (1 + √l), of which the
 * last stand for all that is brighter.
 */
export function ratioTable(curve: Curve, cells: number): Float32Array {
  const { map } = CURVE_LIST[curve];
  const ratio = (l: number): number => map(l) / l;
  return Float32Array.from({ length: cells + 2 }, (_, i) => {
    const u = i / cells;
    // At no light at all the ratio is what it is just above.
    return ratio(u < 1 ? Math.min(FAR, Math.max(1e-9, (u / (1 - u)) ** 2)) : FAR);
  });
}

/** Display values after levels and contrast of the linear value (i / cells)², `cells` + 2 of them. */
export function displayTable({ levels, contrast = 1 }: Look, cells: number): Float32Array {
  return Float32Array.from({ length: cells + 2 }, (_, i) => {
    const v = toDisplay(Math.min(1, i / cells) ** 2);
    return contrast === 1 && !levels ? v : contrastCurve(levels ? levelsCurve(v, levels) : v, contrast);
  });
}
