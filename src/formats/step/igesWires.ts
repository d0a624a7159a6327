/**
 * Curves that stand for themselves in an IGES file (US PRO, Initial Graphics Exchange Specification 5.3):
 * lines, arcs, chains of points, splines. Curves that belong to a surface are drawn as its edges.
 */
import type { Vec3 } from '../../core/math/bounds.js';
import { spanCount } from '../part21/curves.js';
import { pointsOn } from '../part21/nurbs.js';
import type { Wires } from './wire.js';

/** Metres in the units of the global section, field 14. */
const UNITS: Record<number, number> = {
  1: 0.0254,
  2: 1e-3,
  4: 0.3048,
  5: 1609.344,
  6: 1,
  7: 1e3,
  8: 2.54e-5,
  9: 1e-6,
  10: 1e-2,
  11: 2.54e-8,
};

interface Entry {
  type: number;
  form: number;
  matrix: number;
  /** Drawn for itself: not blanked, and part of nothing. */
  free: boolean;
  fields: string[];
}

/** Number of a field; IGES writes exponents with D as well. */
const number = (field: string | undefined): number => Number((field ?? '').trim().replace(/[dD]/, 'E'));

/** Fields of a section's text; strings come as 5Hwords and may hold anything. */
function fieldsOf(text: string, [between, end]: [string, string]): string[] {
  const out: string[] = [];
  for (let at = 0; at < text.length;) {
    const held = /^\s*(\d+)H/.exec(text.slice(at, at + 16));
    if (held) {
      const from = at + held[0].length;
      const to = from + Number(held[1]);
      out.push(text.slice(from, to));
      at = to + 1;
      if (text[to] === end) break;
      continue;
    }
    let to = at;
    while (to < text.length && text[to] !== between && text[to] !== end) to++;
    out.push(text.slice(at, to));
    if (text[to] === end) break;
    at = to + 1;
  }
  return out;
}

function entriesOf(text: string): { entries: Map<number, Entry>; metre: number } {
  const sections: Record<string, string[]> = { G: [], D: [], P: [] };
  for (const line of text.split(/\r?\n/)) sections[line[72] ?? '']?.push(line);
  const globals = sections.G!.map((l) => l.slice(0, 72)).join('');
  // The first two fields say which signs part and end; a comma and a semicolon, as a rule.
  const signs: [string, string] = [/^1H(.)/.exec(globals)?.[1] ?? ',', /^1H..1H(.)/.exec(globals)?.[1] ?? ';'];
  const metre = UNITS[number(fieldsOf(globals, [signs[0], signs[1]])[13])] ?? 1e-3;
  const entries = new Map<number, Entry>();
  const d = sections.D!;
  for (let i = 0; i + 1 < d.length; i += 2) {
    const field = (line: string, n: number): number => Number(line.slice((n - 1) * 8, n * 8));
    const [first, count] = [field(d[i]!, 2), field(d[i + 1]!, 4)];
    const rows = sections.P!.slice(first - 1, first - 1 + Math.min(count, 1e6));
    const status = d[i]!.slice(64, 72).replaceAll(' ', '0');
    entries.set(i + 1, {
      type: field(d[i]!, 1),
      form: field(d[i + 1]!, 5),
      matrix: field(d[i]!, 7),
      free: status.slice(0, 2) === '00' && status.slice(2, 4) === '00',
      fields: fieldsOf(rows.map((l) => l.slice(0, 64)).join(''), signs),
    });
  }
  return { entries, metre };
}

/** Chains of an entity in its own space; null where its kind is not read. */
function chainOf(entries: Map<number, Entry>, { type, form, fields }: Entry, depth: number): Vec3[][] | null {
  const v = fields.map(number);
  const point = (i: number): Vec3 => [v[i]!, v[i + 1]!, v[i + 2]!];
  switch (type) {
    case 100: {
      // Height, middle, start and end; anticlockwise.
      const [z, x, y] = [v[1]!, v[2]!, v[3]!];
      const radius = Math.hypot(v[4]! - x, v[5]! - y);
      const from = Math.atan2(v[5]! - y, v[4]! - x);
      let turn = Math.atan2(v[7]! - y, v[6]! - x) - from;
      if (turn <= 1e-9) turn += 2 * Math.PI;
      const pieces = spanCount(turn);
      return [
        Array.from({ length: pieces + 1 }, (_, i) => {
          const t = from + (turn * i) / pieces;
          return [x + radius * Math.cos(t), y + radius * Math.sin(t), z] as Vec3;
        }),
      ];
    }
    case 102: {
      const members = v.slice(2, 2 + v[1]!).map((id) => entries.get(id));
      return depth > 8 ? [] : members.flatMap((m) => (m ? (placed(entries, m, depth + 1) ?? []) : []));
    }
    case 106: {
      // Chains of points: pairs at one height, triples, or triples with a direction each.
      const step = [2, 3, 6][v[1]! - 1];
      if (!step || form > 63) return null;
      const first = step === 2 ? 4 : 3;
      const chain = Array.from({ length: Math.min(v[2]!, v.length) }, (_, i): Vec3 => {
        const at = first + i * step;
        return [v[at]!, v[at + 1]!, step === 2 ? v[3]! : v[at + 2]!];
      });
      // Forms 1 to 3 are points alone.
      if (form < 11) return [];
      return [form === 63 && chain.length > 0 ? [...chain, chain[0]!] : chain];
    }
    case 110:
      return [[point(1), point(4)]];
    case 126: {
      const [upper, degree] = [v[1]!, v[2]!];
      if (!(upper >= degree && upper < v.length)) return [];
      const knots = v.slice(7, 7 + upper + degree + 2);
      const weights = v.slice(7 + upper + degree + 2, 7 + 2 * upper + degree + 3);
      const from = 7 + 2 * upper + degree + 3;
      const points = Array.from({ length: upper + 1 }, (_, i) => point(from + i * 3));
      const ends = from + 3 * (upper + 1);
      return [pointsOn({ degree, points, knots, weights }, v[ends], v[ends + 1])];
    }
    default:
      return null;
  }
}

/** Chains of an entity where its matrix (type 124: three rows of turn and shift) puts them. */
function placed(entries: Map<number, Entry>, entry: Entry, depth = 0): Vec3[][] | null {
  const chains = chainOf(entries, entry, depth);
  const m = entries.get(entry.matrix)?.fields.slice(1, 13).map(number);
  if (!chains || !m || m.length < 12) return chains;
  return chains.map((chain) => chain.map((p) => [0, 4, 8].map((r) => m[r]! * p[0] + m[r + 1]! * p[1] + m[r + 2]! * p[2] + m[r + 3]!) as Vec3));
}

/** The kinds of entity that are curves. */
const CURVES = [100, 102, 104, 106, 110, 112, 126, 130];

/** Lines in metres with the file's axes. Throws nothing: what cannot be read is counted. */
export function igesWires(text: string): Wires {
  const { entries, metre } = entriesOf(text);
  const points: number[] = [];
  let leftOut = 0;
  for (const entry of entries.values()) {
    if (!entry.free || !CURVES.includes(entry.type)) continue;
    const chains = placed(entries, entry);
    if (!chains) leftOut++;
    for (const chain of chains ?? []) {
      if (!chain.flat().every(Number.isFinite)) leftOut++;
      else chain.slice(1).forEach((p, i) => points.push(...[...chain[i]!, ...p].map((c) => c * metre)));
    }
  }
  return { lists: points.length > 0 ? [points] : [], leftOut };
}
