/** Frame selections in a shot's own numbers: `1-20, 35, 40-60 every 5, last`. */
import { groupByShotOutput } from '../frame/frame.js';

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
    if (!m) throw new Error(`"${piece}" is not a frame selection; write for example 1-20, 35, 40-60 every 5, last.`);
    const value = (w: string): number => (w.toLowerCase() === 'last' ? last : w.toLowerCase() === 'first' ? numbers[0]! : Number(w));
    const from = value(m[1]!);
    const to = m[2] ? value(m[2]) : m[3] ? last : from;
    const step = m[3] ? Number(m[3]) : 1;
    if (step < 1) throw new Error(`"${piece}": every 0 selects nothing; write every 1 or more.`);
    if (to < from) throw new Error(`"${piece}" runs backwards; write ${to}-${from}.`);
    for (const end of [from, to]) {
      if (!known.has(end)) throw new Error(`"${piece}": there is no frame ${end}; the shot has ${numbers[0]} to ${last}.`);
    }
    for (let n = from; n <= to; n += step) if (known.has(n)) chosen.add(n);
  }
  return numbers.filter((n) => chosen.has(n));
}

/** Frames of a plan that a selection chooses, in each run's own numbers. Throws an Error that names the run and the piece that is wrong. */
export function selectPlannedFrames<F extends { shot: string; number: number }>(frames: readonly F[], text: string): F[] {
  if (text.trim() === '' || text.trim() === 'all') return [...frames];
  return [...groupByShotOutput(frames)].flatMap(([run, own]) => {
    try {
      const numbers = new Set(
        selectFrames(
          text,
          own.map((f) => f.number),
        ),
      );
      return own.filter((f) => numbers.has(f.number));
    } catch (e) {
      throw new Error(`${run}: ${(e as Error).message}`);
    }
  });
}

/** Frames from one to the next of a row that was chosen evenly; 1 where all are there, or where they are not even. */
export function frameStride(numbers: readonly number[]): number {
  const step = numbers.length > 1 ? numbers[1]! - numbers[0]! : 1;
  return numbers.every((n, i) => i === 0 || n - numbers[i - 1]! === step) ? step : 1;
}
