/** The plain way of comparing, which the kernel is checked against, beside sums written out. */
import { describe, expect, it } from 'vitest';
import { toLinear } from '../../src/core/units/colour.js';
import { ciede2000 } from '../support/plain/ciede2000.js';
import { filterPlane, gaussWeights, meanPlane, shrinkPlane } from '../support/plain/filters.js';
import { labOf, toLab } from '../support/plain/lab.js';

type Rgb = [number, number, number];

/** Park and Miller's generator, 1988, in 0..1. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

describe('L*a*b* of pictures', () => {
  it('is that of single colours, also of dark ones and over the ground', () => {
    const colours: Rgb[] = [
      [0, 0, 0],
      [1, 2, 3],
      [255, 255, 255],
      [255, 0, 0],
      [12, 200, 90],
      [128, 128, 128],
    ];
    const { planes } = toLab({ width: colours.length, height: 1, data: Uint8Array.from(colours.flatMap((c) => [...c, 255])) });
    colours.forEach((c, i) => {
      const expected = labOf(...(c.map((v) => toLinear(v / 255)) as Rgb));
      expected.forEach((v, k) => expect(Math.abs(planes[k as 0]![i]! - v)).toBeLessThan(0.05));
    });
    const clear = toLab({ width: 1, height: 1, data: new Uint8ClampedArray([9, 9, 9, 0]) });
    expect(clear.planes[0][0]).toBeCloseTo(labOf(...([0x7b, 0x7b, 0x7b].map((v) => toLinear(v / 255)) as Rgb))[0], 1);
  });

  it('is at most 2.2 times as near as CIEDE2000 says', () => {
    const roll = dice(11);
    let most = 0;
    for (let i = 0; i < 20_000; i++) {
      const c = [roll(), roll(), roll()] as Rgb;
      const near = c.map((v) => Math.min(1, Math.max(0, v + (roll() - 0.5) * 0.1))) as Rgb;
      const [a, b] = [labOf(...c), labOf(...near)];
      most = Math.max(most, ciede2000(...a, ...b) / Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]));
    }
    expect(most).toBeGreaterThan(1);
    expect(most).toBeLessThan(2.2);
  });
});

describe('filters', () => {
  const roll = dice(5);
  const plane = { width: 13, height: 9, values: Float32Array.from({ length: 117 }, () => roll()) };
  const direct = (r: number, weight: (dx: number, dy: number) => number): number[] =>
    Array.from(plane.values, (_, i) => {
      let sum = 0;
      for (let dy = -r; dy <= r; dy++)
        for (let dx = -r; dx <= r; dx++) {
          const [x, y] = [Math.min(12, Math.max(0, (i % 13) + dx)), Math.min(8, Math.max(0, Math.floor(i / 13) + dy))];
          sum += weight(dx, dy) * plane.values[y * 13 + x]!;
        }
      return sum;
    });

  it.each([1, 2, 4])('a mean over %d to each side is the sum written out', (r) => {
    const expected = direct(r, () => 1 / (2 * r + 1) ** 2);
    meanPlane(plane, r).values.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 5));
  });

  it('a Gaussian is the sum written out', () => {
    const weights = gaussWeights(3, 1.2);
    const expected = direct(3, (dx, dy) => weights[dx + 3]! * weights[dy + 3]!);
    filterPlane(plane, weights).values.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 5));
  });

  it('blocks are means, of what is there at the edges', () => {
    const small = shrinkPlane(plane, 4);
    expect([small.width, small.height]).toEqual([4, 3]);
    expect(small.values[11]).toBeCloseTo(plane.values[8 * 13 + 12]!, 6);
    const mean = [...plane.values.slice(0, 4), ...plane.values.slice(13, 17), ...plane.values.slice(26, 30), ...plane.values.slice(39, 43)];
    expect(small.values[0]).toBeCloseTo(mean.reduce((a, b) => a + b, 0) / 16, 6);
  });
});
