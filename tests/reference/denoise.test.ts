import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { judge, type Judged, shown, studio } from '../support/judge.js';
import { loadReference, REFERENCES, TURNING } from '../support/references.js';

/** Whole pictures of both demo designs beside 4096 samples (SSIM: Wang et al. 2004, by ssim.js). */
for (const reference of REFERENCES) {
  describe(`${reference.name}, denoised`, () => {
    const { width, height } = reference.size;
    const all = { x: 0, y: 0, width, height };
    let place: Awaited<ReturnType<typeof studio>>;
    let long: Float32Array;
    const shoot = async (samples: number, denoise: boolean): Promise<Judged & { taken: number }> => {
      const { colour, taken } = await place.shoot(place.frames[reference.frame]!, all, samples, denoise);
      return { ...judge(colour, long, width, height), taken };
    };
    const looked = new Map<string, Promise<Judged & { taken: number }>>();
    const look = (samples: number, denoise: boolean): Promise<Judged & { taken: number }> => {
      const key = `${samples} ${denoise}`;
      if (!looked.has(key)) looked.set(key, shoot(samples, denoise));
      return looked.get(key)!;
    };
    beforeAll(async () => {
      place = await studio(reference.model(), reference.set, reference.size);
      long = await loadReference(reference);
    });
    afterAll(() => place.close());

    it('the reference is of this picture: with four times the samples half the error is left', async () => {
      const ratio = (await look(16, false)).rmse / (await look(64, false)).rmse;
      expect(ratio).toBeGreaterThan(1.8);
      expect(ratio).toBeLessThan(2.5);
    }, 120_000);

    // The pavilion's 256 undenoised samples take longer than all else here; at 64 they have been looked at by hand.
    it.each(reference.name === 'northmere' ? [16] : [16, 64])(
      'at %d samples is at least as good as undenoised at four times as many',
      async (samples) => {
        const mine = await look(samples, true);
        const theirs = await look(4 * samples, false);
        // They go where they are needed, but no more of them are taken.
        expect(mine.taken).toBeLessThanOrEqual(samples);
        expect(mine.rmse).toBeLessThanOrEqual(theirs.rmse);
        expect(mine.ssim).toBeGreaterThanOrEqual(theirs.ssim);
      },
      300_000,
    );
  });
}

/** What two neighbouring frames differ by, less what they must differ by: seen, when played, as flicker. */
describe('a turntable of Tern, denoised', () => {
  it('flickers no more than undenoised with eight times as many samples', async () => {
    const [first, second] = TURNING;
    const { width, height } = first.size;
    const place = await studio(first.model(), first.set, first.size);
    const due = await Promise.all([loadReference(first), loadReference(second)]);
    const flicker = async (samples: number, denoise: boolean): Promise<number> => {
      const [a, b] = await Promise.all(
        [first, second].map(async ({ frame }) =>
          shown((await place.shoot(place.frames[frame]!, { x: 0, y: 0, width, height }, samples, denoise)).colour),
        ),
      );
      return Math.sqrt(a!.reduce((sum, v, i) => sum + (b![i]! - v - (due[1]![i]! - due[0]![i]!)) ** 2, 0) / a!.length);
    };
    const [mine, theirs, few] = [await flicker(16, true), await flicker(128, false), await flicker(16, false)];
    await place.close();
    // With an eighth of the samples the root of eight times as much is left: the references are of these frames.
    expect(few / theirs).toBeGreaterThan(2.3);
    expect(few / theirs).toBeLessThan(3.3);
    expect(mine).toBeLessThanOrEqual(theirs);
  }, 300_000);
});
