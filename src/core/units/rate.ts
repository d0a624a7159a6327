/**
 * Frame rates as exact rationals. 23.976, 29.97 and 59.94 are names for 24000/1001, 30000/1001 and
 * 60000/1001 (SMPTE ST 12-1), and are kept as such.
 */
export interface Rate {
  numerator: number;
  denominator: number;
}

const NAMED: Record<string, string> = { '23.976': '24000/1001', '29.97': '30000/1001', '59.94': '60000/1001' };

/** The rates that are offered by name, slowest first. */
export const COMMON_RATES = ['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '60'];

/** Reads "24", "25", "30000/1001" or "29.97". Throws with the remedy where the text is none. */
export function parseRate(text: string): Rate {
  const named = NAMED[text.trim()] ?? text.trim();
  const m = /^(\d{1,6})(?:\/(\d{1,5}))?$/.exec(named);
  const numerator = Number(m?.[1]);
  const denominator = Number(m?.[2] ?? 1);
  const value = numerator / denominator;
  if (!m || !(value >= 1 && value <= 240)) {
    throw new Error(`"${text}" is not a frame rate; write whole frames per second or a fraction, from 1 to 240, for example 25 or 30000/1001.`);
  }
  return { numerator, denominator };
}

/**
 * A rate as people write it, as it is kept: a common one by its name (29.97), whole, a fraction, or a decimal of up to
 * three places, which becomes the exact fraction. Throws as parseRate does.
 */
export function readRate(typed: string): string {
  const text = typed.trim();
  const common = COMMON_RATES.find((r) => rateName(r) === text);
  const decimal = /^(\d{1,3})\.(\d{1,3})$/.exec(text);
  let kept = common ?? text;
  if (!common && decimal) {
    let [numerator, denominator] = [Number(decimal[1]! + decimal[2]!.padEnd(3, '0')), 1000];
    for (const prime of [2, 2, 2, 5, 5, 5])
      if (numerator % prime === 0 && denominator % prime === 0) [numerator, denominator] = [numerator / prime, denominator / prime];
    kept = denominator === 1 ? String(numerator) : `${numerator}/${denominator}`;
  }
  parseRate(kept);
  return kept;
}

/** The rate at which every n-th frame alone shows a movie at its pace; no slower than one a second. */
export function everyNth(text: string, n: number): string {
  const { numerator, denominator } = parseRate(text);
  if (n === 1) return text;
  return numerator < denominator * n ? '1' : `${numerator}/${denominator * n}`;
}

/** Frames a second as a number; for display and comparison, not for times of frames. */
export function rateValue(rate: Rate): number {
  return rate.numerator / rate.denominator;
}

/** The rate as people say it: 24, 29.97. */
export function rateName(text: string): string {
  const rate = parseRate(text);
  return String(Math.round(rateValue(rate) * 1000) / 1000);
}

/** Movie time of frame i in seconds: i / rate, from the exact rational. */
export function frameTime(i: number, rate: Rate): number {
  return (i * rate.denominator) / rate.numerator;
}

/** Frames of a clip that lasts so many seconds. */
export function framesOfDuration(seconds: number, rate: Rate): number {
  return Math.round((seconds * rate.numerator) / rate.denominator);
}
