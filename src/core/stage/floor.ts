/** Whether a design brings a floor of its own where the stage lays one: asked by short rays through the plane, over a grid. */
import type { Bounds } from '../math/bounds.js';

const ACROSS = 24;
/** Surfaces that lie this share of the design's height off the plane are taken for one with it. */
const LEVEL = 0.01;
/** Share of the design's footprint that a floor covers at least; feet and bases cover less. */
export const FLOOR_SHARE = 0.5;

/** What of a model lies about the ground's plane. */
export interface Floor {
  /** Metres, in the mean; absent where nothing lies about the plane. */
  height?: number;
  /** Share of the footprint that lies there. */
  share: number;
}

function reach({ min, max }: Bounds): number {
  return LEVEL * Math.max(1e-3, max[1] - min[1]);
}

/** Rays straight down through a level plane, over the footprint of the bounds, from a little above it: origin and direction, six numbers each. */
export function floorRays(bounds: Bounds, height: number): Float32Array {
  const { min, max } = bounds;
  const rays = new Float32Array(ACROSS * ACROSS * 6);
  for (let i = 0; i < ACROSS * ACROSS; i++) {
    const [u, v] = [((i % ACROSS) + 0.5) / ACROSS, (Math.floor(i / ACROSS) + 0.5) / ACROSS];
    rays.set([min[0] + u * (max[0] - min[0]), height + reach(bounds), min[2] + v * (max[2] - min[2]), 0, -1, 0], i * 6);
  }
  return rays;
}

/** What of the design lies about the plane. `distances` are those of floorRays, infinite where nothing was met. */
export function floorOf(bounds: Bounds, height: number, distances: ArrayLike<number>): Floor {
  const off = reach(bounds);
  const near = Array.from(distances).filter((d) => d <= 2 * off);
  if (near.length === 0) return { share: 0 };
  return { height: height + off - near.reduce((a, b) => a + b, 0) / near.length, share: near.length / distances.length };
}
