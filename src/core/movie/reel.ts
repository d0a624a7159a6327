/** Shots joined to one movie: trimmed, played slower or faster, cut or cross-faded. */
import type { Reel, ReelEvent, ReelTake } from '../plan/reel.js';
import { type FormatSheet, effectiveSettings } from '../plan/formatSheet.js';
import { shotOutputs } from '../plan/outputs.js';
import { kindOf, type Shot } from '../shots/kinds.js';
import { parseRate, type Rate, rateValue } from '../units/rate.js';

/** What a reel knows of a shot. */
export interface ReelSource {
  /** Numbers of its frames, in order. */
  numbers: number[];
  /** Frames a second that it was planned at. */
  rate: Rate;
  moving: boolean;
}

/** Id of the run that a take is in a batch of the set: that of the variant where the shot is made in it, else the shot's first. */
export function runOfTake(set: { shots: readonly Shot[]; sheet: FormatSheet }, { shot: id, variant }: ReelTake): string {
  const shot = set.shots.find((s) => s.id === id);
  const outputs = shot ? shotOutputs(effectiveSettings(set.sheet, shot), shot) : [];
  return outputs.find((o) => o.variant === variant && !o.further)?.run ?? id;
}

/** Planned frames that a take plays. A variant that the shot is not made in is planned as the shot is: a whole batch may wear it. */
export function plannedTake<F extends { shot: string; variant?: string }>(
  set: { shots: readonly Shot[]; sheet: FormatSheet },
  runs: ReadonlyMap<string, F[]>,
  take: ReelTake,
): F[] {
  const own = runs.get(runOfTake(set, take)) ?? [];
  const worn = own.filter((f) => f.variant === take.variant);
  return take.variant !== undefined && worn.length > 0 ? worn : own;
}

/** What reels know of a set's shots; `numbers` tells those of the frames that a part plays of. */
export function reelSources(
  set: { shots: readonly Shot[]; sheet: FormatSheet },
  numbers: (part: ReelEvent) => number[],
): (part: ReelEvent) => ReelSource | undefined {
  return (part) => {
    const shot = set.shots.find((s) => s.id === part.shot);
    return shot && { numbers: numbers(part), rate: parseRate(effectiveSettings(set.sheet, shot).rate), moving: kindOf(shot).moving };
  };
}

/** One picture of the reel: its part, the index of a frame in that part's take, and another that it fades into, by a share. */
export interface ReelFrame {
  part: number;
  index: number;
  into?: { part: number; index: number; share: number };
}

/** Frames of a reel in the order in which they are shown. */
export interface ReelPlan {
  frames: ReelFrame[];
  /** Of each part: its first frame in the reel, and how many it has, overlaps included. */
  parts: { first: number; count: number; note?: string }[];
}

/** Frames of a shot that a part plays, one after the other, at the reel's rate. Throws a sentence that names the shot. */
function playedFrames(part: ReelEvent, footage: ReelSource | undefined, rate: Rate): number[] {
  if (!footage || footage.numbers.length === 0) throw new Error(`The reel plays the shot "${part.shot}", which has no frames.`);
  const { numbers, moving } = footage;
  const at = (n: number): number => {
    const i = numbers.indexOf(n);
    if (i < 0) throw new Error(`The shot "${part.shot}" has no frame ${n}; it goes from ${numbers[0]} to ${numbers.at(-1)}.`);
    return i;
  };
  const [first, last] = [part.from === undefined ? 0 : at(part.from), part.to === undefined ? numbers.length - 1 : at(part.to)];
  if (last < first) throw new Error(`The part of "${part.shot}" ends at ${part.to}, before it begins at ${part.from}.`);
  const step = moving ? (part.speed * rateValue(footage.rate)) / rateValue(rate) : 1 / Math.max(1, Math.round(part.seconds * rateValue(rate)));
  const count = Math.max(1, Math.round((last - first + 1) / step));
  return Array.from({ length: count }, (_, k) => Math.min(last, first + Math.floor(k * step + 1e-9)));
}

/** A rate that differs from the planned one, pointed out with the length that it makes. */
function reelNote(part: ReelEvent, { rate, moving, numbers }: ReelSource, reel: Rate, count: number): string | undefined {
  const speed = moving ? part.speed : 1;
  if (!moving || (speed === 1 && rateValue(rate) === rateValue(reel))) return undefined;
  const seconds = (count / rateValue(reel)).toFixed(2);
  const planned = (numbers.length / rateValue(rate)).toFixed(2);
  return rateValue(rate) === rateValue(reel)
    ? `at ${speed} times its pace: ${seconds} s instead of ${planned} s`
    : `planned at ${Number(rateValue(rate).toFixed(3))}, played at ${Number(rateValue(reel).toFixed(3))} frames a second: ${seconds} s`;
}

/**
 * Every picture of the reel. A fade of n frames lets n frames of both parts lie over each other, with shares that go evenly
 * from 1 / (n + 1) to n / (n + 1); the reel is as much shorter. Throws where a shot has no frames, or a fade is longer
 * than one of its parts.
 */
export function reelPlan(reel: Reel, footage: (part: ReelEvent) => ReelSource | undefined, rate: Rate): ReelPlan {
  const frames: ReelFrame[] = [];
  const parts: ReelPlan['parts'] = [];
  let before = Infinity;
  reel.parts.forEach((part, i) => {
    const own = playedFrames(part, footage(part), rate);
    const fade = i === 0 ? 0 : part.fade;
    if (fade > own.length || fade > before)
      throw new Error(`The fade of ${fade} frames into "${part.shot}" is longer than the ${Math.min(own.length, before)} frames there are.`);
    const first = frames.length - fade;
    own.forEach((index, k) => {
      if (k < fade) frames[first + k] = { ...frames[first + k]!, into: { part: i, index, share: (k + 1) / (fade + 1) } };
      else frames.push({ part: i, index });
    });
    // What is faded out already is not there to be faded again.
    before = own.length - fade;
    const note = reelNote(part, footage(part)!, rate, own.length);
    parts.push({ first, count: own.length, ...(note && { note }) });
  });
  return { frames, parts };
}
