import { describe, expect, it } from 'vitest';
import type { Vec3 } from './bounds.js';
import { angleBetween, slerp, normalize } from './direction.js';

describe('directions', () => {
  it('have the angle between them, whatever their lengths, exact for the smallest', () => {
    expect(angleBetween([2, 0, 0], [0, 0, 5])).toBeCloseTo(Math.PI / 2, 12);
    expect(angleBetween([1, 0, 0], [1, 1e-9, 0])).toBeCloseTo(1e-9, 15);
    expect(angleBetween([1, 0, 0], [-3, 0, 0])).toBeCloseTo(Math.PI, 12);
    expect(normalize([0, 0, 0])).toEqual([0, 0, 0]);
  });

  it('turn evenly from one to the other', () => {
    const [a, b]: Vec3[] = [normalize([1, 0.2, 0]), normalize([-0.3, 1, 2])] as Vec3[];
    const whole = angleBetween(a!, b!);
    for (const share of [0, 0.25, 0.5, 1]) {
      const way = slerp(a!, b!, share);
      expect(angleBetween(a!, way)).toBeCloseTo(share * whole, 9);
      expect(angleBetween(way, b!)).toBeCloseTo((1 - share) * whole, 9);
    }
    expect(slerp(a!, a!, 0.4)).toEqual(a);
  });
});
