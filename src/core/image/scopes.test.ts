import { describe, expect, it } from 'vitest';
import { LEVELS, scopesOf } from './scopes.js';

describe('scopes', () => {
  // Four columns: black, white, a red of one channel at its end, and a clear pixel that does not count.
  const pixels = Uint8ClampedArray.of(0, 0, 0, 255, 255, 255, 255, 255, 255, 0, 0, 255, 9, 9, 9, 0);
  const { histogram, waveform, black, white } = scopesOf(pixels, 4, 4, 4);
  it('count each value once a pixel', () => {
    expect([histogram[0], histogram[255]]).toEqual([1, 2]);
    expect([histogram[LEVELS], histogram[LEVELS + 255]]).toEqual([2, 1]);
    // Luma of full red: 0.2126 · 255.
    expect(histogram[3 * LEVELS + 54]).toBe(1);
    expect(histogram.reduce((a, b) => a + b)).toBe(12);
  });
  it('tell what is clipped of what is seen', () => {
    expect(black).toBeCloseTo(1 / 3, 12);
    expect(white).toBeCloseTo(2 / 3, 12);
  });
  it('have a column of luma for each part of the width, bright above', () => {
    const at = (column: number): number[] => [0, 1, 2, 3].map((row) => waveform.counts[row * 4 + column]!);
    expect([at(0), at(1), at(2), at(3)]).toEqual([
      [0, 0, 0, 1],
      [1, 0, 0, 0],
      [0, 0, 0, 1],
      [0, 0, 0, 0],
    ]);
  });
});
