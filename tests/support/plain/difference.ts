/** What the kernel tells of two pictures, written out in single steps: what it is checked against. */
import type { MeasuredDifference, Pixels } from '../../../src/core/review/difference.js';
import { MIN_THRESHOLD } from '../../../src/core/review/threshold.js';
import { ciede2000 } from './ciede2000.js';
import { meanPlane, type Plane } from './filters.js';
import { type LabPicture, toLab } from './lab.js';
import { noiseVariance } from './noise.js';
import { ssimOf } from './ssim.js';

/** Standard deviations of the noise that are taken off a difference before it counts. */
const NOISE_FACTOR = 3;
/** CIEDE2000 is at most about so many times the distance in L*a*b*: chroma is stretched by up to 1.5, and the rotation term adds to it. */
const MOST_PER_LAB = 2.2;
/** What differs by less is not looked at, whatever its noise. */
const LEAST_SQUARED = (MIN_THRESHOLD / MOST_PER_LAB) ** 2;

function minus(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! - b[i]!;
  return out;
}

/** Mean over 3 × 3 pixels of a plane at one of them; beyond the edge the nearest pixel stands. */
function meanAt(values: Float32Array, width: number, height: number, x: number, y: number): number {
  const left = x > 0 ? x - 1 : 0;
  const right = x < width - 1 ? x + 1 : x;
  let sum = 0;
  for (let v = y - 1; v <= y + 1; v++) {
    const row = (v < 0 ? 0 : v < height ? v : height - 1) * width;
    sum += values[row + left]! + values[row + x]! + values[row + right]!;
  }
  return sum / 9;
}

/**
 * By how much CIEDE2000 of the means over 3 × 3 pixels is beyond their noise; 0 where that cannot come to MIN_THRESHOLD.
 * @param differences of the planes, the first less the second.
 */
function beyondNoise(a: LabPicture, b: LabPicture, differences: readonly Plane[], noise: Float32Array): Float32Array {
  const { width, height } = a;
  const [dL, dA, dB] = differences.map((d) => meanPlane(d, 1).values) as [Float32Array, Float32Array, Float32Array];
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const dl = dL[i]!;
      const da = dA[i]!;
      const db = dB[i]!;
      const squared = dl * dl + da * da + db * db;
      if (squared < LEAST_SQUARED) continue;
      const allowed = NOISE_FACTOR * Math.sqrt(noise[i]!);
      const least = (MIN_THRESHOLD + allowed) / MOST_PER_LAB;
      if (squared < least * least) continue;
      const l = meanAt(b.planes[0], width, height, x, y);
      const m = meanAt(b.planes[1], width, height, x, y);
      const n = meanAt(b.planes[2], width, height, x, y);
      out[i] = Math.max(0, ciede2000(l + dl, m + da, n + db, l, m, n) - allowed);
    }
  }
  return out;
}

/** The difference of two pictures of one size. */
export function plainDifference(first: Pixels, second: Pixels): MeasuredDifference {
  const { width, height } = first;
  const [a, b] = [toLab(first), toLab(second)];
  const plane = (values: Float32Array): Plane => ({ width, height, values });
  const differences = ([0, 1, 2] as const).map((c) => plane(minus(a.planes[c], b.planes[c])));
  const values = beyondNoise(a, b, differences, noiseVariance(differences));
  return { width, height, values, ssim: ssimOf(plane(a.planes[0]), plane(b.planes[0]), 100) };
}
