/** Frame selections in a shot's own numbers: `1-20, 35, 40-60 every 5, last`; by what became of them, `failed, missing`; for one shot `spin: 1-4; all`. */
import { groupByShotOutput, shotIdOfOutput } from '../frame/frame.js';

/** Every frame. */
export const ALL_FRAMES = 'all';
/** No frame. */
export const NO_FRAMES = 'none';

/** Words for frames by what became of them in the batches of their set. */
export const SELECTION_WORDS = ['missing', 'failed', 'stale', 'not accepted'] as const;
/** One of {@link SELECTION_WORDS}. */
export type SelectionWord = (typeof SELECTION_WORDS)[number];
/** Numbers of one run that each word stands for. */
export type WordNumbers = Readonly<Record<SelectionWord, readonly number[]>>;

const wordOf = (piece: string): SelectionWord | undefined => SELECTION_WORDS.find((w) => w === piece.toLowerCase().replace(/\s+/g, ' '));

/** Whether a selection asks for frames by what became of them. */
export function hasSelectionWords(text: string): boolean {
  const { others, shots } = parseSelections(text);
  return [others, ...shots.values()].some((own) => own.split(',').some((piece) => wordOf(piece.trim())));
}

/**
 * The numbers chosen out of `numbers` (ascending). What a range or a number names beyond them means what is there: one
 * selection goes for shots of any length. Throws an Error that names the piece that is wrong.
 * @param words what became of the frames, where that is known.
 */
export function selectFrames(text: string, numbers: readonly number[], words?: WordNumbers): number[] {
  const last = numbers.at(-1);
  if (last === undefined) return [];
  const trimmed = text.trim();
  if (trimmed === '' || trimmed === ALL_FRAMES) return [...numbers];
  if (trimmed === NO_FRAMES) return [];
  const known = new Set(numbers);
  const chosen = new Set<number>();
  for (const raw of trimmed.split(',')) {
    const piece = raw.trim();
    const word = wordOf(piece);
    if (word) {
      if (!words) throw new Error(`"${piece}" is known of the batches of a project alone; write frame numbers.`);
      for (const n of words[word]) chosen.add(n);
      continue;
    }
    const m = /^(\d+|first|last)(?:\s*-\s*(\d+|last))?(?:\s+every\s+(\d+))?$/i.exec(piece);
    if (!m) throw new Error(`"${piece}" is not a frame selection; write for example 1-20, 35, 40-60 every 5, last, failed.`);
    const value = (w: string): number => (w.toLowerCase() === 'last' ? last : w.toLowerCase() === 'first' ? numbers[0]! : Number(w));
    const from = value(m[1]!);
    const to = m[2] ? value(m[2]) : m[3] ? last : from;
    const step = m[3] ? Number(m[3]) : 1;
    if (step < 1) throw new Error(`"${piece}": every 0 selects nothing; write every 1 or more.`);
    if (m[2] && /\d/.test(m[2]) && to < from) throw new Error(`"${piece}" runs backwards; write ${to}-${from}.`);
    for (let n = from; n <= Math.min(to, last); n += step) if (known.has(n)) chosen.add(n);
  }
  return numbers.filter((n) => chosen.has(n));
}

/** Frame numbers (ascending) as a selection writes them: `1-4, 7`. */
export function formatRanges(numbers: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const n of numbers) {
    const run = runs.at(-1);
    if (run && n === run[1] + 1) run[1] = n;
    else runs.push([n, n]);
  }
  return runs.map(([from, to]) => (from === to ? String(from) : `${from}-${to}`)).join(', ');
}

/** What a selection says of each shot: of those it names, and of all others. */
export interface ShotSelections {
  others: string;
  /** By the shot's id. */
  shots: ReadonlyMap<string, string>;
}

/** Takes `spin: 1-4; walk: none; first` apart. Throws an Error where a shot is named twice. */
export function parseSelections(text: string): ShotSelections {
  const shots = new Map<string, string>();
  let others: string | null = null;
  for (const piece of text.split(';')) {
    const at = piece.indexOf(':');
    const [name, frames] = at < 0 ? [null, piece.trim()] : [piece.slice(0, at).trim(), piece.slice(at + 1).trim()];
    if (name === null) {
      if (frames === '') continue;
      if (others !== null) throw new Error(`"${frames}" belongs to no shot; write for example spin: ${frames}.`);
      others = frames;
    } else if (shots.has(name)) throw new Error(`The shot "${name}" is in the selection twice.`);
    else shots.set(name, frames);
  }
  return { others: others ?? ALL_FRAMES, shots };
}

/** The text of selections, as short as it can be. */
export function formatSelections({ others, shots }: ShotSelections): string {
  const own = [...shots].filter(([, frames]) => frames !== others).map(([shot, frames]) => `${shot}: ${frames}`);
  return [...own, ...(own.length > 0 && others === ALL_FRAMES ? [] : [others])].join('; ');
}

/**
 * Frames of a plan that a selection chooses, in each shot's own numbers. Throws an Error that names the shot and the piece
 * that is wrong, a shot that is not there, and a selection that chooses nothing at all.
 * @param words what became of the frames of each run, where that is known.
 */
export function selectPlannedFrames<F extends { shot: string; number: number }>(
  frames: readonly F[],
  text: string,
  words?: ReadonlyMap<string, WordNumbers>,
): F[] {
  if (text.trim() === '' || text.trim() === ALL_FRAMES) return [...frames];
  const { others, shots } = parseSelections(text);
  const runs = [...groupByShotOutput(frames)];
  const known = new Set(runs.map(([run]) => shotIdOfOutput(run)));
  const lost = [...shots.keys()].find((shot) => !known.has(shot));
  if (lost !== undefined) throw new Error(`There is no shot "${lost}"; the plan has ${[...known].join(', ') || 'none'}.`);
  const chosen = runs.flatMap(([run, own]) => {
    try {
      const numbers = new Set(
        selectFrames(
          shots.get(shotIdOfOutput(run)) ?? others,
          own.map((f) => f.number),
          words?.get(run),
        ),
      );
      return own.filter((f) => numbers.has(f.number));
    } catch (e) {
      throw new Error(`${run}: ${(e as Error).message}`);
    }
  });
  if (chosen.length === 0 && frames.length > 0) {
    const reach = runs.map(([run, own]) => `${run} has ${own[0]!.number} to ${own.at(-1)!.number}`).join(', ');
    throw new Error(`"${text.trim()}" chooses no frame: ${reach}.`);
  }
  return chosen;
}

/** Frames from one to the next of a row that was chosen evenly; 1 where all are there, or where they are not even. */
export function frameStride(numbers: readonly number[]): number {
  const step = numbers.length > 1 ? numbers[1]! - numbers[0]! : 1;
  return numbers.every((n, i) => i === 0 || n - numbers[i - 1]! === step) ? step : 1;
}
