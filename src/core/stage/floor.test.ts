import { describe, expect, it } from 'vitest';
import { FLOOR_SHARE, floorOf, floorRays } from './floor.js';

const BOUNDS = { min: [-2, 0.5, -1] as [number, number, number], max: [2, 3.5, 1] as [number, number, number] };

describe('a floor of the design', () => {
  it('is asked for by rays through the plane, over the whole footprint', () => {
    const rays = floorRays(BOUNDS, 0.6);
    const at = (k: number): number[] => Array.from({ length: rays.length / 6 }, (_, i) => rays[i * 6 + k]!);
    expect([Math.min(...at(0)), Math.max(...at(0))].map((x) => Number(x.toFixed(3)))).toEqual([-1.917, 1.917]);
    expect([...rays.slice(3, 6)]).toEqual([0, -1, 0]);
    // A hundredth of 3 m above it.
    expect(rays[1]).toBeCloseTo(0.63, 6);
  });

  it('is what lies about the plane, wherever else something lies', () => {
    // Three of four meet a slab a millimetre below the plane, the rest a ground far below or nothing.
    const distances = Array.from({ length: 400 }, (_, i) => (i % 4 < 3 ? 0.031 : i % 8 === 3 ? 1.2 : Infinity));
    const floor = floorOf(BOUNDS, 0.6, distances);
    expect(floor.height).toBeCloseTo(0.599, 6);
    expect(floor.share).toBe(0.75);
    expect(floor.share).toBeGreaterThan(FLOOR_SHARE);
  });

  it('is not a foot, and not where nothing lies about the plane', () => {
    expect(
      floorOf(
        BOUNDS,
        0.5,
        Array.from({ length: 100 }, (_, i) => (i < 10 ? 0.03 : Infinity)),
      ).share,
    ).toBeLessThan(FLOOR_SHARE);
    expect(floorOf(BOUNDS, 0.5, [Infinity, 0.07])).toEqual({ share: 0 });
  });
});
