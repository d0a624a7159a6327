/** How long a plan takes and how much room it needs, from trials of some of its frames. */
import { costOf, type FrameCost, type FrameWork, type TriedFrame, workerSeconds } from './cost.js';
import { type Learnt, NOTHING_LEARNT } from './learnt.js';
import { deviationOfSum, type Range, rangeAbout } from './range.js';
import type { FrameTraits } from './traits.js';

/** A plan as far as its cost depends on it. */
export interface PlannedWork {
  frames: FrameTraits[];
  /** What each run's frames ask for, by run. */
  work: Record<string, FrameWork>;
}

/** Seconds by what they depend on: twice the samples double `bySample`, twice the pixels that and `byPixel`. */
export interface CostParts {
  fixed: number;
  byPixel: number;
  bySample: number;
}

/** What one run of frames is expected to take. */
export interface RunForecast {
  run: string;
  frames: number;
  seconds: Range;
  parts: CostParts;
  bytes: number;
}

/** What a plan is expected to take, in seconds and bytes, as a whole and a run. */
export interface Forecast {
  frames: number;
  /** Frames of which trials were made. */
  tried: number;
  seconds: Range;
  parts: CostParts;
  bytes: number;
  /** Bytes by type and pass, the largest first. */
  files: { file: string; bytes: number }[];
  runs: RunForecast[];
}

/** What is foreseen of each frame, and of all. */
export interface PlanForecast {
  forecast: Forecast;
  /** Worker seconds of each frame, corrected by what was learnt. */
  seconds: number[];
  /** Bytes of each frame, likewise. */
  bytes: number[];
}

interface Sum extends CostParts {
  frames: number;
  squares: number;
  bytes: number;
}

const sumBytes = (cost: FrameCost): number => Object.values(cost.bytes).reduce((a, b) => a + b, 0);

/**
 * @param tried at least one frame of the plan, unless it has none. @param workers threads that trace: files are made
 * beside them, at the cost of one.
 */
export function forecastPlan(
  { frames, work }: PlannedWork,
  tried: readonly TriedFrame[],
  workers: number,
  learnt: Learnt = NOTHING_LEARNT,
): PlanForecast {
  const runs = new Map<string, Sum>();
  const files = new Map<string, number>();
  const seconds: number[] = [];
  const bytes: number[] = [];
  for (const frame of frames) {
    const cost = costOf(frame, work[frame.run]!, tried);
    const own = workerSeconds(cost) * learnt.seconds;
    const ownBytes = sumBytes(cost) * learnt.bytes;
    seconds.push(own);
    bytes.push(ownBytes);
    const sum = runs.get(frame.run) ?? { frames: 0, fixed: 0, byPixel: 0, bySample: 0, squares: 0, bytes: 0 };
    sum.frames++;
    sum.fixed += cost.fixed * learnt.seconds;
    // Files are made while other frames are traced, and take their share of the machine.
    sum.byPixel += (cost.byPixel + cost.written / workers) * learnt.seconds;
    sum.bySample += cost.bySample * learnt.seconds;
    sum.squares += own ** 2;
    sum.bytes += ownBytes;
    runs.set(frame.run, sum);
    for (const [file, n] of Object.entries(cost.bytes)) files.set(file, (files.get(file) ?? 0) + n * learnt.bytes);
  }
  const range = (sums: readonly Sum[]): Range => {
    const totals = sums.map((s) => ({ seconds: s.fixed + s.byPixel + s.bySample }));
    const squares = sums.reduce((n, s) => n + s.squares, 0);
    return rangeAbout(
      totals.reduce((n, t) => n + t.seconds, 0),
      deviationOfSum(totals, squares, { batch: learnt.deviation }),
    );
  };
  const all = [...runs.values()];
  const parts = (sums: readonly Sum[]): CostParts => ({
    fixed: sums.reduce((n, s) => n + s.fixed, 0),
    byPixel: sums.reduce((n, s) => n + s.byPixel, 0),
    bySample: sums.reduce((n, s) => n + s.bySample, 0),
  });
  const forecast: Forecast = {
    frames: frames.length,
    tried: tried.length,
    seconds: range(all),
    parts: parts(all),
    bytes: all.reduce((n, s) => n + s.bytes, 0),
    files: [...files].map(([file, n]) => ({ file, bytes: n })).sort((a, b) => b.bytes - a.bytes),
    runs: [...runs].map(([run, sum]) => ({ run, frames: sum.frames, seconds: range([sum]), parts: parts([sum]), bytes: sum.bytes })),
  };
  return { forecast, seconds, bytes };
}
