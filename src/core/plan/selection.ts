/** Frame selections in a shot's own numbers: `1-20, 35, 40-60 every 5, last`. */

/**
 * The numbers chosen out of `numbers` (ascending). Throws an Error that names the piece that is wrong.
 */
export function selectFrames(text: string, numbers: readonly number[]): number[] {
  const last = numbers.at(-1);
  if (last === undefined) return [];
  const trimmed = text.trim();
  if (trimmed === '' || trimmed === 'all') return [...numbers];
  const known = new Set(numbers);
  const chosen = new Set<number>();
  for (const raw of trimmed.split(',')) {
    const piece = raw.trim();
    const m = /^(\d+|first|last)(?:\s*-\s*(\d+|last))?(?:\s+every\s+(\d+))?$/i.exec(piece);
    if (!m) throw new Error(`"${piece}" is no frame selection; write for example 1-20, 35, 40-60 every 5, last.`);
    const value = (w: string): number => (w.toLowerCase() === 'last' ? last : w.toLowerCase() === 'first' ? numbers[0]! : Number(w));
    const from = value(m[1]!);
    const to = m[2] ? value(m[2]) : m[3] ? last : from;
    const step = m[3] ? Number(m[3]) : 1;
    if (step < 1) throw new Error(`"${piece}": every 0 chooses nothing; write every 1 or more.`);
    if (to < from) throw new Error(`"${piece}" runs backwards; write ${to}-${from}.`);
    for (const end of [from, to]) {
      if (!known.has(end)) throw new Error(`"${piece}": there is no frame ${end}; the shot has ${numbers[0]} to ${last}.`);
    }
    for (let n = from; n <= to; n += step) if (known.has(n)) chosen.add(n);
  }
  return numbers.filter((n) => chosen.has(n));
}
