/** What could be changed so that a plan is done in a given time, each with its effect: ordinary edits, or fewer frames. */
import { ALL_FRAMES, formatSelections } from '../plan/selection.js';
import type { FormatSheet } from '../plan/formatSheet.js';
import type { SetFile } from '../plan/set.js';
import { QUALITY_LEVELS, type Quality, resolveSampling } from '../frame/settings.js';
import { shotIdOfOutput } from '../frame/frame.js';
import type { Size } from '../camera/view.js';
import { kindOf, shotName } from '../shots/kinds.js';
import { type Patch, patchOf } from '../preflight/patch.js';
import type { FrameWork, TriedFrame } from './cost.js';
import { type Forecast, forecastPlan, type PlannedWork } from './forecast.js';
import type { Learnt } from './learnt.js';

/** Ways to have a plan done earlier. */
export const CHOICE_KINDS = ['samples', 'size', 'denoise', 'frames', 'shot'] as const;
/** One of {@link CHOICE_KINDS}. */
export type ChoiceKind = (typeof CHOICE_KINDS)[number];

/** What a picture of the choice differs in from one of the plan: times as many samples, times as wide, denoised. */
export interface PictureChange {
  samples: number;
  scale: number;
  denoise: boolean;
}

/** One way to be done sooner, with its effect. */
export interface Choice {
  kind: ChoiceKind;
  /** What it changes, as on a button. */
  label: string;
  seconds: Forecast['seconds'];
  bytes: number;
  /** Whether the plan is done in time with it, likely. */
  meets: boolean;
  /** An edit of the set; absent where frames are chosen instead. */
  patch?: Patch;
  /** The selection of frames to render (core/plan/selection.ts). */
  select?: string;
  /** Absent where pictures stay as they are. */
  picture?: PictureChange;
}

/** What choices are computed from. */
export interface ChoiceBasis {
  set: SetFile;
  plan: PlannedWork;
  tried: readonly TriedFrame[];
  workers: number;
  learnt: Learnt;
  /** What denoising takes, seconds a pixel; absent where it was not measured. */
  denoisePixel?: number | undefined;
}

/** Fewest samples that a choice goes down to, and sides of a picture in shares of what they were. */
const MIN_SAMPLES = 4;
const SAMPLE_STEPS = [1 / 2, 1 / 4, 1 / 8, 1 / 16];
const SIZE_STEPS = [0.75, 0.5, 0.375, 0.25];
const FRAME_STEPS = [2, 3, 4, 6, 8];
/** What a denoised picture does with fewer samples for the same noise: common practice, no source. */
const DENOISED_SAMPLES = 1 / 4;
/** Shortest side of a picture that a choice goes down to. */
const MIN_SIDE = 64;

const mapWork = (plan: PlannedWork, change: (work: FrameWork, run: string) => FrameWork): PlannedWork => ({
  frames: plan.frames,
  work: Object.fromEntries(Object.entries(plan.work).map(([run, work]) => [run, change(work, run)])),
});

const keepFrames = (plan: PlannedWork, keep: (run: string, place: number) => boolean): PlannedWork => {
  const seen = new Map<string, number>();
  return {
    ...plan,
    frames: plan.frames.filter(({ run }) => {
      const i = seen.get(run) ?? 0;
      seen.set(run, i + 1);
      return keep(run, i);
    }),
  };
};

/** Every quality of the set, its shots' own too, changed. */
function withQuality(set: SetFile, change: (quality: Quality) => Quality): SetFile {
  return {
    ...set,
    sheet: { ...set.sheet, quality: change(set.sheet.quality) },
    shots: set.shots.map((s) =>
      s.overrides?.quality === undefined ? s : { ...s, overrides: { ...s.overrides, quality: change(s.overrides.quality) } },
    ),
  };
}

function otherSampling(quality: Quality, change: { samples?: number; denoise?: boolean }): Quality {
  const { mode, bounces, refractionDepth, ...rest } = resolveSampling(quality);
  if (mode === 'quick') return quality;
  const named = Object.entries(QUALITY_LEVELS).find(([name, n]) => name !== 'quick' && n === change.samples);
  if (typeof quality === 'string' && named && change.denoise === undefined) return named[0] as Quality;
  return { ...rest, depth: { bounces, refractionDepth }, ...change };
}

const fewer = (samples: number, times: number): number => Math.max(Math.min(samples, MIN_SAMPLES), Math.round(samples * times));

function withSamples(set: SetFile, times: number, denoise?: true): SetFile {
  return withQuality(set, (q) => otherSampling(q, { samples: fewer(resolveSampling(q).samples, times), ...(denoise && { denoise }) }));
}

/** Sizes stay even, so that movies can be made of them. */
const scaledSize = <S extends Size>(size: S, scale: number): S => ({
  ...size,
  width: Math.round((size.width * scale) / 2) * 2,
  height: Math.round((size.height * scale) / 2) * 2,
});

function withSize(set: SetFile, scale: number): SetFile {
  const { sheet } = set;
  return {
    ...set,
    sheet: { ...sheet, size: scaledSize(sheet.size, scale), ...(sheet.sizes && { sizes: sheet.sizes.map((s) => scaledSize(s, scale)) }) },
    shots: set.shots.map((s) => (s.overrides?.size ? { ...s, overrides: { ...s.overrides, size: scaledSize(s.overrides.size, scale) } } : s)),
  };
}

