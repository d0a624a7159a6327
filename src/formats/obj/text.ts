/** What writers of OBJ do that the loader does not know, put as it knows it. */

/** A line that goes on behind a backslash. */
const CONTINUED = /\\\r?\n/;
/** A number whose exponent has its sign before its letter. */
const SIGN_FIRST = /^v[nt]?\s.*\d[+-]e\d/im;
const NAME = /^[og]\s+(.*)$/;

/** Indices counted backwards, counted from the first. */
const absolute = (line: string, vertices: number): string => line.replace(/(?<=\s)-\d+/g, (n) => String(vertices + 1 + Number(n)));

/**
 * An object that holds faces and lines would lose its faces: its lines become an object of their own, at the end.
 * @param lines of the file.
 */
function separateLines(lines: readonly string[]): string[] {
  const out: string[] = [];
  const moved = new Map<string, string[]>();
  let name = '';
  let vertices = 0;
  for (const line of lines) {
    if (/^v\s/.test(line)) vertices++;
    name = NAME.exec(line)?.[1]?.trim() ?? name;
    const isLine = /^l\s/.test(line);
    // Nothing takes its place, so that faults are told by the lines of the file.
    out.push(isLine ? '' : line);
    if (!isLine) continue;
    const own = moved.get(name) ?? [];
    if (own.length === 0) moved.set(name, own);
    own.push(absolute(line, vertices));
  }
  for (const [object, own] of moved) out.push(`o ${object ? `${object} lines` : 'Lines'}`, ...own);
  return out;
}

/** Lines that go on behind a backslash joined, exponents such as `3.1+e2` and `3.1-e2` written as numbers, lines apart from faces. */
export function normalizeObj(text: string): string {
  let out = text;
  if (CONTINUED.test(out))
    out = out.replace(/(?:[^\n]*\\\r?\n)+[^\n]*/g, (lines) => {
      const pieces = lines.split(/\\\r?\n/);
      // As many lines as before, so that faults are told by the lines of the file.
      return pieces.join(' ') + '\n'.repeat(pieces.length - 1);
    });
  if (SIGN_FIRST.test(out)) out = out.replace(/^v[nt]?\s.*$/gm, (line) => line.replace(/(\d)([+-])e(\d)/gi, '$1e$2$3'));
  if (/^l\s/m.test(out) && /^f\s/m.test(out)) out = separateLines(out.split(/\r?\n/)).join('\n');
  return out;
}

/** A picture of an MTL: its file, how often it repeats and where it begins, and how strong its relief is. */
export interface MtlMap {
  file: string;
  scale: [number, number];
  offset: [number, number];
  bump: number;
}

/** How many values follow an option, at most; numbers are taken as long as there are any. */
const OPTIONS: Record<string, number> = { s: 3, o: 3, t: 3, mm: 2, bm: 1 };

/** What follows `map_Kd` and its like: options first, then a name that may have spaces in it. */
export function readMtlMap(value: string): MtlMap {
  const words = value.trim().split(/\s+/);
  const values: Record<string, number[]> = {};
  let at = 0;
  while (at < words.length - 1 && /^-[a-z]+$/i.test(words[at]!)) {
    const option = words[at]!.slice(1).toLowerCase();
    const numbers: number[] = [];
    at++;
    const most = OPTIONS[option];
    if (most === undefined) at++;
    else while (numbers.length < most && at < words.length - 1 && Number.isFinite(Number(words[at]))) numbers.push(Number(words[at++]));
    values[option] = numbers;
  }
  const [su = 1, sv = su] = values.s ?? [];
  const [ou = 0, ov = 0] = values.o ?? [];
  return { file: words.slice(at).join(' '), scale: [su, sv], offset: [ou, ov], bump: values.bm?.[0] ?? 1 };
}
