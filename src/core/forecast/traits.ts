/** What tells of a frame how much work it is, beside its size and sampling: by it, frames are told alike or not. */
import type { FrameProbe } from '../preflight/probe.js';

/** What makes frames alike, as far as their cost goes. */
export interface FrameTraits {
  /** Run of frames (Frame.shot). */
  run: string;
  /** Where in its run, 0 at the first frame and 1 at the last. */
  place: number;
  /** What rays met; absent where the frame was not asked. */
  seen?: SeenTraits | undefined;
}

/** As FrameProbe has them. */
export interface SeenTraits {
  /** Share of the pixels that show the model. */
  covered: number;
  /** Square root of the clear surfaces that a pixel looks through in the mean: the first ones cost most. */
  glass: number;
  /** Share of the directions around the eye that meet something: outside few, in a room all. */
  closed: number;
  /** Share of the frame that the subject takes; 0 where there is none. */
  subject: number;
}

/** What of a probe goes with a frame's cost. */
export const seenTraits = ({ covered, glass, closed, subject }: FrameProbe): SeenTraits => ({
  covered,
  glass: Math.sqrt(glass),
  closed,
  subject: subject?.area ?? 0,
});

/** Differences at which two frames are one step apart. Chosen by eye on recordings; no source. */
const STEP = { place: 0.3, covered: 0.12, glass: 0.15, closed: 0.25, subject: 0.15 };
/** Squared steps between frames of two runs, beside what else tells them apart. */
const OTHER_RUN = 4;

/** Squared distance between two frames: 0 where they are alike in all that is known. */
export function unlikeness(a: FrameTraits, b: FrameTraits): number {
  let sum = a.run === b.run ? ((a.place - b.place) / STEP.place) ** 2 : OTHER_RUN;
  if (a.seen && b.seen) for (const key of ['covered', 'glass', 'closed', 'subject'] as const) sum += ((a.seen[key] - b.seen[key]) / STEP[key]) ** 2;
  return sum;
}

/** How many frames are measured at most: of a run, and of all. */
export interface MeasureLimits {
  perRun: number;
  most: number;
}

/**
 * Indices of the frames to measure, in their order: of each run the first and the last, and then
 * always the one that is least like those chosen before (greedy k-centre; Gonzalez, "Clustering to minimize the maximum
 * intercluster distance", 1985). Runs come before further frames of one.
 */
export function framesToMeasure(frames: readonly FrameTraits[], { perRun, most }: MeasureLimits): number[] {
  const runs = new Map<string, number[]>();
  frames.forEach((f, i) => runs.set(f.run, [...(runs.get(f.run) ?? []), i]));
  const each = [...runs.values()].map((own) => farthestFirst(frames, own, perRun));
  const chosen: number[] = [];
  for (let round = 0; chosen.length < most && each.some((own) => round < own.length); round++)
    for (const own of each) if (round < own.length && chosen.length < most) chosen.push(own[round]!);
  return chosen.sort((a, b) => a - b);
}

/** The first, the last, and then by distance, until `most` or all that differ are there. */
function farthestFirst(frames: readonly FrameTraits[], own: readonly number[], most: number): number[] {
  const chosen = own.length > 1 && most > 1 ? [own[0]!, own.at(-1)!] : [own[0]!];
  const nearest = own.map((i) => Math.min(...chosen.map((c) => unlikeness(frames[i]!, frames[c]!))));
  while (chosen.length < Math.min(most, own.length)) {
    const at = nearest.reduce((best, d, i) => (d > nearest[best]! ? i : best), 0);
    if (nearest[at] === 0) break;
    chosen.push(own[at]!);
    own.forEach((i, k) => (nearest[k] = Math.min(nearest[k]!, unlikeness(frames[i]!, frames[own[at]!]!))));
  }
  return chosen;
}
