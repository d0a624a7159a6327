/** What takes many renders to judge of the denoiser: isolated points over three seeds, flicker over six turntables. */
import { describe, expect, it } from 'vitest';
import { withFrame } from '../../src/core/frame/frame.js';
import { denoisedSamples, expectAsGood, expectKept } from '../support/denoised.js';
import { shown, studio } from '../support/judge.js';
import { loadReference, REFERENCES, TURNING } from '../support/references.js';
import { speckLimit, speckShare } from '../support/specks.js';
import { FLICKER_SEEDS, flickerOf, loadUndenoised } from '../support/undenoised.js';

describe('at 16 samples', () => {
  // What a share comes to depends on the noise: three kinds of it are averaged.
  const SEEDS = [11, 222, 3333];

  it.each(REFERENCES)('$name has no more isolated points than its reference, dark ones or both kinds', async (reference) => {
    const { width, height } = reference.size;
    const long = await loadReference(reference);
    const limit = speckLimit(long, width, height);
    const place = await studio(reference.model(), reference.set, reference.size);
    const shares = async (denoise: boolean, seeds: number[]): Promise<{ all: number; dark: number }> => {
      const sum = { all: 0, dark: 0 };
      for (const seed of seeds) {
        const frame = withFrame(place.frames[reference.frame]!, { seed });
        const { colour } = await place.shoot(frame, { x: 0, y: 0, width, height }, 16, denoise);
        const { all, dark } = speckShare(shown(colour), width, height, limit);
        sum.all += all / seeds.length;
        sum.dark += dark / seeds.length;
      }
      return sum;
    };
    const [denoised, noisy] = [await shares(true, SEEDS), await shares(false, SEEDS.slice(0, 1))];
    await place.close();
    // Points of a percentage of all pixels.
    const theirs = speckShare(long, width, height, limit);
    expect(denoised.all).toBeLessThanOrEqual(theirs.all + 0.02);
    expect(denoised.dark).toBeLessThanOrEqual(theirs.dark + 0.02);
    expect(noisy.dark).toBeGreaterThan(theirs.dark + 0.1);
  });
});

describe('beside undenoised renders', () => {
  const kept = loadUndenoised();

  it.each(REFERENCES)('the reference of $name is of its frame', async (reference) => {
    const place = await studio(reference.model(), reference.set, reference.size);
    await expectKept(place, reference, await loadReference(reference), kept.stills[reference.name]!);
    await place.close();
  });

  const cases = REFERENCES.flatMap((reference) => denoisedSamples(kept, reference).map((samples) => ({ ...reference, samples })));
  it.each(cases)('$name at $samples samples is at least as good as at four times as many', async ({ samples, ...reference }) => {
    const place = await studio(reference.model(), reference.set, reference.size);
    await expectAsGood(place, reference, await loadReference(reference), samples, kept.stills[reference.name]![4 * samples]!);
    await place.close();
  });
});

describe('a turntable of Tern, denoised', () => {
  it('flickers no more than undenoised with eight times as many samples, as far as six rounds tell', async () => {
    const [first] = TURNING;
    const place = await studio(first.model(), first.set, first.size);
    const few = await flickerOf(place, 16, false);
    const mine: number[] = [];
    for (const more of FLICKER_SEEDS) mine.push(await flickerOf(place, 16, true, more));
    await place.close();
    const theirs = loadUndenoised().flicker[128]!;
    expect(few).toBeCloseTo(loadUndenoised().flicker[16]![0]!, 9);
    // With an eighth of the samples the root of eight times as much is left: the references are of these frames.
    expect(few / theirs[0]!).toBeGreaterThan(2.3);
    expect(few / theirs[0]!).toBeLessThan(3.3);
    // One round is off by some parts in a hundred, so the mean is judged beside its own standard error.
    const ratios = mine.map((m, i) => m / theirs[i]!);
    const mean = ratios.reduce((a, b) => a + b, 0) / ratios.length;
    const error = Math.sqrt(ratios.reduce((s, r) => s + (r - mean) ** 2, 0) / (ratios.length - 1) / ratios.length);
    expect(error).toBeLessThan(0.02);
    expect(mean).toBeLessThanOrEqual(1 + 2 * error);
  });
});
