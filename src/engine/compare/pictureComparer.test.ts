import { describe, expect, it } from 'vitest';
import { judgeDifference, type Pixels } from '../../core/review/difference.js';
import { DEFAULT_THRESHOLD } from '../../core/review/threshold.js';
import { toLinear } from '../../core/units/colour.js';
import { plainDifference } from '../../../tests/support/plain/difference.js';
import { ciede2000 } from '../../../tests/support/plain/ciede2000.js';
import { labOf } from '../../../tests/support/plain/lab.js';
import { loadKernelModule } from '../node/assets.js';
import { bandsOf, lightnessFactor, PictureComparer } from './pictureComparer.js';

const comparer = new PictureComparer(loadKernelModule());

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
    const d = comparer.difference(noisy(1, 5), noisy(1, 5));
    expect(d).toMatchObject({ changed: 0, largest: 0, areas: [] });
    expect(d.ssim).toBeCloseTo(1, 6);
  });

  it.each([2, 5, 12])('is none where noise of %d steps alone differs', (deviation) => {
    const d = comparer.difference(noisy(1, deviation), noisy(7, deviation));
    expect(d.changed).toBeLessThan(0.001);
    expect(d.ssim).toBeLessThan(1);
  });

  it('finds 4 × 4 pixels in noise, where they are', () => {
    const spot = (x: number, y: number): number => (x >= 100 && x < 104 && y >= 40 && y < 44 ? 30 : 0);
    const d = comparer.difference(noisy(1, 2), noisy(7, 2, spot));
    expect(d.areas).toHaveLength(1);
    const [{ x, y, width, height }] = d.areas as [(typeof d.areas)[0]];
    expect(Math.abs(x + width / 2 - 102)).toBeLessThanOrEqual(1);
    expect(Math.abs(y + height / 2 - 42)).toBeLessThanOrEqual(1);
  });

  it('has areas by size, the largest first, and counts them to the share', () => {
    const change = (x: number, y: number): number => (x < 20 && y < 20 ? 25 : x > 120 && y > 50 ? 25 : 0);
    const d = comparer.difference(noisy(1, 1), noisy(7, 1, change));
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
    expect(comparer.difference(grey(110), grey(114), by - 0.02).changed).toBe(1);
    expect(comparer.difference(grey(110), grey(114), by + 0.02).changed).toBe(0);
    expect(comparer.difference(grey(110), grey(114), by - 0.02).largest).toBeCloseTo(by, 2);
  });

  it('takes no bright point of one pixel for a change', () => {
    const point = (x: number, y: number): number => (x === 50 && y === 50 ? 200 : 0);
    expect(comparer.difference(noisy(1, 1), noisy(7, 1, point)).areas).toEqual([]);
  });

  it('counts what became clear', () => {
    const [a, b] = [noisy(1, 0), noisy(1, 0)];
    for (let y = 10; y < 30; y++) for (let x = 10; x < 30; x++) b.data[(y * 160 + x) * 4 + 3] = 0;
    expect(comparer.difference(a, b).areas).toHaveLength(1);
  });

  it('names both sizes where they differ', () => {
    expect(() => comparer.difference(picture(4, 4, scene), picture(4, 3, scene))).toThrow('4 × 4 and 4 × 3');
  });
});

describe('the kernel beside the same written out', () => {
  /** A part of the picture is clear in one of them; colours of all hues. */
  function hues(width: number, height: number, seed: number, shift: number): Pixels {
    const roll = dice(seed);
    const image = picture(width, height, (x, y) => {
      const turn = (x / width) * 2 * Math.PI + shift * (y > height / 2 ? 0.2 : 0);
      return [0, 2, 4].map((k) => 127 + 100 * Math.sin(turn + k) * (y / height) + (roll() - roll()) * 8) as Rgb;
    });
    if (shift > 0) for (let i = 0; i < Math.min(width, 40); i++) image.data[i * 4 + 3] = 6 * i;
    return image;
  }

  const mostApart = (a: Float32Array, b: Float32Array): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);

  it.each([
    [161, 97],
    [3, 2],
    [1, 1],
    [5, 200],
    [640, 9],
  ])('tells the same of every pixel of %d × %d', (width, height) => {
    const [a, b] = [hues(width, height, 3, 0), hues(width, height, 8, 1)];
    const [found, expected] = [comparer.measure(a, b), plainDifference(a, b)];
    // The plain one looks lightness up in a table that is right to 0.01.
    expect(mostApart(found.values, expected.values)).toBeLessThan(0.05);
    // Squares of lightness in single precision.
    expect(found.ssim).toBeCloseTo(expected.ssim, 3);
    if (width > 100 && height > 50) expect(found.values.some((v) => v > 5)).toBe(true);
  });

  it('tells the same in bands as in one', () => {
    const [width, height] = [900, 620];
    const [a, b] = [hues(width, height, 3, 0), hues(width, height, 8, 1)];
    const factor = lightnessFactor(width, height);
    expect(factor).toBe(2);
    const [whole] = bandsOf(width, height);
    expect(whole).toEqual({ from: 0, to: height, top: 0, bottom: height });
    const bands = bandsOf(width, height, 3);
    expect(bands.map((band) => band.to - band.from)).toEqual([208, 208, 204]);
    const rows = ({ data }: Pixels, top: number, bottom: number) => data.subarray(top * width * 4, bottom * width * 4);
    const measured = bands.map((band) =>
      comparer.measureBand({ ...band, width, factor, first: rows(a, band.top, band.bottom), second: rows(b, band.top, band.bottom) }),
    );
    const [joined, expected] = [comparer.join(width, height, measured), comparer.measure(a, b)];
    // Sums run from the first row of a band, so that the last places may differ.
    expect(mostApart(joined.values, expected.values)).toBeLessThan(1e-3);
    expect(joined.ssim).toBeCloseTo(expected.ssim, 6);
    expect(judgeDifference(joined, DEFAULT_THRESHOLD).areas).toEqual(
      judgeDifference(expected, DEFAULT_THRESHOLD).areas.map((area) => ({ ...area, largest: expect.closeTo(area.largest, 3) })),
    );
  });
});
