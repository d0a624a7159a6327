import { describe, expect, it } from 'vitest';
import { costOf, type FrameWork, shareTaken, workerSeconds } from './cost.js';
import { forecastPlan, type PlannedWork } from './forecast.js';
import { learnFrom, NOTHING_LEARNT } from './learnt.js';
import { DEVIATIONS, rangeAbout } from './range.js';
import { secondsUntil } from './secondsUntil.js';
import { framesToMeasure, type FrameTraits, unlikeness } from './traits.js';
import { fileKeys, type Trial, trialFrame } from './trial.js';
import { parseSet } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';

const seen = (values: Partial<NonNullable<FrameTraits['seen']>> = {}) => ({ covered: 0.4, glass: 0, closed: 0.5, subject: 0.3, ...values });
/** A run of frames that are alike but for what `change` says. */
const run = (name: string, count: number, change: (i: number) => Parameters<typeof seen>[0] = () => ({})): FrameTraits[] =>
  Array.from({ length: count }, (_, i) => ({ run: name, place: count > 1 ? i / (count - 1) : 0, seen: seen(change(i)) }));

const WORK: FrameWork = { pixels: 20_000, samples: 32, noise: 0, seconds: 0, quick: false, denoised: true, files: ['png beauty'] };
/** A microsecond a sample, two a pixel, half of that to write, and half a byte. */
const TRIAL: Trial = { pixels: 10_000, samples: 16, traced: 0.16, developed: 0.02, written: 0.01, bytes: { 'png beauty': 5000 }, deviations: [0.4] };
const tried = (traits: FrameTraits, trial: Partial<Trial> = {}) => ({ traits, trial: { ...TRIAL, ...trial } });

describe('frames to measure', () => {
  it('are the first and the last of each run, then what is least like those', () => {
    const frames = run('a', 20, (i) => (i === 13 ? { glass: 2 } : {}));
    expect(framesToMeasure(frames, { perRun: 3, most: 10 })).toEqual([0, 13, 19]);
    const both = [...run('a', 4), ...run('b', 1), ...run('c', 9)];
    expect(framesToMeasure(both, { perRun: 2, most: 10 })).toEqual([0, 3, 4, 5, 13]);
    // Where not all fit, every run has one before any has two.
    expect(framesToMeasure(both, { perRun: 5, most: 3 })).toEqual([0, 4, 5]);
  });

  it('are no more than differ', () => {
    const same = Array.from({ length: 5 }, (): FrameTraits => ({ run: 'a', place: 0, seen: seen() }));
    expect(framesToMeasure(same, { perRun: 5, most: 10 })).toEqual([0, 4]);
    expect(unlikeness(same[0]!, same[1]!)).toBe(0);
    expect(framesToMeasure([], { perRun: 5, most: 10 })).toEqual([]);
  });

  it('count as less alike by what rays met, by place, and in another run', () => {
    const [a] = run('a', 2);
    expect(unlikeness(a!, { ...a!, seen: seen({ covered: 0.8 }) })).toBeGreaterThan(unlikeness(a!, { ...a!, seen: seen({ covered: 0.5 }) }));
    expect(unlikeness(a!, { ...a!, place: 1 })).toBeGreaterThan(unlikeness(a!, { ...a!, place: 0.1 }));
    expect(unlikeness(a!, { ...a!, run: 'b' })).toBeGreaterThan(0);
    // What is not known tells nothing.
    expect(unlikeness({ run: 'a', place: 0 }, a!)).toBe(0);
  });
});

describe('a trial', () => {
  const frame = (sheet: object) =>
    planFrames(
      parseSet({
        format: 'cold-easel.set',
        version: 2,
        name: 'Set',
        sheet: { size: { width: 1920, height: 1080 }, ...sheet },
        views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
        shots: [{ id: 's', kind: 'still', views: ['v'] }],
      }),
      { bounds: { min: [-1, 0, -1], max: [1, 1, 1] }, scene: 'abc' },
    )[0]!;

  it('is the same for more samples and a larger picture, and another for what changes its cost', () => {
    const of = (sheet: object) => trialFrame(frame(sheet), 'abc').identity;
    const one = of({ quality: 'review' });
    expect(of({ quality: 'final' })).toBe(one);
    expect(of({ size: { width: 3840, height: 2160 } })).toBe(one);
    expect(of({ quality: { samples: 64, denoise: false } })).not.toBe(one);
    expect(of({ passes: ['beauty', 'diffuse'] })).not.toBe(one);
    expect(trialFrame(frame({}), 'other').identity).not.toBe(one);
  });

  it('keeps the proportions, and is never larger than its frame', () => {
    expect(trialFrame(frame({}), 'abc').size).toEqual({ width: 192, height: 108 });
    expect(trialFrame(frame({ size: { width: 64, height: 48 } }), 'abc').size).toEqual({ width: 64, height: 48 });
    expect(trialFrame(frame({ quality: 'quick' }), 'abc').sampling).toEqual(frame({ quality: 'quick' }).sampling);
  });

  it('tells files by type and pass, and one with all passes by its type', () => {
    expect(fileKeys(frame({ files: [{ type: 'png' }, { type: 'exr' }], passes: ['beauty', 'depth'] }))).toEqual(['png beauty', 'png depth', 'exr']);
  });
});

