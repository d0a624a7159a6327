/**
 * The text of a drawing, put so that the library takes all of it and comes to an end: it reads on for ever where a code is no number, in
 * a table that holds what is none of its entries, and behind a polyline that does not end.
 */
import { DamageError } from '../format.js';

/** Tables that are read, by the names of their entries. */
const TABLES = ['LAYER', 'LTYPE', 'VPORT'];

/** A code and its value. */
type Group = [code: string, value: string];

/** Sorts what is of a face: the library wants its corners in order, and writers put them in any. */
function sortedFace(groups: Group[]): Group[] {
  const isCorner = ([code]: Group): boolean => /^\s*[123][0-3]\s*$/.test(code);
  // By corner, then by axis: 10, 20, 30, 11, 21 …
  const rank = ([code]: Group): number => (Number(code) % 10) * 10 + Math.floor(Number(code) / 10);
  return [...groups.filter((g) => !isCorner(g)), ...groups.filter(isCorner).sort((a, b) => rank(a) - rank(b))];
}

/** What is of a vertex of a flat polyline: place, widths and bulge. */
const OF_VERTEX = [10, 20, 30, 40, 41, 42];

/** Puts the vertices last, as many as there are: the library loses some where anything else is between them. */
function sortedPolyline(groups: Group[]): Group[] {
  const isOfVertex = ([code]: Group): boolean => OF_VERTEX.includes(Number(code));
  const vertices = groups.filter(isOfVertex);
  const starts = vertices.flatMap(([code], i) => (Number(code) === 10 ? [i] : []));
  if (starts.some((i) => Number(vertices[i + 1]?.[0]) !== 20)) throw new DamageError('a vertex of a polyline has no y');
  const others = groups.filter((g) => !isOfVertex(g) && Number(g[0]) !== 90);
  // One without vertices draws nothing.
  return starts.length === 0 ? others : [['90', String(starts.length)], ...others, ...vertices];
}

/** Entities and entries as lists of groups, each with the one that begins it. Codes and values take a line each, by turns. */
function recordsOf(text: string): Group[][] {
  const lines = text.split(/\r\n|\r|\n/);
  const records: Group[][] = [];
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const group: Group = [lines[i]!, lines[i + 1]!.trim()];
    if (!/^\s*\d+\s*$/.test(group[0])) throw new DamageError(`line ${i + 1} should be a number and is not`);
    if (Number(group[0]) === 0 || records.length === 0) records.push([group]);
    else records.at(-1)!.push(group);
    if (Number(group[0]) === 0 && group[1] === 'EOF') break;
  }
  return records;
}

/**
 * A drawing's text with the corners of its faces and polylines in order, and an end to each polyline.
 * @throws DamageError where a code, a table or a polyline is not whole.
 */
export function tidied(text: string): string {
  const records = recordsOf(text);
  const out: string[] = [];
  let table: string | null = null;
  let isOpen = false;
  for (const record of records) {
    const [, kind] = record[0]!;
    if (table !== null && kind !== table && kind !== 'ENDTAB')
      throw new DamageError(`its table of ${table} holds ${kind || 'nothing'}, or does not end`);
    if (kind === 'TABLE') {
      const name = record.find(([code]) => Number(code) === 2)?.[1] ?? '';
      if (TABLES.includes(name)) table = name;
    } else if (kind === 'ENDTAB') table = null;
    if (isOpen && kind !== 'VERTEX') {
      if (kind !== 'SEQEND') out.push('0', 'SEQEND');
      isOpen = false;
    }
    isOpen ||= kind === 'POLYLINE';
    const sorted = kind === '3DFACE' ? sortedFace : kind === 'LWPOLYLINE' ? sortedPolyline : (groups: Group[]): Group[] => groups;
    for (const group of [record[0]!, ...sorted(record.slice(1))]) out.push(...group);
  }
  return `${out.join('\n')}\n`;
}
