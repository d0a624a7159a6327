/** A walk's path as a table: stations read from CSV of other programs, and written for them. */
import type { Vec3 } from '../../math/bounds.js';
import { csv, parseCsv } from '../../base/csv.js';

/** A station as the table writes it; metres and seconds. */
export interface PathRow {
  eye: Vec3;
  /** Seconds of the leg that leads here. */
  seconds?: number;
  hold?: number;
}

/** Stations that a path may have. */
export const MAX_STATIONS = 200;
const COLUMNS = ['x', 'y', 'z', 'seconds', 'hold'] as const;

/**
 * Stations out of a table with a head of x, y, z and, where given, seconds and hold; metres, y up. Commas, semicolons
 * or tabs between; of a head-less table the first columns count in that order. Throws a sentence that names the line.
 */
export function readPath(text: string): PathRow[] {
  const lines = parseCsv(text);
  if (lines.length === 0) throw new Error('The file is empty; a path has one line per station: x, y, z in metres.');
  const first = lines[0]!.map((c) => c.toLowerCase());
  const headed = first.some((c) => (COLUMNS as readonly string[]).includes(c));
  const at = (name: (typeof COLUMNS)[number]): number => (headed ? first.indexOf(name) : COLUMNS.indexOf(name));
  if (headed && [0, 1, 2].some((i) => at(COLUMNS[i]!) < 0)) throw new Error('The header of the table has no x, y and z.');
  const rows = lines.slice(headed ? 1 : 0).map((row, i): PathRow => {
    const number = (name: (typeof COLUMNS)[number]): number | undefined => {
      const word = row[at(name)];
      if (word === undefined || word === '') return undefined;
      // Where a comma stands within a cell it is a decimal one.
      const value = Number(word.replace(',', '.'));
      if (!Number.isFinite(value)) throw new Error(`Line ${i + (headed ? 2 : 1)}: "${word}" is no number.`);
      return value;
    };
    const eye = [number('x'), number('y'), number('z')];
    if (eye.some((c) => c === undefined)) throw new Error(`Line ${i + (headed ? 2 : 1)} has no x, y and z.`);
    const [seconds, hold] = [number('seconds'), number('hold')];
    return { eye: eye as Vec3, ...(i > 0 && seconds && { seconds }), ...(hold && { hold }) };
  });
  if (rows.length < 2) throw new Error('A path needs at least two stations.');
  if (rows.length > MAX_STATIONS) throw new Error(`The file has ${rows.length} stations; ${MAX_STATIONS} is the most. Export fewer.`);
  return rows;
}

/** Stations of a path as CSV. */
export function pathCsv(rows: readonly PathRow[]): string {
  return csv(
    [...COLUMNS],
    rows.map((r) => [...r.eye, r.seconds ?? null, r.hold ?? null]),
  );
}
