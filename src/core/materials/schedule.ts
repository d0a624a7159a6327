/** The finish schedule: who wears what, and how much of it. */
import { type ResolvedPart } from './assignments.js';

export interface ScheduleRow {
  finish: string;
  /** Parts in the picture that wear it. */
  parts: number;
  /** Square metres, both sides of sheets counted. */
  area: number;
}

interface MeasuredPart {
  finishes: string[];
  areas?: number[];
}

/** Rows by finish name; of what comes out in pictures alone. */
export function scheduleOf(parts: readonly MeasuredPart[], dressed: readonly ResolvedPart[]): ScheduleRow[] {
  const rows = new Map<string, ScheduleRow>();
  parts.forEach(({ finishes, areas }, i) => {
    const worn = dressed[i]!;
    if (!worn.inPicture) return;
    const seen = new Set<string>();
    finishes.forEach((own, k) => {
      const finish = worn.finishes[k] ?? own;
      const row = rows.get(finish) ?? { finish, parts: 0, area: 0 };
      if (!seen.has(finish)) row.parts++;
      seen.add(finish);
      row.area += areas?.[k] ?? 0;
      rows.set(finish, row);
    });
  });
  return [...rows.values()].sort((a, b) => a.finish.localeCompare(b.finish, 'en'));
}

/** RFC 4180: fields with commas, quotes or line ends stand in quotes; lines end in CRLF. */
export function csv(rows: readonly (readonly (string | number)[])[]): string {
  const field = (v: string | number): string => (/[",\r\n]/.test(String(v)) ? `"${String(v).replaceAll('"', '""')}"` : String(v));
  return rows.map((r) => r.map(field).join(',')).join('\r\n') + '\r\n';
}

export function scheduleCsv(rows: readonly ScheduleRow[]): string {
  return csv([['finish', 'parts', 'area m2'], ...rows.map((r) => [r.finish, r.parts, Number(r.area.toFixed(4))])]);
}
