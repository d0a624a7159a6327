/** Tables that other programs changed, taken back into a set: the list of shots, and the suns of its studies. */
import type { SetFile } from '../plan/set.js';
import { shotIdOfOutput } from '../frame/frame.js';
import { type Shot, shotName } from '../shots/kinds.js';
import type { SunStudyShot } from '../shots/sunStudy/sunStudy.js';
import { minutesOf } from '../units/localTime.js';
import { parseCsv } from '../base/csv.js';

/** What a table makes of a set. */
export interface TableImport {
  set: SetFile;
  /** What was changed, a line each; none where the table says what the set does. */
  changes: string[];
}

/** Rows under a head by the names of its columns. Throws where a column that is needed is not there. */
function table(text: string, needed: string[]): Record<string, string>[] {
  const [head, ...rows] = parseCsv(text);
  const names = (head ?? []).map((h) => h.toLowerCase());
  const lost = needed.filter((n) => !names.includes(n));
  if (lost.length > 0)
    throw new Error(
      `The table has no column ${lost.map((n) => `"${n}"`).join(' and ')}. Start from the list that this set exports, and keep its head.`,
    );
  return rows.map((row) => Object.fromEntries(names.map((n, i) => [n, row[i] ?? ''])));
}

/**
 * The order and names of shots out of a list as shotListCsv writes it; shots that make frames but stand in no row are switched
 * off, not taken out. What the plan computes (frames, times, sizes) is read over. Throws where a row is of no shot of the set.
 */
export function importShotList(set: SetFile, text: string, made: ReadonlySet<string>): TableImport {
  const rows = table(text, ['shot', 'id']);
  const order: Shot[] = [];
  const changes: string[] = [];
  rows.forEach((row, i) => {
    const id = row.id ? shotIdOfOutput(row.id) : undefined;
    const shot = set.shots.find((s) => s.id === id) ?? set.shots.find((s) => shotName(s) === row.shot);
    if (!shot) throw new Error(`Line ${i + 2}: "${row.shot || row.id}" is no shot of this set. Delete the line, or add the shot first.`);
    // A further size of a shot has a row of its own, which says nothing more.
    if (order.some((s) => s.id === shot.id)) return;
    const name = row.id?.includes('@') ? shotName(shot) : row.shot!.slice(0, 80);
    if (name && name !== shotName(shot)) changes.push(`"${shotName(shot)}" is called "${name}".`);
    const { off, ...on } = shot;
    if (off) changes.push(`"${name}" is switched on.`);
    order.push({ ...on, ...(name && name !== shotName(shot) && { name }) });
  });
  if (order.length === 0) throw new Error('The list has no shots; the set stays as it is.');
  const rest = set.shots.filter((s) => !order.some((o) => o.id === s.id));
  for (const s of rest) if (made.has(s.id) && !s.off) changes.push(`"${shotName(s)}" is not in the list, so it is switched off.`);
  const kept = set.shots.filter((s) => order.some((o) => o.id === s.id)).map((s) => s.id);
  if (order.some((s, i) => s.id !== kept[i])) changes.push('The shots are in the order of the list.');
  return { set: { ...set, shots: [...order, ...rest.map((s) => (made.has(s.id) ? { ...s, off: true } : s))] }, changes };
}

/** A study of these dates and times of day, by steps where they lie on the clock's, else by their number. */
function studyOf(shot: SunStudyShot, dates: string[], times: string[]): SunStudyShot {
  const minutes = times.map(minutesOf);
  const step = minutes.length > 1 ? minutes[1]! - minutes[0]! : 60;
  const even = minutes.every((m, i) => i === 0 || m - minutes[i - 1]! === step);
  if (!even || step < 1)
    throw new Error(
      `The times of "${shotName(shot)}" are not evenly spaced (${times.slice(0, 4).join(', ')} …); a study has one step between times.`,
    );
  const { stepMinutes: _, count: __, path: ___, ...rest } = shot;
  const onClock = step <= 720 && minutes.every((m) => m % step === 0);
  return { ...rest, dates, from: times[0]!, to: times.at(-1)!, ...(onClock ? { stepMinutes: step } : { count: times.length }) };
}

/** Dates and times of the set's sun studies out of a table as sunTableCsv writes it. Throws where a study cannot say what stands there. */
export function importSunTable(set: SetFile, text: string, suns: (shot: string) => { date?: string; time?: string }[]): TableImport {
  const rows = table(text, ['shot', 'date', 'time']);
  const changes: string[] = [];
  let { shots } = set;
  for (const id of new Set(rows.map((r) => shotIdOfOutput(r.shot!)))) {
    const shot = set.shots.find((s) => s.id === id);
    if (!shot) throw new Error(`The table names the shot "${id}", which is not in this set.`);
    if (!('dates' in shot)) continue;
    const own = rows.filter((r) => r.shot === id);
    const now = suns(id).map((s) => `${s.date} ${s.time}`);
    if (own.length === now.length && own.every((r, i) => `${r.date} ${r.time}` === now[i])) continue;
    const dates = [...new Set(own.map((r) => r.date!))].sort();
    const bad = own.findIndex((r) => !/^\d{4}-\d{2}-\d{2}$/.test(r.date!) || !/^\d{2}:\d{2}$/.test(r.time!));
    if (bad >= 0)
      throw new Error(`"${own[bad]!.date} ${own[bad]!.time}" of "${shotName(shot)}" is no date and time; write them as 2026-06-21 and 09:30.`);
    const timesOf = (date: string): string[] =>
      own
        .filter((r) => r.date === date)
        .map((r) => r.time!)
        .sort();
    const times = timesOf(dates[0]!);
    const other = dates.find((d) => timesOf(d).join() !== times.join());
    if (other)
      throw new Error(
        `"${shotName(shot)}" has other times on ${other} than on ${dates[0]}; a study has the same times on each. Make a shot for each date, or use sunrise and sunset.`,
      );
    shots = shots.map((s) => (s.id === id ? studyOf(shot, dates, times) : s));
    changes.push(`"${shotName(shot)}" has ${dates.length === 1 ? dates[0] : `${dates.length} dates`} from ${times[0]} to ${times.at(-1)}.`);
  }
  return { set: { ...set, shots }, changes };
}