/** The first step with which the plan is done in time, or the last one that makes a difference. */
function firstThatMeets<T>(steps: readonly T[], make: (step: T) => Choice | null): Choice | null {
  let best: Choice | null = null;
  for (const step of steps) {
    const choice = make(step);
    if (!choice) continue;
    best = choice;
    if (choice.meets) break;
  }
  return best;
}

const samplesLabel = ({ quality }: FormatSheet, after: FormatSheet): string =>
  `${resolveSampling(after.quality).samples} samples instead of ${resolveSampling(quality).samples}`;

/**
 * Ways to have the plan done in `within` seconds, of each kind the mildest that suffices, or the strongest where none
 * does. Of a plan that is done in time anyway there are none.
 */
export function choicesFor(basis: ChoiceBasis, within: number): Choice[] {
  const { set, plan, tried, workers, learnt, denoisePixel } = basis;
  const before = forecastPlan(plan, tried, workers, learnt).forecast;
  if (before.seconds.likely <= within || plan.frames.length === 0) return [];
  const choice = (kind: ChoiceKind, label: string, changed: PlannedWork, more: Pick<Choice, 'patch' | 'select' | 'picture'>): Choice | null => {
    if (changed.frames.length === 0 || (more.patch && more.patch.length === 0)) return null;
    const { seconds, bytes } = forecastPlan(changed, tried, workers, learnt).forecast;
    return seconds.likely < before.seconds.likely ? { kind, label, seconds, bytes, meets: seconds.likely <= within, ...more } : null;
  };
  const traced = (w: FrameWork): boolean => !w.quick;
  const sampling = resolveSampling(set.sheet.quality);
  const bySamples = firstThatMeets(SAMPLE_STEPS, (times) => {
    const next = withSamples(set, times);
    const changed = mapWork(plan, (w) => (traced(w) ? { ...w, samples: fewer(w.samples, times) } : w));
    return choice('samples', samplesLabel(set.sheet, next.sheet), changed, {
      patch: patchOf(set, next),
      picture: { samples: times, scale: 1, denoise: sampling.denoise },
    });
  });
  const bySize = firstThatMeets(SIZE_STEPS, (scale) => {
    const next = withSize(set, scale);
    const { width, height } = next.sheet.size;
    if (Math.min(width, height) < MIN_SIDE) return null;
    const changed = mapWork(plan, (w) => ({ ...w, pixels: w.pixels * scale ** 2 }));
    return choice('size', `${width} × ${height} pixels`, changed, {
      patch: patchOf(set, next),
      picture: { samples: 1, scale, denoise: sampling.denoise },
    });
  });
  const byDenoising = (): Choice | null => {
    if (sampling.denoise || sampling.mode === 'quick' || denoisePixel === undefined) return null;
    const next = withSamples(set, DENOISED_SAMPLES, true);
    const changed = mapWork(plan, (w) =>
      traced(w) ? { ...w, samples: fewer(w.samples, DENOISED_SAMPLES), extraPixel: w.denoised ? 0 : denoisePixel } : w,
    );
    return choice('denoise', `Denoised, ${samplesLabel(set.sheet, next.sheet)}`, changed, {
      patch: patchOf(set, next),
      picture: { samples: DENOISED_SAMPLES, scale: 1, denoise: true },
    });
  };
  const moving = new Set(set.shots.filter((s) => kindOf(s).moving).map((s) => s.id));
  const byFrames = firstThatMeets(FRAME_STEPS, (every) => {
    const changed = keepFrames(plan, (run, i) => !moving.has(shotIdOfOutput(run)) || i % every === 0);
    if (changed.frames.length === plan.frames.length) return null;
    const shots = new Map(
      [...moving].filter((id) => plan.frames.some((f) => shotIdOfOutput(f.run) === id)).map((id) => [id, `first every ${every}`]),
    );
    return choice('frames', `Every ${every === 2 ? '2nd' : every === 3 ? '3rd' : `${every}th`} frame of moving shots`, changed, {
      select: formatSelections({ others: ALL_FRAMES, shots }),
    });
  });
  return [bySamples, byDenoising(), bySize, byFrames, byShot()].filter((c): c is Choice => c !== null);

  /** The cheapest shot without which the plan is done in time, or the dearest. */
  function byShot(): Choice | null {
    const rendered = set.shots.filter((s) => !s.off && plan.frames.some((f) => shotIdOfOutput(f.run) === s.id));
    if (rendered.length < 2) return null;
    const costs = new Map(rendered.map((s) => [s.id, before.runs.reduce((n, r) => n + (shotIdOfOutput(r.run) === s.id ? r.seconds.likely : 0), 0)]));
    return firstThatMeets(
      [...rendered].sort((a, b) => costs.get(a.id)! - costs.get(b.id)!),
      (shot) => {
        const next = { ...set, shots: set.shots.map((s) => (s.id === shot.id ? { ...s, off: true } : s)) };
        return choice(
          'shot',
          `Without ${shotName(shot)}`,
          keepFrames(plan, (run) => shotIdOfOutput(run) !== shot.id),
          { patch: patchOf(set, next) },
        );
      },
    );
  }
}
