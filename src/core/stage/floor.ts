/** Whether a design brings a floor of its own: what lies lowest under a grid of points, asked by rays from below. */
import { type Bounds } from '../geometry/bounds.js';

const ACROSS = 24;
/** Heights that lie this share of the design's height apart are one floor. */
const LEVEL = 0.01;
/** Share of the design's footprint that a floor covers at least; feet and bases cover less. */
export const FLOOR_SHARE = 0.5;

export interface Floor {
  /** Metres; absent where nothing stands. */
  height?: number;
  /** Share of the footprint that lies at that height. */
  share: number;
}

/** Rays straight up through the footprint of the bounds, from below them: origin and direction, six numbers each. */
export function floorRays({ min, max }: Bounds): Float32Array {
  const below = Math.max(1e-3, max[1] - min[1]);
  const rays = new Float32Array(ACROSS * ACROSS * 6);
  for (let i = 0; i < ACROSS * ACROSS; i++) {
    const [u, v] = [((i % ACROSS) + 0.5) / ACROSS, (Math.floor(i / ACROSS) + 0.5) / ACROSS];
    rays.set([min[0] + u * (max[0] - min[0]), min[1] - below, min[2] + v * (max[2] - min[2]), 0, 1, 0], i * 6);
  }
  return rays;
}

/** The height at which most of the rays met something first, and their share. `distances` are those of floorRays, infinite where nothing was met. */
export function floorOf({ min, max }: Bounds, distances: ArrayLike<number>): Floor {
  const tall = Math.max(1e-3, max[1] - min[1]);
  const bins = new Map<number, number[]>();
  for (let i = 0; i < distances.length; i++) {
    const d = distances[i]!;
    if (!Number.isFinite(d)) continue;
    const height = min[1] - tall + d;
    const bin = Math.round((height - min[1]) / (LEVEL * tall));
    bins.set(bin, [...(bins.get(bin) ?? []), height]);
  }
  const most = [...bins.values()].reduce<number[]>((a, b) => (b.length > a.length ? b : a), []);
  if (most.length === 0) return { share: 0 };
  return { height: most.reduce((a, b) => a + b, 0) / most.length, share: most.length / distances.length };
}
