import { describe, expect, it } from 'vitest';
import { ciede2000 } from './ciede2000.js';
import { differenceOf, type Pixels } from './difference.js';
import { filterPlane, gaussWeights, meanPlane, shrinkPlane } from './filters.js';
import { labOf, toLab } from './lab.js';
import { toLinear } from '../units/colour.js';

/** Park and Miller's generator, 1988, in 0..1. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

type Rgb = [number, number, number];

function picture(width: number, height: number, colour: (x: number, y: number) => Rgb): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) data.set([...colour(i % width, Math.floor(i / width)), 255], i * 4);
  return { width, height, data };
}

const scene = (x: number, y: number): Rgb => [90 + x / 3, 120 + 20 * Math.sin(y / 9), x > 60 ? 60 : 150];

/** The scene with noise of that deviation (two dice have a triangle of it). */
function noisy(seed: number, deviation: number, change: (x: number, y: number) => number = () => 0): Pixels {
  const roll = dice(seed);
  const noise = (): number => (roll() - roll()) * deviation * Math.sqrt(6);
  return picture(160, 90, (x, y) => scene(x, y).map((v) => v + change(x, y) + noise()) as Rgb);
}

describe('the difference of two renders', () => {
  it('is none between equal ones', () => {
    const d = differenceOf(noisy(1, 5), noisy(1, 5));
    expect(d).toMatchObject({ changed: 0, largest: 0, areas: [] });
    expect(d.ssim).toBeCloseTo(1, 6);
  });

  it.each([2, 5, 12])('is none where noise of %d steps alone differs', (deviation) => {
    const d = differenceOf(noisy(1, deviation), noisy(7, deviation));
    expect(d.changed).toBeLessThan(0.001);
    expect(d.ssim).toBeLessThan(1);
  });

  it('finds 4 × 4 pixels in noise, where they are', () => {
    const spot = (x: number, y: number): number => (x >= 100 && x < 104 && y >= 40 && y < 44 ? 30 : 0);
    const d = differenceOf(noisy(1, 2), noisy(7, 2, spot));
    expect(d.areas).toHaveLength(1);
    const [{ x, y, width, height }] = d.areas as [(typeof d.areas)[0]];
    expect(Math.abs(x + width / 2 - 102)).toBeLessThanOrEqual(1);
    expect(Math.abs(y + height / 2 - 42)).toBeLessThanOrEqual(1);
  });

  it('has areas by size, the largest first, and counts them to the share', () => {
    const change = (x: number, y: number): number => (x < 20 && y < 20 ? 25 : x > 120 && y > 50 ? 25 : 0);
    const d = differenceOf(noisy(1, 1), noisy(7, 1, change));
    expect(d.areas).toHaveLength(2);
    expect(d.areas[0]!.x).toBeGreaterThan(100);
    expect(d.areas[1]!.x).toBe(0);
    // 39 × 39 and 20 × 20 of 160 × 90; the mean over 3 × 3 reaches a pixel further.
    expect(d.changed).toBeGreaterThan((39 * 39 + 20 * 20) / 14400 - 0.012);
    expect(d.changed).toBeLessThan((41 * 41 + 22 * 22) / 14400);
    expect(d.mask.reduce((n, v) => n + v, 0)).toBe(d.areas.reduce((n, a) => n + a.pixels, 0));
  });

  it('has a threshold from both sides', () => {
    const grey = (v: number): Pixels => picture(40, 40, () => [v, v, v]);
    const [a, b] = [
      labOf(...([110, 110, 110].map((v) => toLinear(v / 255)) as Rgb)),
      labOf(...([114, 114, 114].map((v) => toLinear(v / 255)) as Rgb)),
    ];
    const by = ciede2000(...a, ...b);
    expect(differenceOf(grey(110), grey(114), by - 0.02).changed).toBe(1);
    expect(differenceOf(grey(110), grey(114), by + 0.02).changed).toBe(0);
    expect(differenceOf(grey(110), grey(114), by - 0.02).largest).toBeCloseTo(by, 2);
  });

  it('takes no bright point of one pixel for a change', () => {
    const point = (x: number, y: number): number => (x === 50 && y === 50 ? 200 : 0);
    expect(differenceOf(noisy(1, 1), noisy(7, 1, point)).areas).toEqual([]);
  });

  it('counts what became clear', () => {
    const [a, b] = [noisy(1, 0), noisy(1, 0)];
    for (let y = 10; y < 30; y++) for (let x = 10; x < 30; x++) b.data[(y * 160 + x) * 4 + 3] = 0;
    expect(differenceOf(a, b).areas).toHaveLength(1);
  });

  it('names both sizes where they differ', () => {
    expect(() => differenceOf(picture(4, 4, scene), picture(4, 3, scene))).toThrow('4 × 4 and 4 × 3');
  });
});

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
    const { planes } = toLab(picture(colours.length, 1, (x) => colours[x]!));
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
