import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from './bounds.js';
import { planeThrough } from './plane.js';

describe('a plane through three points', () => {
  it('is level through points of one height, whichever way round they are picked', () => {
    const points: [Vec3, Vec3, Vec3] = [
      [0, 1.2, 0],
      [1, 1.2, 0],
      [0, 1.2, 3],
    ];
    expect(planeThrough(points, [0, 5, 0])).toEqual({ normal: [0, 1, 0], offset: 1.2 });
    expect(planeThrough([points[1], points[0], points[2]], [0, 5, 0])).toEqual({ normal: [0, 1, 0], offset: 1.2 });
    expect(planeThrough(points, [0, -5, 0])).toEqual({ normal: [0, -1, 0], offset: -1.2 });
  });

  it('holds all three, and the side that is cut away is that of the eye', () => {
    const point = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -50, max: 50 }).map((v) => v / 10))) as fc.Arbitrary<Vec3>;
    fc.assert(
      fc.property(point, point, point, point, (a, b, c, eye) => {
        let plane;
        try {
          plane = planeThrough([a, b, c], eye);
        } catch {
          return;
        }
        const { normal, offset } = plane;
        const at = (p: Vec3) => normal.reduce((s, n, i) => s + n * p[i]!, 0) - offset;
        expect(Math.hypot(...normal)).toBeCloseTo(1, 6);
        for (const p of [a, b, c]) expect(Math.abs(at(p))).toBeLessThan(1e-7);
        expect(at(eye)).toBeGreaterThan(-1e-7);
      }),
    );
  });

  it('is none where they lie on a line', () => {
    expect(() =>
      planeThrough(
        [
          [0, 0, 0],
          [1, 1, 1],
          [2, 2, 2],
        ],
        [0, 0, 9],
      ),
    ).toThrow('on one line');
    expect(() =>
      planeThrough(
        [
          [0, 0, 0],
          [0, 0, 0],
          [2, 2, 2],
        ],
        [0, 0, 9],
      ),
    ).toThrow('on one line');
  });
});
