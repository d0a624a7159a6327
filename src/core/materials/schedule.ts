/** The material schedule: which parts have which material, and its area. */
import type { ResolvedPart } from './assignments.js';

/** A material and how much there is of it. */
export interface ScheduleRow {
  material: string;
  /** Parts in the picture that have it. */
  parts: number;
  /** Square metres, both sides of sheets counted. */
  area: number;
}

interface MeasuredPart {
  materials: string[];
  areas?: number[];
}

/** Rows by material name; of what comes out in pictures alone. */
export function scheduleOf(parts: readonly MeasuredPart[], resolved: readonly ResolvedPart[]): ScheduleRow[] {
  const rows = new Map<string, ScheduleRow>();
  parts.forEach(({ materials, areas }, i) => {
    const effective = resolved[i]!;
    if (!effective.renderVisible) return;
    const seen = new Set<string>();
    materials.forEach((own, k) => {
      const material = effective.materials[k] ?? own;
      const row = rows.get(material) ?? { material, parts: 0, area: 0 };
      if (!seen.has(material)) row.parts++;
      seen.add(material);
      row.area += areas?.[k] ?? 0;
      rows.set(material, row);
    });
  });
  return [...rows.values()].sort((a, b) => a.material.localeCompare(b.material, 'en'));
}

/** RFC 4180: fields with commas, quotes or line ends stand in quotes; lines end in CRLF. */
export function csv(rows: readonly (readonly (string | number)[])[]): string {
  const field = (v: string | number): string => (/[",\r\n]/.test(String(v)) ? `"${String(v).replaceAll('"', '""')}"` : String(v));
  return rows.map((r) => r.map(field).join(',')).join('\r\n') + '\r\n';
}

/** The schedule as CSV; areas in square metres. */
export function scheduleCsv(rows: readonly ScheduleRow[]): string {
  return csv([['material', 'parts', 'area m2'], ...rows.map((r) => [r.material, r.parts, Number(r.area.toFixed(4))])]);
}
