/** A plan as lists for other programs: shots as CSV, suns as CSV, cuts as OpenTimelineIO and as an edit decision list, cameras as USD. */
import { planJson } from './planJson.js';
import { groupByShotOutput, type Frame, shotIdOfOutput } from '../frame/frame.js';
import { outputName, type SetFile } from '../plan/set.js';
import { effectiveSettings } from '../plan/formatSheet.js';
import { kindOf, type Shot, viewIds } from '../shots/kinds.js';
import { shadowLength } from '../stage/sun.js';
import { csv } from '../base/csv.js';
import { frameTime, parseRate, rateName } from '../units/rate.js';
import { timecode } from '../units/timecode.js';
import { readEdl, writeEdl } from './edl.js';
import { readOtio, writeOtio } from './otio.js';
import { planUsda } from './usda.js';
import type { Reel } from '../plan/reel.js';
import { type Clip, clipsOf, shotReel, reelOf } from './timeline.js';

interface Run {
  shot: Shot;
  name: string;
  own: Frame[];
}

/** The frames of each shot, and of each of its further sizes, in the set's order. */
function runsOf(set: SetFile, frames: Frame[]): Run[] {
  return [...groupByShotOutput(frames)].map(([run, own]) => {
    const shot = set.shots.find((s) => s.id === shotIdOfOutput(run))!;
    return { shot, own, name: outputName(set, run) };
  });
}

/** A row a shot. */
export function shotListCsv(set: SetFile, frames: Frame[]): string {
  const head = ['number', 'shot', 'kind', 'views', 'frames', 'first', 'last', 'timecode', 'seconds', 'width', 'height', 'rate', 'first file', 'id'];
  const rows = runsOf(set, frames).map(({ shot, name, own }, i) => {
    const { moving } = kindOf(shot);
    const exact = effectiveSettings(set.sheet, shot).rate;
    const rate = parseRate(exact);
    return [
      i + 1,
      name,
      kindOf(shot).label,
      viewIds(shot).join(' '),
      own.length,
      own[0]!.number,
      own.at(-1)!.number,
      moving ? timecode(own.length, rate) : '',
      moving ? frameTime(own.length, rate) : null,
      own[0]!.size.width,
      own[0]!.size.height,
      rateName(exact),
      own[0]!.name,
      own[0]!.shot,
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

/** A reel as clips; all moving shots one after another where none is named. Throws where there is nothing to cut. */
function editList(set: SetFile, frames: Frame[], reel?: Reel): { title: string; clips: Clip[]; runs: Map<string, Frame[]> } {
  const runs = groupByShotOutput(frames);
  const whole = reel ?? shotReel(set, runs);
  return { title: reel?.name ?? set.name, clips: whole ? clipsOf(whole, set, runs) : [], runs };
}

/** A reel, or the moving shots one after another, as OpenTimelineIO. */
export function timelineOtio(set: SetFile, frames: Frame[], reel?: Reel): string {
  const { title, clips, runs } = editList(set, frames, reel);
  return writeOtio(title, clips, set, runs);
}

/** The same as an edit decision list. */
export function decisionList(set: SetFile, frames: Frame[], reel?: Reel): string {
  const { title, clips } = editList(set, frames, reel);
  return writeEdl(title, clips, set);
}

/** A reel out of a cut that another program wrote: OpenTimelineIO or an edit list. Throws a sentence that says what is wrong with it. */
export function readCut(text: string, set: SetFile, frames: Frame[]): Reel {
  const { title, clips } = /^\s*\{/.test(text) ? readOtio(text, set) : readEdl(text, set);
  return reelOf(title, clips, set, groupByShotOutput(frames));
}

interface ListKind {
  label: string;
  /** Media type, of IANA's registry where it has one. */
  type: string;
  make: (set: SetFile, frames: Frame[]) => string;
}

/** What a plan is written as, by the ending of the file. */
export const PLAN_LISTS = {
  'shots.csv': { label: 'Shot list (CSV)', type: 'text/csv', make: shotListCsv },
  'suns.csv': { label: 'Sun table (CSV)', type: 'text/csv', make: (_, frames) => sunTableCsv(frames) },
  otio: { label: 'Timeline (OpenTimelineIO)', type: 'application/json', make: (set, frames) => timelineOtio(set, frames) },
  'plan.json': { label: 'Plan frames (JSON)', type: 'application/json', make: (_, frames) => planJson(frames) },
  edl: { label: 'Edit decision list', type: 'text/plain', make: (set, frames) => decisionList(set, frames) },
  usda: { label: 'Cameras (USD)', type: 'model/vnd.usda', make: planUsda },
} as const satisfies Record<string, ListKind>;
/** A key of {@link PLAN_LISTS}. */
export type PlanList = keyof typeof PLAN_LISTS;