describe('the cost of a frame', () => {
  const [first] = run('a', 2);
  const cost = (work: Partial<FrameWork> = {}) => costOf(first!, { ...WORK, ...work }, [tried(first!)]);

  it('grows with samples and pixels as it was measured', () => {
    expect(cost().bySample).toBeCloseTo(20_000 * 32 * 1e-6, 9);
    expect(cost().byPixel).toBeCloseTo(20_000 * 2e-6, 9);
    expect(cost({ samples: 64 }).bySample).toBeCloseTo(2 * cost().bySample, 9);
    expect(cost({ samples: 64 }).byPixel).toBeCloseTo(cost().byPixel, 9);
    expect(cost({ pixels: 80_000 }).byPixel).toBeCloseTo(4 * cost().byPixel, 9);
    expect(cost({ extraPixel: 3e-6 }).byPixel).toBeCloseTo(20_000 * 5e-6, 9);
  });

  it('ends where the noise or the time says', () => {
    // A sample deviates by 0.4: 64 of them bring the mean to 0.05.
    expect(shareTaken({ noise: 0.05, samples: 256 }, [0.4])).toBeCloseTo(64 / 256, 9);
    expect(shareTaken({ noise: 0.05, samples: 256 }, [0.4, 4])).toBeCloseTo((64 + 256) / 512, 9);
    // Before sixteen nobody looks.
    expect(shareTaken({ noise: 0.5, samples: 64 }, [0.1])).toBeCloseTo(16 / 64, 9);
    expect(shareTaken({ noise: 0, samples: 64 }, [0.1])).toBe(1);
    expect(cost({ samples: 256, noise: 0.05 }).bySample).toBeCloseTo(20_000 * 64 * 1e-6, 9);
    expect(workerSeconds({ ...cost({ seconds: 0.3 }), fixed: 0 })).toBeCloseTo(0.3, 9);
  });

  it('goes by the frames that are most alike', () => {
    const frames = run('a', 3, (i) => ({ glass: i }));
    const from = [tried(frames[0]!, { traced: 0.1 }), tried(frames[2]!, { traced: 0.9 })];
    const seconds = frames.map((f) => costOf(f, WORK, from).bySample);
    expect(seconds[0]! / (0.1 * 4)).toBeCloseTo(1, 1);
    expect(seconds[2]! / (0.9 * 4)).toBeCloseTo(1, 1);
    expect(seconds[1]!).toBeGreaterThan(seconds[0]!);
    expect(seconds[1]!).toBeLessThan(seconds[2]!);
    // A run of which nothing was tried goes by the others; files that were not made count as the others do.
    const other = costOf({ run: 'b', place: 0 }, { ...WORK, files: ['jpeg beauty'] }, from);
    expect(other.bySample).toBeGreaterThan(0);
    expect(other.bytes['jpeg beauty']).toBeGreaterThan(0);
  });
});

