import { describe, expect, it } from 'vitest';
import { FLOOR_SHARE, floorOf, floorRays } from './floor.js';

const BOUNDS = { min: [-2, 0.5, -1] as [number, number, number], max: [2, 3.5, 1] as [number, number, number] };

describe('a floor of the design', () => {
  it('is asked for by rays from below through the whole footprint', () => {
    const rays = floorRays(BOUNDS);
    const xs = Array.from({ length: rays.length / 6 }, (_, i) => rays[i * 6]!);
    expect([Math.min(...xs), Math.max(...xs)].map((x) => Number(x.toFixed(3)))).toEqual([-1.917, 1.917]);
    expect([...rays.slice(3, 6)]).toEqual([0, 1, 0]);
    expect(rays[1]).toBe(-2.5);
  });

  it('is where most of them meet something first', () => {
    // Three of four under a slab at 0.6 m, the rest under a roof at 3 m or under nothing.
    const distances = Array.from({ length: 400 }, (_, i) => (i % 4 < 3 ? 3.1 + 0.001 * (i % 3) : i % 8 === 3 ? 5.5 : Infinity));
    const floor = floorOf(BOUNDS, distances);
    expect(floor.height).toBeCloseTo(0.601, 3);
    expect(floor.share).toBe(0.75);
    expect(floor.share).toBeGreaterThan(FLOOR_SHARE);
  });

  it('is not a foot, and not where nothing stands', () => {
    expect(
      floorOf(
        BOUNDS,
        Array.from({ length: 100 }, (_, i) => (i < 10 ? 3 : Infinity)),
      ).share,
    ).toBeLessThan(FLOOR_SHARE);
    expect(floorOf(BOUNDS, [Infinity, Infinity])).toEqual({ share: 0 });
  });
});
