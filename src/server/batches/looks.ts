/** Names of the grades that renders were made by: kept with a batch, whatever becomes of the presets. */
import { hashOf } from '../../core/base/hash.js';
import { parsePreset, type PresetKind } from '../../core/edit/presets.js';
import { viewGradesOf } from '../../core/plan/grading.js';
import type { SetFile } from '../../core/plan/set.js';
import { type Shot, viewIds } from '../../core/shots/kinds.js';
import { PresetRow } from '../db/presetModels.js';

/** Where the name of a grade of a view alone stands among those of shots or runs. */
const viewKey = (shot: string, view: string): string => `${shot} ${view}`;

/** Name of the grade of a frame, out of those of its batch; undefined where it has none. */
export const lookOf = (looks: Record<string, string> | undefined, shot: string, view: string): string | undefined =>
  (looks?.[viewKey(shot, view)] ?? looks?.[shot]) || undefined;

/** The same names by the runs of the shots. */
export function looksOfRuns(looks: Record<string, string>, runs: readonly { run: string; shot: Shot }[]): Record<string, string> {
  const named = runs.flatMap(({ run, shot }) => [
    [run, looks[shot.id]] as const,
    ...viewIds(shot).map((view) => [viewKey(run, view), looks[viewKey(shot.id, view)]] as const),
  ]);
  return Object.fromEntries(named.filter((pair): pair is [string, string] => pair[1] !== undefined));
}

/** Names under which the grades of a set's shots, and of views alone, are kept as presets; empty where a view's has none. */
export async function looksOf(set: Pick<SetFile, 'grade' | 'shots'>): Promise<Record<string, string>> {
  const rows = await PresetRow.findAll({ where: { kind: 'grade' satisfies PresetKind }, order: ['name'], raw: true });
  const content = (grade: unknown): string => hashOf(parsePreset('grade', grade));
  const names = new Map(rows.map((r) => [content(JSON.parse(r.body)), r.name]));
  const all = set.shots.flatMap((s) => [
    [s.id, names.get(content(s.grade ?? set.grade))] as const,
    ...viewGradesOf(s).map(([view, grade]) => [viewKey(s.id, view), names.get(content(grade)) ?? ''] as const),
  ]);
  return Object.fromEntries(all.filter((pair): pair is [string, string] => pair[1] !== undefined));
}
