/** What a denoised render is held to. */
import { expect } from 'vitest';
import type { Judged, studio } from './judge.js';
import type { Reference } from './references.js';
import { judgeReference, type Undenoised } from './undenoised.js';

/** Samples of a reference that has figures of four times as many without the denoiser, the fewest first. */
export function denoisedSamples({ stills }: Undenoised, reference: Reference): number[] {
  const kept = stills[reference.name]!;
  return Object.keys(kept)
    .map(Number)
    .filter((n) => kept[4 * n]);
}

/** The reference is of this frame: what was kept of few samples comes out again, and with four times as many half the error is left. */
export async function expectKept(
  place: Awaited<ReturnType<typeof studio>>,
  reference: Reference,
  long: Float32Array,
  kept: Record<string, Judged>,
): Promise<void> {
  const few = await judgeReference(place, reference, long, 16, false);
  // Bits do not depend on the machine, so the figure is the very same.
  expect(few.rmse).toBeCloseTo(kept[16]!.rmse, 9);
  expect(few.ssim).toBeCloseTo(kept[16]!.ssim, 9);
  const ratio = few.rmse / kept[64]!.rmse;
  expect(ratio).toBeGreaterThan(1.8);
  expect(ratio).toBeLessThan(2.5);
}

/** Denoised, it is as good as undenoised at four times as many samples: `theirs`. */
export async function expectAsGood(
  place: Awaited<ReturnType<typeof studio>>,
  reference: Reference,
  long: Float32Array,
  samples: number,
  theirs: Judged,
): Promise<void> {
  const mine = await judgeReference(place, reference, long, samples, true);
  // They go where they are needed, but no more of them are taken.
  expect(mine.taken).toBeLessThanOrEqual(samples);
  expect(mine.rmse).toBeLessThanOrEqual(theirs.rmse);
  expect(mine.ssim).toBeGreaterThanOrEqual(theirs.ssim);
}
