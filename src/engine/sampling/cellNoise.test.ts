import { describe, expect, it } from 'vitest';
import * as L from '../../../kernel/layout.js';
import { noiseOf, sampleDeviations } from './cellNoise.js';

/** Sums of a picture whose samples are drawn by `draw`, grey. */
function picture(width: number, height: number, samples: number, draw: (pixel: number, sample: number) => number) {
  const stride = L.PIXEL_FLOATS;
  const sums = new Float32Array(width * height * stride);
  for (let i = 0; i < width * height; i++) {
    for (let s = 0; s < samples; s++) {
      const v = draw(i, s);
      for (let c = 0; c < 3; c++) sums[i * stride + c]! += v;
      sums[i * stride + L.PIXEL_LUMINANCE_SQ]! += v * v;
      sums[i * stride + L.PIXEL_COUNT]!++;
    }
  }
  return { width, height, sums, stride };
}

describe('noise of a picture', () => {
  it('is the deviation of its samples over the root of their number', () => {
    // Half of the samples 0.6, half 1.4: a mean of 1 and a deviation of 0.4, with Bessel's correction for 64 of them.
    const even = picture(32, 32, 64, (_, s) => (s % 2 ? 0.6 : 1.4));
    const deviation = 0.4 * Math.sqrt(64 / 63);
    expect(sampleDeviations(even).every((d) => Math.abs(d - deviation) < 1e-3)).toBe(true);
    expect(noiseOf(even, 0.98)).toBeCloseTo(deviation / 8, 4);
  });

  it('counts dark pixels against a floor, and tells cells from the calmest to the noisiest', () => {
    // The left cell is calm, the right one is not.
    const half = picture(32, 16, 16, (i, s) => (i % 32 < 16 ? 1 : s % 2 ? 0.5 : 1.5));
    const ranks = sampleDeviations(half);
    expect(ranks[0]).toBeCloseTo(0, 6);
    expect(ranks.at(-1)).toBeCloseTo(0.5 * Math.sqrt(16 / 15), 3);
    expect(noiseOf(half, 0.4)).toBeCloseTo(0, 6);
    expect(noiseOf(half, 0.98)).toBeCloseTo((0.5 * Math.sqrt(16 / 15)) / 4, 3);
    const dark = picture(16, 16, 16, (_, s) => (s % 2 ? 0 : 0.002));
    expect(noiseOf(dark, 0.98)).toBeLessThan(0.01);
  });

  it('of single samples is not known', () => {
    const once = picture(16, 16, 1, () => 1);
    expect(sampleDeviations(once)).toEqual([]);
    expect(noiseOf(once, 0.98)).toBe(0);
  });
});
