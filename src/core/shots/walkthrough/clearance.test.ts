import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../math/bounds.js';
import { clearances, nearestClearPoint, type NearestDistance } from './clearance.js';

/** A wall at x = 0, met from either side. */
const wall: NearestDistance = (rays) => ({
  distance: Float32Array.from({ length: rays.length / 6 }, (_, i) => {
    const t = -rays[i * 6]! / rays[i * 6 + 3]!;
    return t > 0 ? t : Infinity;
  }),
});

describe('clearance', () => {
  it('is the way to the nearest thing', () => {
    const [near, far] = clearances(
      [
        [0.2, 1.6, 5],
        [-3, 1.6, 5],
      ],
      wall,
    );
    expect(near).toBeCloseTo(0.2, 5);
    expect(far).toBeCloseTo(3, 5);
    expect(clearances([[1, 1, 1]], (r) => ({ distance: new Float32Array(r.length / 6).fill(Infinity) }))).toEqual([Infinity]);
  });

  it('finds a place with room near by, at the same height', () => {
    const place = nearestClearPoint([0.05, 1.6, 2], 0.3, wall)!;
    expect(Math.abs(place[0])).toBeGreaterThanOrEqual(0.3 - 1e-6);
    expect(place[1]).toBe(1.6);
    expect(Math.hypot(place[0] - 0.05, place[2] - 2)).toBeLessThan(0.7);
    const nowhere: NearestDistance = (r) => ({ distance: new Float32Array(r.length / 6).fill(0.1) });
    expect(nearestClearPoint([0, 0, 0] as Vec3, 0.3, nowhere)).toBeNull();
  });
});
