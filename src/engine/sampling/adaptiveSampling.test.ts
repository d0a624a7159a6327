import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import * as L from '../../../kernel/layout.js';
import { maxExtraSamples, adaptiveScale } from './adaptiveSampling.js';

const STRIDE = L.PIXEL_FLOATS;
/** A film whose pixels have these needs. */
function film(needs: number[]): Float32Array {
  const sums = new Float32Array(needs.length * STRIDE);
  needs.forEach((n, i) => (sums[i * STRIDE + L.PIXEL_SAMPLE_NEED] = n));
  return sums;
}
const row = (width: number) => ({ x: 0, y: 0, width, height: 1 });
/** Further samples that the pixels take for each one asked. */
const spent = (needs: number[], most: number): number[] => {
  const scale = adaptiveScale(film(needs), STRIDE, needs.length, row(needs.length), most);
  return needs.map((n) => Math.min(most, Math.fround(n) * scale));
};
const total = (list: number[]): number => list.reduce((a, b) => a + b, 0);

describe('sharing out the samples of a picture', () => {
  it('gives each pixel what it needs beside the others', () => {
    expect(spent([1, 2, 3, 2], 12)).toEqual([0.5, 1, 1.5, 1]);
  });

  it('gives what a pixel may not take to the others', () => {
    const needs = [1000, ...Array.from({ length: 9 }, () => 1)];
    const shares = spent(needs, 4);
    expect(shares[0]).toBe(4);
    for (const share of shares.slice(1)) expect(share).toBeCloseTo(6 / 9, 6);
  });

  it('never spends more than there is, nor leaves much where there is need', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: Math.fround(1e-6), max: 1e4, noNaN: true }), { minLength: 1, maxLength: 300 }), (needs) => {
        const shares = spent(needs, 12);
        const all = total(shares);
        expect(all).toBeLessThanOrEqual(needs.length * (1 + 1e-5));
        expect(Math.max(...shares)).toBeLessThanOrEqual(12);
        // Within an eighth of a factor of two of the most a need may lie on either side of it.
        expect(all).toBeGreaterThan(needs.length * 0.9);
      }),
      { numRuns: 300 },
    );
  });

  it('asks the pixels of a region alone, and gives 0 where nobody needs anything', () => {
    const needs = [9, 9, 9, 9, 9, 1, 3, 9, 9, 9, 9, 9];
    expect(adaptiveScale(film(needs), STRIDE, 4, { x: 1, y: 1, width: 2, height: 1 }, 12)).toBeCloseTo(2 / 4, 6);
    expect(adaptiveScale(film([0, 0]), STRIDE, 2, row(2), 12)).toBe(0);
  });

  it('counts what was taken before into the most', () => {
    // Twelve times 30 samples, of which 10 are taken, out of 20 further ones in the mean.
    expect(maxExtraSamples(10, 30)).toBeCloseTo((12 * 30 - 10) / 20, 12);
  });
});
