/** How noisy a traced picture is, cell by cell, as kernel/film/tile.ts judges it before it stops. */
import * as L from '../../../kernel/layout.js';
import { luminance } from '../../core/units/colour.js';
import type { LinearRender } from '../scheduler/job.js';

/** Luminance below which an error counts against this, as kernel/film/adaptive.ts has it. */
const DARK = 0.05;
/** Ranks at which deviations are told. */
const RANKS = 32;

type Sums = Pick<LinearRender, 'width' | 'height' | 'sums' | 'stride'>;

/** Of each cell the mean of what `of` tells of its pixels, from the least to the greatest; pixels of less than two samples tell nothing. */
function cells({ width, height, sums, stride }: Sums, of: (deviation: number, samples: number) => number): number[] {
  const found: number[] = [];
  for (let y = 0; y < height; y += L.CELL) {
    for (let x = 0; x < width; x += L.CELL) {
      let [sum, count] = [0, 0];
      for (let py = y; py < Math.min(height, y + L.CELL); py++) {
        for (let px = x; px < Math.min(width, x + L.CELL); px++) {
          const at = (py * width + px) * stride;
          const n = sums[at + L.PIXEL_COUNT]!;
          if (n < 2) continue;
          const l = luminance(sums[at]!, sums[at + 1]!, sums[at + 2]!) / n;
          const variance = Math.max(0, sums[at + L.PIXEL_LUMINANCE_SQ]! / n - l * l) * (n / (n - 1));
          sum += of(Math.sqrt(variance) / Math.max(l, DARK), n);
          count++;
        }
      }
      if (count > 0) found.push(sum / count);
    }
  }
  return found.sort((a, b) => a - b);
}

/** Relative deviation of a sample from its pixel, in the mean of each cell; at even steps of rank. */
export function sampleDeviations(picture: Sums): number[] {
  const list = cells(picture, (deviation) => deviation);
  if (list.length === 0) return [];
  return Array.from({ length: RANKS }, (_, i) => list[Math.min(list.length - 1, Math.floor(((i + 0.5) * list.length) / RANKS))]!);
}

/** Relative standard error before denoising of each cell. */
export function cellErrors(picture: Sums): number[] {
  return cells(picture, (deviation, n) => deviation / Math.sqrt(n));
}

/** What so many (a share) of these errors keep to; 0 where there are none. */
export function errorKept(errors: number[], share: number): number {
  const list = errors.sort((a, b) => a - b);
  return list[Math.min(list.length - 1, Math.floor(share * list.length))] ?? 0;
}

/** Relative standard error before denoising that so many of the cells (a share) keep to; 0 of a picture of single samples. */
export function noiseOf(picture: Sums, share: number): number {
  return errorKept(cellErrors(picture), share);
}
