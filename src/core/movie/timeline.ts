/** A cut of shots as other programs know it: clips one after another, each with what it shows of its shot. Written from reels, read into them. */
import { freeId, freeName } from '../edit/editSet.js';
import type { Frame } from '../frame/frame.js';
import type { SetFile } from '../plan/set.js';
import { effectiveSettings } from '../plan/formatSheet.js';
import { kindOf, shotName } from '../shots/kinds.js';
import { parseRate, rateValue } from '../units/rate.js';
import { reelSources, reelPlan } from './reel.js';
import { type Reel, type ReelEvent, reelSchema } from '../plan/reel.js';

/** A shot as part of an edit. */
export interface Clip {
  /** Id of the shot, where it is known, and its name as people write it. */
  shot: string;
  name: string;
  /** Index of the first frame shown, from 0 in the shot, and how many frames of the cut it takes, overlaps included. */
  first: number;
  count: number;
  /** Frames of the shot that one frame of the cut goes on by; 0 stands still. */
  speed: number;
  /** Frames that it and the clip before it overlap by. */
  fade: number;
}

/** A cut of every moving shot that makes frames, one after another. */
export function shotReel(set: SetFile, frames: Map<string, Frame[]>): Reel | null {
  const parts = set.shots.filter((s) => kindOf(s).moving && frames.has(s.id)).map((s) => ({ shot: s.id }));
  return parts.length > 0 ? reelSchema.parse({ id: 'all', name: set.name.slice(0, 80), parts: parts.slice(0, 200) }) : null;
}

/** What a reel shows, clip by clip; each picture of a still is one. Throws as reelPlan does. */
export function clipsOf(reel: Reel, set: SetFile, runs: Map<string, Frame[]>): Clip[] {
  const rate = parseRate(set.sheet.rate);
  const numbers = (id: string): number[] => (runs.get(id) ?? []).map((f) => f.number);
  const footage = reelSources(set, numbers);
  const { parts } = reelPlan(reel, footage, rate);
  return reel.parts.flatMap((part, i): Clip[] => {
    const shot = set.shots.find((s) => s.id === part.shot)!;
    const own = numbers(part.shot);
    const first = part.from === undefined ? 0 : own.indexOf(part.from);
    const { count } = parts[i]!;
    const fade = i === 0 ? 0 : part.fade;
    const name = shotName(shot);
    const { moving, rate: planned } = footage(part.shot)!;
    if (moving) return [{ shot: part.shot, name, first, count, fade, speed: (part.speed * rateValue(planned)) / rateValue(rate) }];
    const stand = Math.max(1, Math.round(part.seconds * rateValue(rate)));
    return Array.from({ length: Math.ceil(count / stand) }, (_, k) => ({
      shot: part.shot,
      name,
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

/**
 * A reel out of clips that were read from another program's cut: what is named by id or by name is found in the set. Throws a
 * sentence that names the clip that is none of its shots, or that shows more than there is.
 */
export function reelOf(title: string, clips: (Omit<Clip, 'shot'> & { shot?: string })[], set: SetFile, runs: Map<string, Frame[]>): Reel {
  if (clips.length === 0) throw new Error(`"${title}" has no clips on its first video track.`);
  const rate = rateValue(parseRate(set.sheet.rate));
  const parts = clips.map((clip): ReelEvent => {
    const shot = set.shots.find((s) => s.id === clip.shot) ?? set.shots.find((s) => baseName(shotName(s)) === baseName(clip.name));
    const frames = shot && runs.get(shot.id);
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
    return { shot: shot.id, from, to, speed, seconds: Math.max(0.04, clip.count / rate), fade: clip.fade };
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