describe('the forecast of a plan', () => {
  const frames = [...run('a', 4), ...run('b', 2)];
  const plan: PlannedWork = { frames, work: { a: WORK, b: { ...WORK, samples: 64, files: ['png beauty', 'exr'] } } };
  const from = [tried(frames[0]!), tried(frames[4]!, { bytes: { 'png beauty': 5000, exr: 40_000 } })];
  const { forecast, seconds } = forecastPlan(plan, from, 2);

  it('is the sum of its frames, by run and by what it depends on', () => {
    expect(forecast.frames).toBe(6);
    expect(forecast.tried).toBe(2);
    expect(forecast.runs.map((r) => [r.run, r.frames])).toEqual([
      ['a', 4],
      ['b', 2],
    ]);
    expect(forecast.runs.reduce((n, r) => n + r.seconds.likely, 0)).toBeCloseTo(forecast.seconds.likely, 9);
    const { fixed, byPixel, bySample } = forecast.parts;
    expect(fixed + byPixel + bySample).toBeCloseTo(forecast.seconds.likely, 9);
    // Files are written beside the workers: half a second of one thread is a quarter of two.
    expect(byPixel).toBeCloseTo(6 * 20_000 * (2e-6 + 1e-6 / 2), 9);
    expect(seconds).toHaveLength(6);
  });

  it('tells bytes by type and pass, the most first', () => {
    expect(forecast.files.map((f) => f.file)).toEqual(['exr', 'png beauty']);
    expect(forecast.files.reduce((n, f) => n + f.bytes, 0)).toBeCloseTo(forecast.bytes, 6);
  });

  it('is corrected by what was learnt, and surer of it', () => {
    const learnt = { seconds: 1.5, bytes: 0.5, deviation: 0.02, batches: 9 };
    const later = forecastPlan(plan, from, 2, learnt).forecast;
    expect(later.seconds.likely).toBeCloseTo(1.5 * forecast.seconds.likely, 9);
    expect(later.bytes).toBeCloseTo(forecast.bytes / 2, 6);
    expect(later.seconds.high / later.seconds.low).toBeLessThan(forecast.seconds.high / forecast.seconds.low);
  });

  it('of no frames is nothing', () => {
    expect(forecastPlan({ frames: [], work: {} }, [], 2).forecast).toMatchObject({ frames: 0, bytes: 0, seconds: { low: 0, likely: 0, high: 0 } });
  });
});

describe('ranges', () => {
  it('hold four of five draws of a lognormal distribution', () => {
    const { low, high } = rangeAbout(10, 0.3);
    // Normal draws by the sum of twelve even ones (Irwin-Hall), from a small generator that always says the same.
    let state = 1;
    const even = (): number => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
    let held = 0;
    for (let i = 0; i < 20_000; i++) {
      const draw = 10 * Math.exp(0.3 * (Array.from({ length: 12 }, even).reduce((a, b) => a + b, 0) - 6));
      if (draw >= low && draw <= high) held++;
    }
    expect(held / 20_000).toBeCloseTo(0.8, 1);
  });
});

describe('what was learnt', () => {
  const batch = (ratio: number, bytes = 1) => ({ foreseen: { seconds: 100, bytes: 1000 }, measured: { seconds: 100 * ratio, bytes: 1000 * bytes } });

  it('is nothing at first, half of the way by one batch, and nearly all by many', () => {
    expect(learnFrom([])).toEqual({ ...NOTHING_LEARNT, deviation: DEVIATIONS.batch });
    expect(learnFrom([batch(4)]).seconds).toBeCloseTo(2, 9);
    const many = learnFrom(Array.from({ length: 20 }, () => batch(4, 0.5)));
    expect(many.seconds).toBeGreaterThan(3.4);
    expect(many.bytes).toBeLessThan(0.6);
    expect(many.batches).toBe(20);
  });

  it('counts the latest most, and is less sure where batches disagree', () => {
    expect(learnFrom([batch(2), batch(1)]).seconds).toBeGreaterThan(learnFrom([batch(1), batch(2)]).seconds);
    const even = learnFrom(Array.from({ length: 8 }, () => batch(1.1)));
    const uneven = learnFrom(Array.from({ length: 8 }, (_, i) => batch(i % 2 ? 0.7 : 1.6)));
    expect(uneven.deviation).toBeGreaterThan(2 * even.deviation);
  });

  it('leaves out batches of which nothing was measured', () => {
    expect(learnFrom([{ foreseen: { seconds: 0, bytes: 0 }, measured: { seconds: 5, bytes: 5 } }]).batches).toBe(0);
  });
});

describe('seconds until an hour', () => {
  const now = new Date(2026, 10, 29, 16, 30, 0);
  it('are to the next time that it is that hour', () => {
    expect(secondsUntil('17:30', now)).toBe(3600);
    expect(secondsUntil('16:00', now)).toBe(23.5 * 3600);
    expect(secondsUntil('16:30', now)).toBe(24 * 3600);
    expect(secondsUntil(' 7:05 ', now)).toBe(14 * 3600 + 35 * 60);
    for (const text of ['', '24:00', '17', '17:60', 'noon']) expect(secondsUntil(text, now)).toBeNull();
  });
});
