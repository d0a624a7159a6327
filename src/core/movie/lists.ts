/** A plan as lists for other programs: shots as CSV, suns as CSV, the moving shots as OpenTimelineIO and as an edit decision list. */
import { byRun, type Frame, shotIdOf } from '../plan/frame.js';
import { fileWord } from '../plan/names.js';
import { runName, type SetFile } from '../plan/set.js';
import { sheetOf } from '../plan/sheet.js';
import { kindOf, type Shot, shotName } from '../shot/kinds.js';
import { shadowLength } from '../stage/sun.js';
import { csv } from '../units/csv.js';
import { frameTime, parseRate, rateName, rateValue } from '../units/rate.js';
import { hasDropFrame, timecode } from '../units/timecode.js';

interface Run {
  shot: Shot;
  name: string;
  /** In the sheet's own size. */
  main: boolean;
  own: Frame[];
}

/** The frames of each shot, and of each of its further sizes, in the set's order. */
function runsOf(set: SetFile, frames: Frame[]): Run[] {
  return [...byRun(frames)].map(([run, own]) => {
    const shot = set.shots.find((s) => s.id === shotIdOf(run))!;
    return { shot, own, main: run === shot.id, name: runName(set, run) };
  });
}

const movies = (set: SetFile, frames: Frame[]): Run[] => runsOf(set, frames).filter(({ shot, main }) => main && kindOf(shot).moving);

/** A row a shot. */
export function shotListCsv(set: SetFile, frames: Frame[]): string {
  const head = ['number', 'shot', 'kind', 'views', 'frames', 'first', 'last', 'timecode', 'seconds', 'width', 'height', 'rate', 'first file'];
  const rows = runsOf(set, frames).map(({ shot, name, own }, i) => {
    const { moving } = kindOf(shot);
    const exact = sheetOf(set.sheet, shot).rate;
    const rate = parseRate(exact);
    return [
      i + 1,
      name,
      kindOf(shot).label,
      kindOf(shot).uses(shot).join(' '),
      own.length,
      own[0]!.number,
      own.at(-1)!.number,
      moving ? timecode(own.length, rate) : '',
      moving ? frameTime(own.length, rate) : null,
      own[0]!.size.width,
      own[0]!.size.height,
      rateName(exact),
      own[0]!.name,
    ];
  });
  return csv(head, rows);
}

/** A row a frame that the sun lights. */
export function sunTableCsv(frames: Frame[]): string {
  const head = ['shot', 'frame', 'date', 'time', 'doubled hour', 'azimuth degrees', 'altitude degrees', 'shadow metres a metre'];
  const rows = frames.flatMap(({ shot, number, sun }) =>
    sun
      ? [
          [
            shot,
            number,
            sun.date,
            sun.time,
            sun.later ? 'second' : '',
            sun.azimuth,
            sun.altitude,
            sun.altitude > 0 ? shadowLength(sun.altitude) : null,
          ],
        ]
      : [],
  );
  return csv(head, rows);
}

/** The moving shots one after another as OpenTimelineIO (Academy Software Foundation, schema Timeline.1), each a sequence of its pictures. */
export function timelineOtio(set: SetFile, frames: Frame[]): string {
  const rate = parseRate(set.sheet.rate);
  const fps = rateValue(rate);
  const time = (value: number): object => ({ OTIO_SCHEMA: 'RationalTime.1', rate: fps, value });
  const range = (count: number): object => ({ OTIO_SCHEMA: 'TimeRange.1', start_time: time(0), duration: time(count) });
  const children = movies(set, frames).map(({ shot, own }) => {
    const [first] = own;
    // The number stands at the end of a moving shot's name, or the name is not a sequence's.
    const digits = /(\d+)$/.exec(first!.name)?.[1] ?? '';
    const stem = first!.name.slice(0, first!.name.length - digits.length);
    const folder = stem.includes('/') ? stem.slice(0, stem.lastIndexOf('/') + 1) : '';
    return {
      OTIO_SCHEMA: 'Clip.2',
      name: shotName(shot),
      source_range: range(own.length),
      enabled: true,
      effects: [],
      markers: [],
      metadata: { kind: kindOf(shot).label },
      active_media_reference_key: 'DEFAULT_MEDIA',
      media_references: {
        DEFAULT_MEDIA: {
          OTIO_SCHEMA: 'ImageSequenceReference.1',
          name: shotName(shot),
          available_range: range(own.length),
          metadata: {},
          target_url_base: folder,
          name_prefix: stem.slice(folder.length),
          name_suffix: `.${first!.files[0]!.type === 'jpeg' ? 'jpg' : first!.files[0]!.type}`,
          start_frame: first!.number,
          frame_step: 1,
          rate: fps,
          frame_zero_padding: digits.length,
          missing_frame_policy: 'error',
        },
      },
    };
  });
  const track = {
    OTIO_SCHEMA: 'Track.1',
    name: 'Pictures',
    kind: 'Video',
    source_range: null,
    enabled: true,
    effects: [],
    markers: [],
    metadata: {},
    children,
  };
  const stack = {
    OTIO_SCHEMA: 'Stack.1',
    name: 'tracks',
    source_range: null,
    enabled: true,
    effects: [],
    markers: [],
    metadata: {},
    children: [track],
  };
  return `${JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: set.name, global_start_time: null, metadata: {}, tracks: stack }, null, 2)}\n`;
}

/** The moving shots one after another as an edit decision list in the form of CMX 3600 (from memory); record time begins at 0. */
export function decisionList(set: SetFile, frames: Frame[]): string {
  const rate = parseRate(set.sheet.rate);
  let at = 0;
  const events = movies(set, frames).flatMap(({ shot, own }, i) => {
    const times = [0, own.length, at, at + own.length].map((n) => timecode(n, rate)).join(' ');
    at += own.length;
    return [`${String(i + 1).padStart(3, '0')}  AX       V     C        ${times}`, `* FROM CLIP NAME: ${fileWord(shotName(shot))}`, ''];
  });
  return [
    `TITLE: ${set.name.replace(/[^\x20-\x7e]/g, '_').slice(0, 70)}`,
    `FCM: ${hasDropFrame(rate) ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    '',
    ...events,
  ].join('\r\n');
}

/** Lists by the ending of their file. */
export const PLAN_LISTS = {
  'shots.csv': { label: 'Shot list as CSV', make: shotListCsv },
  'suns.csv': { label: 'Suns of the frames as CSV', make: (_: SetFile, frames: Frame[]) => sunTableCsv(frames) },
  otio: { label: 'Moving shots as OpenTimelineIO', make: timelineOtio },
  edl: { label: 'Moving shots as an edit list', make: decisionList },
} as const;
export type PlanList = keyof typeof PLAN_LISTS;
