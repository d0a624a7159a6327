/**
 * Centripetal Catmull-Rom splines through points, in Barry and Goldman's recursive form ("A recursive
 * evaluation algorithm for a class of Catmull-Rom splines", 1988); with the root of the chord as knot
 * distance there is no cusp and no self-crossing within a leg (Yuksel, Schaefer, Keyser 2011).
 */
import type { Vec3 } from './bounds.js';

/** Steps of a leg's table of lengths: what lies between is a straight line, off by less than 1e-4 of the leg. */
const STEPS = 512;

const mix = (a: Vec3, b: Vec3, t: number): Vec3 => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
const apart = (a: Vec3, b: Vec3): number => Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);

/** Point of the leg from b to c at u in 0..1; a and d are its neighbours. */
export function splinePoint(a: Vec3, b: Vec3, c: Vec3, d: Vec3, u: number): Vec3 {
  const knot = (p: Vec3, q: Vec3): number => Math.sqrt(Math.max(apart(p, q), 1e-12));
  const t0 = 0;
  const t1 = t0 + knot(a, b);
  const t2 = t1 + knot(b, c);
  const t3 = t2 + knot(c, d);
  const t = t1 + (t2 - t1) * u;
  const a1 = mix(a, b, (t - t0) / (t1 - t0));
  const a2 = mix(b, c, (t - t1) / (t2 - t1));
  const a3 = mix(c, d, (t - t2) / (t3 - t2));
  const b1 = mix(a1, a2, (t - t0) / (t2 - t0));
  const b2 = mix(a2, a3, (t - t1) / (t3 - t1));
  return mix(b1, b2, (t - t1) / (t2 - t1));
}

/** One leg of a path, by its length. */
export interface Segment {
  /** Metres along the leg. */
  length: number;
  /** Point at a share 0..1 of the leg's length. */
  at(share: number): Vec3;
}

function segmentOf(a: Vec3, b: Vec3, c: Vec3, d: Vec3): Segment {
  const points = Array.from({ length: STEPS + 1 }, (_, i) => splinePoint(a, b, c, d, i / STEPS));
  const lengths = new Float64Array(STEPS + 1);
  for (let i = 1; i <= STEPS; i++) lengths[i] = lengths[i - 1]! + apart(points[i - 1]!, points[i]!);
  const length = lengths[STEPS]!;
  return {
    length,
    at(share) {
      const s = Math.min(1, Math.max(0, share)) * length;
      let [low, high] = [0, STEPS];
      while (high - low > 1) {
        const middle = (low + high) >> 1;
        if (lengths[middle]! <= s) low = middle;
        else high = middle;
      }
      const step = lengths[high]! - lengths[low]!;
      if (step === 0) return points[low]!;
      const wanted = s - lengths[low]!;
      const guess = wanted / step;
      const found = splinePoint(a, b, c, d, (low + guess) / STEPS);
      // Speed changes within a step too: mended by how far the guess really went.
      const went = apart(points[low]!, found);
      return went > 0 ? splinePoint(a, b, c, d, (low + Math.min(1, (guess * wanted) / went)) / STEPS) : found;
    },
  };
}

/** Legs from each point to the next; of a closed path one more, back to the first. At least two points. */
export function splineSegments(points: Vec3[], closed = false): Segment[] {
  const n = points.length;
  if (n < 2) throw new Error('A path needs two points.');
  const end = (from: Vec3, past: Vec3): Vec3 => [2 * from[0] - past[0], 2 * from[1] - past[1], 2 * from[2] - past[2]];
  const at = (i: number): Vec3 => {
    if (closed) return points[((i % n) + n) % n]!;
    // Beyond its ends a path goes straight on.
    if (i < 0) return end(points[0]!, points[1]!);
    if (i >= n) return end(points[n - 1]!, points[n - 2]!);
    return points[i]!;
  };
  return Array.from({ length: closed ? n : n - 1 }, (_, i) => segmentOf(at(i - 1), at(i), at(i + 1), at(i + 2)));
}
