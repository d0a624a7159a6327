/**
 * Renders of both demo designs beside 4096 samples (SSIM: Wang et al. 2004, by ssim.js). What undenoised renders come to is
 * kept (undenoised.json); the smallest of each is rendered here, so that figures of another engine are noticed.
 */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { studio } from '../support/judge.js';
import { loadReference, REFERENCES } from '../support/references.js';
import { judgeReference, loadUndenoised } from '../support/undenoised.js';

const kept = loadUndenoised();

for (const reference of REFERENCES) {
  describe(`${reference.name}, denoised`, () => {
    let place: Awaited<ReturnType<typeof studio>>;
    let long: Float32Array;
    beforeAll(async () => {
      place = await studio(reference.model(), reference.set, reference.size);
      long = await loadReference(reference);
    });
    afterAll(() => place.close());
    const undenoised = kept.stills[reference.name]!;

    it('the reference is of this frame: with four times the samples half the error is left', async () => {
      const few = await judgeReference(place, reference, long, 16, false);
      // Bits do not depend on the machine, so the figure is the very same.
      expect(few.rmse).toBeCloseTo(undenoised[16]!.rmse, 9);
      expect(few.ssim).toBeCloseTo(undenoised[16]!.ssim, 9);
      const ratio = few.rmse / undenoised[64]!.rmse;
      expect(ratio).toBeGreaterThan(1.8);
      expect(ratio).toBeLessThan(2.5);
    });

    it.each(Object.keys(undenoised).flatMap((n) => (undenoised[4 * Number(n)] ? [Number(n)] : [])))(
      'at %d samples is at least as good as undenoised at four times as many',
      async (samples) => {
        const mine = await judgeReference(place, reference, long, samples, true);
        const theirs = undenoised[4 * samples]!;
        // They go where they are needed, but no more of them are taken.
        expect(mine.taken).toBeLessThanOrEqual(samples);
        expect(mine.rmse).toBeLessThanOrEqual(theirs.rmse);
        expect(mine.ssim).toBeGreaterThanOrEqual(theirs.ssim);
      },
    );
  });
}
