/**
 * A render of the lamp beside 4096 samples (SSIM: Wang et al. 2004, by ssim.js). What undenoised renders come to is kept
 * (undenoised.json); the smallest is rendered here, so that figures of another engine are noticed. More samples, and the pavilion,
 * which takes three times as long, are judged by `npm run corpus`.
 */
import { afterAll, beforeAll, describe, it } from 'vitest';
import { denoisedSamples, expectAsGood, expectKept } from '../support/denoised.js';
import { studio } from '../support/judge.js';
import { loadReference, REFERENCES } from '../support/references.js';
import { loadUndenoised } from '../support/undenoised.js';

const kept = loadUndenoised();
const reference = REFERENCES.find((r) => r.name === 'tern')!;
const undenoised = kept.stills[reference.name]!;
const [samples] = denoisedSamples(kept, reference);

describe('the lamp, denoised', () => {
  let place: Awaited<ReturnType<typeof studio>>;
  let long: Float32Array;
  beforeAll(async () => {
    place = await studio(reference.model(), reference.set, reference.size);
    long = await loadReference(reference);
  });
  afterAll(() => place.close());

  it('the reference is of this frame', () => expectKept(place, reference, long, undenoised));

  it(`at ${samples} samples is at least as good as undenoised at four times as many`, () =>
    expectAsGood(place, reference, long, samples!, undenoised[4 * samples!]!));
});
