/** How the samples of a picture that is to be denoised are spent: what kernel/film/adaptive.ts foresees each pixel to need, looked at as a whole. */
import * as L from '../../../kernel/layout.js';
import type { Region } from './renderSteps.js';

/** Most samples of a pixel, in multiples of what it would have had. */
const MAX_EXTRA = 12;
/** Bits of a float's pattern that are left out to sort it into a bin: eight bins a factor of two. */
const BIN_SHIFT = 20;
const BINS = 2 ** (31 - BIN_SHIFT);

/** What the pixels of a picture need, looked at rows after rows: a strip of them may be all that is in memory. */
export class NeedCounts {
  private readonly count = new Float64Array(BINS);
  private readonly sum = new Float64Array(BINS);
  private pixels = 0;

  /** `sums` hold rows `width` pixels wide, `stride` floats a pixel; those outside `within` are not asked. */
  add(sums: Float32Array, stride: number, width: number, within: Region): void {
    const { count, sum } = this;
    const pattern = new Uint32Array(sums.buffer, sums.byteOffset, sums.length);
    for (let y = within.y; y < within.y + within.height; y++) {
      for (let at = (y * width + within.x) * stride + L.PIXEL_SAMPLE_NEED, end = at + within.width * stride; at < end; at += stride) {
        const bin = pattern[at]! >>> BIN_SHIFT;
        count[bin]!++;
        sum[bin]! += sums[at]!;
      }
    }
    this.pixels += within.width * within.height;
  }

  /**
   * What to multiply the needs by, so that the pixels take one further sample each in the mean, none of
   * them more than `most`; FRAME_SHARE of kernel/layout.ts. 0 where nothing needs anything. It never spends
   * more than there is; where many needs lie near the most, a little less. The pixels are taken row by row,
   * so that the sum, and with it every picture, is the same however the work was cut into tiles or strips.
   */
  scale(most: number): number {
    const { count, sum } = this;
    const low = new Float32Array(BINS);
    new Uint32Array(low.buffer).forEach((_, bin, bits) => (bits[bin] = bin << BIN_SHIFT));
    let [left, rest] = [this.pixels, sum.reduce((a, b) => a + b, 0)];
    let scale = 0;
    // From the greatest need down: what would take more than the most takes the most, and what it leaves goes to the others.
    for (let bin = BINS - 1; bin >= 0 && rest > 0; bin--) {
      scale = left / rest;
      if (count[bin] === 0) continue;
      if (low[bin]! * scale < most) break;
      left -= count[bin]! * most;
      rest -= sum[bin]!;
    }
    return Math.max(0, scale);
  }
}

/** As NeedCounts.scale, of a picture that is in memory as a whole. */
export function adaptiveScale(sums: Float32Array, stride: number, width: number, within: Region, most: number): number {
  const needs = new NeedCounts();
  needs.add(sums, stride, width, within);
  return needs.scale(most);
}

/** Most further samples of a pixel for each one asked, where all pixels have `even` samples and are to have `all` in the mean. */
export function maxExtraSamples(even: number, all: number): number {
  return (MAX_EXTRA * all - even) / (all - even);
}
