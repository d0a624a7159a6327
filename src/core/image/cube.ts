/** `.cube` files: colour tables as text, by the "Cube LUT Specification" 1.0 of 2013 (from memory). */
import { type ColourTable, lookUpColour, tableFrom } from './colourTable.js';
import { MAX_TABLE_SIDE } from './look.js';

/** A colour table as read from a file. */
export interface CubeFile {
  title: string;
  table: ColourTable;
  /** Whether it had more entries than are kept, and was sampled anew. */
  reduced: boolean;
}

/** Entries a side that the specification allows. */
const MOST_SIDE = 256;

const three = (words: readonly string[], line: number): [number, number, number] => {
  const numbers = words.map(Number);
  if (words.length !== 3 || numbers.some((n) => !Number.isFinite(n))) throw new Error(`Line ${line} of the .cube file is no three numbers.`);
  return numbers as [number, number, number];
};

/** Reads a table. Throws an Error that names the line and the remedy. */
export function readCube(text: string): CubeFile {
  let title = '';
  let side = 0;
  let [low, high]: [number[], number[]] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  const values: number[] = [];
  text.split(/\r\n|\n|\r/).forEach((raw, i) => {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) return;
    const [word, ...rest] = line.split(/\s+/) as [string, ...string[]];
    if (word === 'TITLE') title = /^TITLE\s+"(.*)"$/.exec(line)?.[1] ?? '';
    else if (word === 'LUT_1D_SIZE') throw new Error('This .cube file holds a one-dimensional table. Export it as a three-dimensional one.');
    else if (word === 'LUT_3D_SIZE') {
      side = Number(rest[0]);
      if (!Number.isInteger(side) || side < 2 || side > MOST_SIDE) throw new Error(`Line ${i + 1}: a table has 2 to ${MOST_SIDE} entries a side.`);
    } else if (word === 'DOMAIN_MIN') low = three(rest, i + 1);
    else if (word === 'DOMAIN_MAX') high = three(rest, i + 1);
    else if (/^[A-Z_]+$/.test(word)) throw new Error(`Line ${i + 1}: "${word}" is not known in .cube files.`);
    else {
      if (side === 0) throw new Error(`Line ${i + 1}: LUT_3D_SIZE must come before the values.`);
      values.push(...three([word, ...rest], i + 1));
    }
  });
  if (side === 0) throw new Error('This is no .cube file: it has no LUT_3D_SIZE.');
  if (values.length !== side ** 3 * 3) throw new Error(`The table needs ${side ** 3} lines of values and has ${values.length / 3}. Export it again.`);
  if (low.some((l, c) => l >= high[c]!)) throw new Error('DOMAIN_MIN must be below DOMAIN_MAX.');
  const read = { side, values: Float32Array.from(values) };
  const plain = low.every((l) => l === 0) && high.every((h) => h === 1);
  if (side <= MAX_TABLE_SIDE && plain) return { title, table: read, reduced: false };
  const share = (v: number, c: number): number => Math.min(1, Math.max(0, (v - low[c]!) / (high[c]! - low[c]!)));
  const table = tableFrom(Math.min(side, MAX_TABLE_SIDE), (rgb) => lookUpColour(read, share(rgb[0]!, 0), share(rgb[1]!, 1), share(rgb[2]!, 2), rgb));
  return { title, table, reduced: side > MAX_TABLE_SIDE };
}

/** Text of a `.cube` file. @param title without quotation marks. */
export function writeCube(title: string, { side, values }: ColourTable): string {
  const lines = [`TITLE "${title.replace(/["\r\n]/g, '')}"`, `LUT_3D_SIZE ${side}`];
  for (let i = 0; i < values.length; i += 3) lines.push([0, 1, 2].map((c) => values[i + c]!.toFixed(6)).join(' '));
  return `${lines.join('\n')}\n`;
}
