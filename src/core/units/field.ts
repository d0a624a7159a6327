/**
 * What may be written into a number field: arithmetic with + - * / and brackets, and numbers with
 * units ("1920*2", "1/3", "90 s", "6 ft 2 in"). The result is in the field's own unit.
 */
import { METRES } from './length.js';

/** What a field's number measures; decides which units it reads. */
export type Quantity = 'number' | 'length' | 'time' | 'angle' | 'focal';

/** Factor of each unit to the field's own: metres, seconds, degrees, millimetres. */
const UNITS: Record<Quantity, Record<string, number>> = {
  number: { px: 1, '%': 1 },
  length: { ...METRES, '"': METRES.in, "'": METRES.ft },
  time: { ms: 0.001, s: 1, min: 60, h: 3600 },
  angle: { '°': 1, deg: 1, turn: 360, rad: 180 / Math.PI },
  focal: { mm: 1, cm: 10 },
};

const TOKEN = /\s*(?:(\d+(?:[.,]\d+)?(?:e[+-]?\d+)?|[.,]\d+)|([a-z°"'%]+)|([-+*/()×·]))/iy;

type Token = { number: number } | { unit: string } | { sign: string };

function tokens(text: string): Token[] {
  const list: Token[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.trimEnd().length) {
    const at = TOKEN.lastIndex;
    const m = TOKEN.exec(text);
    if (!m) throw new Error(`"${text.slice(at).trim()}" is not understood here.`);
    if (m[1] !== undefined) list.push({ number: Number(m[1].replace(',', '.')) });
    else if (m[2] !== undefined) list.push({ unit: m[2].toLowerCase() });
    else list.push({ sign: m[3]!.replace('×', '*').replace('·', '*') });
  }
  return list;
}

/**
 * The value of what was written. Throws an Error that says what is wrong; never returns NaN.
 * Nothing is evaluated but arithmetic.
 */
export function parseField(text: string, quantity: Quantity = 'number'): number {
  const list = tokens(text);
  const units = UNITS[quantity];
  let i = 0;
  const sign = (of: string): string | undefined => {
    const t = list[i];
    return t && 'sign' in t && of.includes(t.sign) ? t.sign : undefined;
  };
  const atom = (): number => {
    const t = list[i];
    if (!t) throw new Error(text.trim() ? 'The expression ends early; a number is missing at the end.' : 'Write a number.');
    i++;
    if ('sign' in t) {
      if (t.sign === '-') return -atom();
      if (t.sign === '+') return atom();
      if (t.sign === '(') {
        const v = sum();
        if (!sign(')')) throw new Error('A bracket is not closed.');
        i++;
        return v;
      }
      throw new Error(`A number is missing before "${t.sign}".`);
    }
    if ('unit' in t) throw new Error(`A number is missing before "${t.unit}".`);
    return unitAfter(t.number);
  };
  const unitAfter = (value: number): number => {
    const t = list[i];
    if (!t || !('unit' in t)) return value;
    const factor = units[t.unit];
    if (factor === undefined) throw new Error(`"${t.unit}" is not a unit here; use ${Object.keys(units).join(', ')}.`);
    i++;
    return value * factor;
  };
  const product = (): number => {
    let v = atom();
    for (;;) {
      const s = sign('*/');
      const t = list[i];
      if (s) {
        i++;
        const w = atom();
        if (s === '/' && w === 0) throw new Error('This divides by zero.');
        v = s === '*' ? v * w : v / w;
      } else if (t && 'number' in t && i > 0 && 'unit' in list[i - 1]!) {
        // Feet and inches: 6 ft 2 in.
        v += Math.sign(v || 1) * atom();
      } else return v;
    }
  };
  const sum = (): number => {
    let v = product();
    for (let s = sign('+-'); s; s = sign('+-')) {
      i++;
      v = s === '+' ? v + product() : v - product();
    }
    return v;
  };
  const value = sum();
  if (i < list.length) throw new Error('There is more here than one number.');
  if (!Number.isFinite(value)) throw new Error('This is too large.');
  return value;
}

/** A number as a field shows it: at most so many decimals, no trailing zeros. */
export function formatNumber(value: number, decimals = 3): string {
  const text = value.toFixed(decimals);
  return text.includes('.') ? text.replace(/\.?0+$/, '').replace(/^-0$/, '0') : text;
}
