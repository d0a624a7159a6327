import { describe, expect, it } from 'vitest';
import { applyPatch } from '../preflight/patch.js';
import { selectPlannedFrames } from '../plan/selection.js';
import { parseSet, type SetFile } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';
import { type Choice, type ChoiceBasis, choicesFor } from './choices.js';
import { forecastPlan } from './forecast.js';
import { NOTHING_LEARNT } from './learnt.js';
import { plannedWork } from './plannedWork.js';

const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 1, 1] as [number, number, number] }, scene: 'abc' };

/** A still of two views and a turntable, of which every sample takes a microsecond. */
function basis(sheet: object = {}): ChoiceBasis & { set: SetFile } {
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    sheet: { size: { width: 640, height: 360 }, quality: { samples: 64 }, ...sheet },
    views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
    shots: [
      { id: 'still', name: 'Still', kind: 'still', views: ['v'] },
      { id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 12, overrides: { quality: { samples: 16 } } },
    ],
  });
  const plan = plannedWork(planFrames(set, CONTEXT), () => undefined);
  const trial = { pixels: 1e4, samples: 16, traced: 0.16, developed: 0.01, written: 0, bytes: { 'png beauty': 1e4 }, deviations: [] };
  return { set, plan, tried: [{ traits: plan.frames[0]!, trial }], workers: 2, learnt: NOTHING_LEARNT, denoisePixel: 2e-6 };
}
const likely = ({ plan, tried, workers }: ChoiceBasis): number => forecastPlan(plan, tried, workers).forecast.seconds.likely;
const byKind = (choices: Choice[], kind: Choice['kind']): Choice => choices.find((c) => c.kind === kind)!;

describe('choices to be done in time', () => {
  it('are none where the plan is in time', () => {
    const b = basis();
    expect(choicesFor(b, likely(b) + 1)).toEqual([]);
  });

  it('are of each kind the mildest that suffices', () => {
    const b = basis();
    const choices = choicesFor(b, 0.65 * likely(b));
    expect(choices.map((c) => c.kind)).toEqual(['samples', 'size', 'frames', 'shot']);
    for (const c of choices) {
      expect(c.meets, c.label).toBe(true);
      expect(c.seconds.likely).toBeLessThanOrEqual(0.65 * likely(b));
    }
    expect(byKind(choices, 'samples').label).toBe('32 samples instead of 64');
    // Three quarters of each side are 56 % of the pixels.
    expect(byKind(choices, 'size').label).toBe('480 × 270 pixels');
    expect(byKind(choices, 'frames').label).toBe('Every 2nd frame of moving shots');
    expect(byKind(choices, 'shot').label).toBe('Without Spin');
  });

  it('are the strongest where none suffices', () => {
    const b = basis();
    const choices = choicesFor(b, 0.01);
    expect(choices.every((c) => !c.meets)).toBe(true);
    expect(byKind(choices, 'samples').label).toBe('4 samples instead of 64');
  });

  it('say what the changed set would take: planned anew, it takes that', () => {
    const b = basis();
    for (const c of choicesFor(b, 0.65 * likely(b))) {
      const set = c.patch ? applyPatch(b.set, c.patch) : b.set;
      const frames = selectPlannedFrames(planFrames(set, CONTEXT), c.select ?? 'all');
      const again = forecastPlan(
        plannedWork(frames, () => undefined),
        b.tried,
        2,
      ).forecast;
      expect(again.seconds.likely / c.seconds.likely, c.label).toBeCloseTo(1, 6);
      expect(again.bytes / c.bytes, c.label).toBeCloseTo(1, 6);
    }
  });

  it('keep the settings of shots of their own, and the names of levels', () => {
    const b = basis({ quality: 'review' });
    const set = applyPatch(b.set, byKind(choicesFor(b, 0.4 * likely(b)), 'samples').patch!);
    expect(set.sheet.quality).toBe('draft');
    expect(set.shots[1]!.overrides!.quality).toMatchObject({ samples: 4 });
  });

  it('offer denoising where nothing is denoised', () => {
    const b = basis({ quality: { samples: 256, denoise: false } });
    const choice = byKind(choicesFor(b, 0.8 * likely(b)), 'denoise');
    expect(choice.label).toBe('Denoised, 64 samples instead of 256');
    expect(applyPatch(b.set, choice.patch!).sheet.quality).toMatchObject({ samples: 64, denoise: true });
    expect(choice.picture).toEqual({ samples: 0.25, scale: 1, denoise: true });
    expect(choicesFor({ ...b, denoisePixel: undefined }, 1).some((c) => c.kind === 'denoise')).toBe(false);
  });

  it('of quick renders leave out what has no effect', () => {
    const b = basis({ quality: 'quick' });
    b.set.shots[1]!.overrides = undefined;
    const kinds = choicesFor({ ...b, plan: plannedWork(planFrames(b.set, CONTEXT), () => undefined) }, 0.001).map((c) => c.kind);
    expect(kinds).toEqual(['size', 'frames', 'shot']);
  });
});
