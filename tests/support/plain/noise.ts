/**
 * How much two renders differ by their noise alone, from the difference itself: what is rough in it pixel by pixel is noise,
 * what is smooth is change. After Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64,
 * 1996: the mask is the difference of two Laplacians, so edges along rows and columns and even slopes do not count. It is
 * asked at four scales, since what a filter leaves of noise is soft.
 */
import { shrinkPlane, meanPlane, type Plane } from './filters.js';

/** Pixels to each side over which noise is averaged, of each scale. */
const RADIUS = 4;
/** Of the variance at a scale (1, 2, 4, 8 pixels), the share that is left in a mean over 3 × 3. */
const SHARES = [1 / 9, 1 / 2, 1, 1];
/** Of the mean magnitude under the mask to a standard deviation of normal noise. */
const TO_DEVIATION = Math.sqrt(Math.PI / 2) / 6;

/** Standard deviation of the noise around each pixel. */
function deviationPlane({ width, height, values: v }: Plane): Plane {
  const out = new Float32Array(v.length);
  for (let y = 0; y < height; y++) {
    const up = Math.max(0, y - 1) * width;
    const row = y * width;
    const down = Math.min(height - 1, y + 1) * width;
    for (let x = 0; x < width; x++) {
      const l = x > 0 ? x - 1 : 0;
      const r = x < width - 1 ? x + 1 : x;
      const outer = v[up + l]! + v[up + r]! + v[down + l]! + v[down + r]!;
      const next = v[up + x]! + v[down + x]! + v[row + l]! + v[row + r]!;
      out[row + x] = Math.abs(outer - 2 * next + 4 * v[row + x]!) * TO_DEVIATION;
    }
  }
  return meanPlane({ width, height, values: out }, RADIUS);
}

/** Adds what a plane of half the size holds, each of its values at the pixels that it is of. */
function addCoarser(out: Float32Array, { width, height }: Plane, { width: w, height: h, values }: Plane): void {
  for (let y = 0; y < height; y++) {
    const row = Math.min(h - 1, y >> 1) * w;
    for (let x = 0; x < width; x++) out[y * width + x]! += values[row + Math.min(w - 1, x >> 1)]!;
  }
}

/** Variance by which a mean over 3 × 3 pixels of the difference is off, summed over its planes. */
export function noiseVariance(differences: readonly Plane[]): Float32Array {
  // Of each scale by itself; the coarser ones are spread over the finer afterwards, so that each pixel is added to once.
  const scales: Plane[] = [];
  for (const difference of differences) {
    let scaled = difference;
    SHARES.forEach((share, level) => {
      const { width, height, values } = deviationPlane(scaled);
      const all = (scales[level] ??= { width, height, values: new Float32Array(values.length) }).values;
      for (let i = 0; i < all.length; i++) all[i]! += share * values[i]! * values[i]!;
      if (level < SHARES.length - 1) scaled = shrinkPlane(scaled, 2);
    });
  }
  for (let level = SHARES.length - 2; level >= 0; level--) addCoarser(scales[level]!.values, scales[level]!, scales[level + 1]!);
  return scales[0]!.values;
}
