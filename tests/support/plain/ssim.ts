/**
 * Structural similarity (Wang, Bovik, Sheikh, Simoncelli: "Image quality assessment: from error visibility to structural
 * similarity", IEEE Transactions on Image Processing 13, 2004): Gaussian window of 11 × 11 with sigma 1.5, K1 0.01, K2 0.03.
 */
import { filterPlane, gaussWeights, type Plane, shrinkPlane } from './filters.js';

const RADIUS = 5;
/** Larger pictures are reduced to about so many pixels of their shorter side first, as the authors advise. */
const SHORT_SIDE = 256;
const WEIGHTS = gaussWeights(RADIUS, 1.5);

/**
 * The mean over all windows that lie within the picture; 1 for equal ones.
 * @param range of the values: 255 for bytes, 100 for L*.
 */
export function ssimOf(first: Plane, second: Plane, range: number): number {
  const factor = Math.max(1, Math.round(Math.min(first.width, first.height) / SHORT_SIDE));
  const [a, b] = factor > 1 ? [shrinkPlane(first, factor), shrinkPlane(second, factor)] : [first, second];
  const { width, height } = a;
  const product = (x: Float32Array, y: Float32Array): Plane => ({ width, height, values: x.map((v, i) => v * y[i]!) });
  const mean = (p: Plane): Float32Array => filterPlane(p, WEIGHTS).values;
  const [ma, mb] = [mean(a), mean(b)];
  const [aa, bb, ab] = [mean(product(a.values, a.values)), mean(product(b.values, b.values)), mean(product(a.values, b.values))];
  const [c1, c2] = [(0.01 * range) ** 2, (0.03 * range) ** 2];
  // A picture smaller than the window has none that lies within it: all of it counts then.
  const edge = Math.min(width, height) > 2 * RADIUS ? RADIUS : 0;
  let sum = 0;
  let count = 0;
  for (let y = edge; y < height - edge; y++) {
    for (let x = edge; x < width - edge; x++, count++) {
      const i = y * width + x;
      const [m, n] = [ma[i]!, mb[i]!];
      const [va, vb, cov] = [aa[i]! - m * m, bb[i]! - n * n, ab[i]! - m * n];
      sum += ((2 * m * n + c1) * (2 * cov + c2)) / ((m * m + n * n + c1) * (va + vb + c2));
    }
  }
  return sum / count;
}
