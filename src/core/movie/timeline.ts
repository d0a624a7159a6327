/** A cut of shots as other programs know it: clips one after another, each with what it shows of its shot. Written from reels, read into them. */
import { freeId, freeName } from '../edit/editSet.js';
import type { Frame } from '../frame/frame.js';
import type { SetFile } from '../plan/set.js';
import { effectiveSettings } from '../plan/formatSheet.js';
import { kindOf, shotName } from '../shots/kinds.js';
import { parseRate, rateValue } from '../units/rate.js';
import { plannedTake, reelSources, reelPlan } from './reel.js';
import { type Reel, type ReelEvent, reelSchema, type ReelTake } from '../plan/reel.js';

/** A shot as part of an edit. */
export interface Clip {
  /** Id of the shot, where it is known, and its name as people write it. */
  shot: string;
  name: string;
  /** As of ReelTake. */
  variant?: string;
  revision?: string;
  /** Index of the first frame shown, from 0 in the shot, and how many frames of the cut it takes, overlaps included. */
  first: number;
  count: number;
  /** Frames of the shot that one frame of the cut goes on by; 0 stands still. */
  speed: number;
  /** Frames that it and the clip before it overlap by. */
  fade: number;
}

/** A clip as another program names it: the id of its shot may be missing. */
export type ForeignClip = Omit<Clip, 'shot'> & { shot?: string };

/** A cut of every moving shot that makes frames, one after another. */
export function shotReel(set: SetFile, frames: Map<string, Frame[]>): Reel | null {
  const parts = set.shots.filter((s) => kindOf(s).moving && frames.has(s.id)).map((s) => ({ shot: s.id }));
  return parts.length > 0 ? reelSchema.parse({ id: 'all', name: set.name.slice(0, 80), parts: parts.slice(0, 200) }) : null;
}

/** Name of what a part plays: shot, variant and revision. */
function takeName(set: SetFile, { shot: id, variant, revision }: ReelTake): string {
  const shot = set.shots.find((s) => s.id === id)!;
  const worn = set.materials?.variants.find((v) => v.id === variant)?.name ?? variant;
  return [shotName(shot), worn, revision && `revision ${revision}`].filter(Boolean).join(' ');
}

/** What a reel shows, clip by clip; each picture of a still is one. Throws as reelPlan does. */
export function clipsOf(reel: Reel, set: SetFile, runs: Map<string, Frame[]>): Clip[] {
  const rate = parseRate(set.sheet.rate);
  const numbers = (part: ReelEvent): number[] => plannedTake(set, runs, part).map((f) => f.number);
  const footage = reelSources(set, numbers);
  const { parts } = reelPlan(reel, footage, rate);
  return reel.parts.flatMap((part, i): Clip[] => {
    const first = part.from === undefined ? 0 : numbers(part).indexOf(part.from);
    const { count } = parts[i]!;
    const fade = i === 0 ? 0 : part.fade;
    const { shot, variant, revision } = part;
    const what = { shot, name: takeName(set, part), ...(variant !== undefined && { variant }), ...(revision !== undefined && { revision }) };
    const { moving, rate: planned } = footage(part)!;
    if (moving) return [{ ...what, first, count, fade, speed: (part.speed * rateValue(planned)) / rateValue(rate) }];
    const stand = Math.max(1, Math.round(part.seconds * rateValue(rate)));
    return Array.from({ length: Math.ceil(count / stand) }, (_, k) => ({
      ...what,
      first: first + k,
      count: Math.min(stand, count - k * stand),
      speed: 0,
      fade: k === 0 ? fade : 0,
    }));
  });
}

/** Programs write a name with what file names may hold; this is what of it counts. */
const baseName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/\.\w+$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, '');

/** What a clip of another program plays: by the ids that we gave it, else by its name. */
function takeOf(clip: ForeignClip, set: SetFile): ReelTake | undefined {
  if (set.shots.some((s) => s.id === clip.shot)) {
    const { shot, variant, revision } = clip;
    return { shot: shot!, ...(variant !== undefined && { variant }), ...(revision !== undefined && { revision }) };
  }
  const takes = set.shots.flatMap(({ id: shot }): ReelTake[] => [
    { shot },
    ...(set.materials?.variants ?? []).map(({ id: variant }) => ({ shot, variant })),
  ]);
  const named = (name: string): ReelTake | undefined => takes.find((t) => baseName(takeName(set, t)) === baseName(name));
  const [, bare, letter] = /^(.+?)[\s_-]+revision[\s_-]+([\p{L}\p{N}]+)(?:\.\w+)?$/iu.exec(clip.name) ?? [];
  const known = named(clip.name);
  if (known || bare === undefined) return known;
  const of = named(bare);
  return of && { ...of, revision: letter!.toUpperCase() };
}

/**
 * A reel out of clips that were read from another program's cut: what is named by id or by name is found in the set. Throws a
 * sentence that names the clip that is none of its shots, or that shows more than there is.
 */
export function reelOf(title: string, clips: ForeignClip[], set: SetFile, runs: Map<string, Frame[]>): Reel {
  if (clips.length === 0) throw new Error(`"${title}" has no clips on its first video track.`);
  const rate = rateValue(parseRate(set.sheet.rate));
  const parts = clips.map((clip): ReelEvent => {
    const take = takeOf(clip, set);
    const shot = set.shots.find((s) => s.id === take?.shot);
    const frames = take && plannedTake(set, runs, take);
    if (!shot || !frames?.length)
      throw new Error(`The clip "${clip.name}" is not a moving shot of this set. Give it the name of its shot, or remove it from the edit.`);
    const still = clip.speed === 0 || !kindOf(shot).moving;
    const asked = still ? 1 : Math.max(1, Math.round(clip.count * clip.speed));
    // A retimed clip may end between two frames, and so beyond the last one by less than a step.
    const span = asked + clip.first - frames.length < Math.max(1, clip.speed) ? Math.min(asked, frames.length - clip.first) : asked;
    const [from, to] = [frames[clip.first]?.number, frames[clip.first + span - 1]?.number];
    if (from === undefined || to === undefined)
      throw new Error(
        `The clip "${clip.name}" shows frames ${clip.first + 1} to ${clip.first + span} of its shot, which has ${frames.length}. Cut it from the renders of this set.`,
      );
    const planned = rateValue(parseRate(effectiveSettings(set.sheet, shot).rate));
    const speed = still ? 1 : Number(((clip.speed * rate) / planned).toFixed(6));
    return { ...take!, from, to, speed, seconds: Math.max(0.04, clip.count / rate), fade: clip.fade };
  });
  const reels = set.reels ?? [];
  const name = freeName(
    title.slice(0, 70),
    reels.map((r) => r.name),
  );
  return reelSchema.parse({
    id: freeId(
      name,
      reels.map((r) => r.id),
    ),
    name,
    parts,
  });
}
