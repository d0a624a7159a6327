/** How long the rest of a batch takes: what was foreseen, put right by the frames that are done, those most that are most like. */
import { deviationOfSum, DEVIATIONS, type Range, rangeAbout } from './range.js';
import { type FrameTraits, unlikeness } from './traits.js';

/** A frame of a batch. */
export interface TimedFrame {
  traits: FrameTraits;
  /** Worker seconds as foreseen; null where nobody foresaw them. */
  foreseen: number | null;
  /** Worker seconds as measured; null before it is done. */
  measured: number | null;
  /** What is still to be done of it, 1 before it was begun, 0 of one that is done or given up. */
  left: number;
}

/** Done frames that are looked at, and waiting ones that are foreseen one by one: of more, every so many. */
const MAX_DONE = 240;
const MAX_WAITING = 400;
/** So many frames' worth of trust in what was foreseen for the batch, before its own frames say more. */
const PRIOR_FRAMES = 1;
/** The same of what the whole batch says, before frames like the one in question say more. */
const BATCH_FRAMES = 0.5;

/** Every so many of a list, so that `most` are left at most; with the last. */
function thinned<T>(list: readonly T[], most: number): readonly T[] {
  if (list.length <= most) return list;
  return Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);
}

/** Of done frames: what they were foreseen to take, and what they took. */
interface Done {
  traits: FrameTraits;
  foreseen: number;
  measured: number;
}

/** What a frame's forecast is multiplied by, and how many done frames' worth of likeness say so. */
function correctionOf(frame: FrameTraits, done: readonly Done[], ofBatch: number, usual: number): { factor: number; mass: number } {
  let [measured, foreseen, mass] = [0, 0, 0];
  for (const d of done) {
    const weight = Math.exp(-unlikeness(frame, d.traits) / 2);
    measured += weight * d.measured;
    foreseen += weight * d.foreseen;
    mass += weight;
  }
  return { factor: (measured + BATCH_FRAMES * usual * ofBatch) / (foreseen + BATCH_FRAMES * usual), mass };
}

/**
 * Seconds until all is done; null where nothing was foreseen and nothing is done yet.
 * @param pace seconds that pass for each second of all workers, 1 where they never wait.
 */
export function remainingTime(frames: readonly TimedFrame[], pace = 1): Range | null {
  const waiting = frames.filter((f) => f.left > 0);
  if (waiting.length === 0) return { low: 0, likely: 0, high: 0 };
  // Where some frame was not foreseen, all count as alike.
  const isForeseen = frames.every((f) => f.foreseen !== null);
  const foreseenOf = (f: TimedFrame): number => (isForeseen ? f.foreseen! : 1);
  const all = frames.flatMap((f): Done[] => (f.measured === null ? [] : [{ traits: f.traits, foreseen: foreseenOf(f), measured: f.measured }]));
  if (!isForeseen && all.length === 0) return null;
  const done = thinned(all, MAX_DONE);
  const usual = frames.reduce((n, f) => n + foreseenOf(f), 0) / frames.length;
  const prior = isForeseen ? PRIOR_FRAMES * usual : 0;
  const ofBatch = (all.reduce((n, d) => n + d.measured, 0) + prior) / (all.reduce((n, d) => n + d.foreseen, 0) + prior);
  const looked = thinned(waiting, MAX_WAITING);
  const weightOf = (f: TimedFrame): number => foreseenOf(f) * f.left;
  const more = waiting.reduce((n, f) => n + weightOf(f), 0) / looked.reduce((n, f) => n + weightOf(f), 0);
  const runs = new Map<string, { seconds: number; mass: number }>();
  let squares = 0;
  for (const f of looked) {
    const { factor, mass } = correctionOf(f.traits, done, ofBatch, usual);
    const seconds = weightOf(f) * factor * more * pace;
    const run = runs.get(f.traits.run) ?? { seconds: 0, mass: 0 };
    run.seconds += seconds;
    run.mass += mass * seconds;
    runs.set(f.traits.run, run);
    squares += seconds ** 2 / more;
  }
  const sums = [...runs.values()].map((r) => ({ seconds: r.seconds, left: 1 / Math.sqrt(1 + r.mass / Math.max(r.seconds, 1e-9)) }));
  const deviation = deviationOfSum(sums, squares, { batch: DEVIATIONS.batch, left: 1 / Math.sqrt(1 + all.length) });
  return rangeAbout(
    sums.reduce((n, s) => n + s.seconds, 0),
    deviation,
  );
}
