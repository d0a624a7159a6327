/** Cuts as OpenTimelineIO (Academy Software Foundation; schemas Timeline.1, Track.1, Clip.2, Transition.1). */
import { EXTENSIONS } from '../image/fileTypes.js';
import type { Frame } from '../frame/frame.js';
import type { SetFile } from '../plan/set.js';
import { parseRate, rateValue } from '../units/rate.js';
import { plannedTake } from './reel.js';
import type { Clip, ForeignClip } from './timeline.js';

type Json = Record<string, unknown>;

/** Fields that items of a track and stacks have alike. */
const item = (schema: string, name: string, rest: Json): Json => ({
  OTIO_SCHEMA: schema,
  name,
  enabled: true,
  effects: [],
  markers: [],
  metadata: {},
  source_range: null,
  ...rest,
});

/** Where the pictures of a shot lie, as a sequence. */
function mediaOf(name: string, frames: Frame[], rate: number, range: (first: number, count: number) => Json): Json {
  const [first] = frames;
  // The number stands at the end of a moving shot's name, or the name is not a sequence's.
  const digits = /(\d+)$/.exec(first!.name)?.[1] ?? '';
  const stem = first!.name.slice(0, first!.name.length - digits.length);
  const folder = stem.includes('/') ? stem.slice(0, stem.lastIndexOf('/') + 1) : '';
  return {
    OTIO_SCHEMA: 'ImageSequenceReference.1',
    name,
    available_range: range(0, frames.length),
    metadata: {},
    target_url_base: folder,
    name_prefix: stem.slice(folder.length),
    name_suffix: `.${EXTENSIONS[first!.files[0]!.type]}`,
    start_frame: first!.number,
    frame_step: 1,
    rate,
    frame_zero_padding: digits.length,
    missing_frame_policy: 'error',
  };
}

/** The cut as a timeline of one track. A fade lies before its cut: the clip before plays to its end, and the next one begins under it. */
export function writeOtio(title: string, clips: Clip[], set: SetFile, runs: Map<string, Frame[]>): string {
  const rate = rateValue(parseRate(set.sheet.rate));
  const time = (value: number): Json => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value });
  const range = (first: number, count: number): Json => ({ OTIO_SCHEMA: 'TimeRange.1', start_time: time(first), duration: time(count) });
  const children = clips.flatMap(({ shot, variant, revision, name, first, count, speed, fade }) => {
    const frames = plannedTake(set, runs, { shot, variant });
    const shown = item('Clip.2', name, {
      source_range: range(first + (speed > 0 ? fade * speed : 0), count - fade),
      metadata: { 'cold-easel': { shot, variant, revision } },
      effects:
        speed === 1
          ? []
          : [{ OTIO_SCHEMA: speed === 0 ? 'FreezeFrame.1' : 'LinearTimeWarp.1', name: '', metadata: {}, effect_name: '', time_scalar: speed }],
      active_media_reference_key: 'DEFAULT_MEDIA',
      media_references: { DEFAULT_MEDIA: mediaOf(name, frames, rate, range) },
    });
    const transition = {
      OTIO_SCHEMA: 'Transition.1',
      name: '',
      metadata: {},
      transition_type: 'SMPTE_Dissolve',
      in_offset: time(fade),
      out_offset: time(0),
    };
    return fade > 0 ? [transition, shown] : [shown];
  });
  const track = item('Track.1', 'Pictures', { kind: 'Video', children });
  const tracks = item('Stack.1', 'tracks', { children: [track] });
  return `${JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: title, global_start_time: null, metadata: {}, tracks }, null, 2)}\n`;
}

const isJson = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const schemaOf = (v: Json): string => String(v.OTIO_SCHEMA ?? '').replace(/\.\d+$/, '');
const listOf = (v: unknown): Json[] => (Array.isArray(v) ? v.filter(isJson) : []);

/** Frames of the cut's rate in a RationalTime, whatever rate it is written in; between two frames where a clip is retimed. */
function framesIn(time: unknown, rate: number): number {
  if (!isJson(time)) return 0;
  const [value, own] = [Number(time.value), Number(time.rate)];
  if (!Number.isFinite(value) || !(own > 0)) throw new Error('The timeline has a time that is not a number. Write it again.');
  return (value / own) * rate;
}

/** Clips of the first picture track, at the set's rate. Throws a sentence where the text is no such timeline, or holds what a cut of shots cannot. */
export function readOtio(text: string, set: SetFile): { title: string; clips: ForeignClip[] } {
  let timeline: unknown;
  try {
    timeline = JSON.parse(text);
  } catch {
    throw new Error('The file is not OpenTimelineIO: it is not JSON. Export it again as .otio.');
  }
  if (!isJson(timeline) || schemaOf(timeline) !== 'Timeline')
    throw new Error('The file is JSON, but not an OpenTimelineIO timeline. Export the timeline as .otio.');
  const rate = rateValue(parseRate(set.sheet.rate));
  const track = listOf(isJson(timeline.tracks) ? timeline.tracks.children : null).find(
    (t) => schemaOf(t) === 'Track' && (t.kind ?? 'Video') === 'Video',
  );
  const clips: ForeignClip[] = [];
  let [before, after] = [0, 0];
  for (const child of listOf(track?.children)) {
    const kind = schemaOf(child);
    const name = String(child.name ?? '');
    if (kind === 'Transition') {
      [before, after] = [Math.round(framesIn(child.in_offset, rate)), Math.round(framesIn(child.out_offset, rate))];
      continue;
    }
    if (kind === 'Gap') throw new Error('The timeline has a gap, which a reel cannot hold. Close it and export the timeline again.');
    if (kind !== 'Clip')
      throw new Error(`The timeline has a ${kind || 'thing without a schema'} among its clips, which a reel cannot hold. Flatten it first.`);
    const warp = listOf(child.effects).find((e) => ['LinearTimeWarp', 'FreezeFrame'].includes(schemaOf(e)));
    const speed = warp ? (schemaOf(warp) === 'FreezeFrame' ? 0 : Number(warp.time_scalar)) : 1;
    if (!(speed >= 0)) throw new Error(`The clip "${name}" plays backwards, which a reel cannot. Reverse it first.`);
    const media = isJson(child.media_references)
      ? child.media_references[String(child.active_media_reference_key ?? 'DEFAULT_MEDIA')]
      : child.media_reference;
    const range = isJson(child.source_range) ? child.source_range : isJson(media) && isJson(media.available_range) ? media.available_range : null;
    if (!range) throw new Error(`The clip "${name}" does not say which of its frames it shows. Export the timeline again with its ranges.`);
    // A transition takes from what stands before and after the cut.
    const last = clips.at(-1);
    const fade = last ? before + after : 0;
    if (last) last.count += after;
    const own = isJson(child.metadata) && isJson(child.metadata['cold-easel']) ? child.metadata['cold-easel'] : {};
    const idOf = (key: 'shot' | 'variant' | 'revision'): Partial<ForeignClip> => (typeof own[key] === 'string' ? { [key]: own[key] } : {});
    const start = framesIn(range.start_time, rate);
    clips.push({
      ...idOf('shot'),
      ...idOf('variant'),
      ...idOf('revision'),
      name,
      first: Math.round(start - (last ? before * speed : 0)),
      count: Math.round(framesIn(range.duration, rate)) + (last ? before : 0),
      speed,
      fade,
    });
    [before, after] = [0, 0];
  }
  return { title: typeof timeline.name === 'string' && timeline.name.trim() ? timeline.name.trim() : 'Timeline', clips };
}
