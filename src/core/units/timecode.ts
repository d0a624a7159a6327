import type { Rate } from './rate.js';

/** Whether a rate has a drop-frame count (SMPTE ST 12-1): 29.97 and 59.94 alone. */
export function hasDropFrame(rate: Rate): boolean {
  return rate.denominator === 1001 && (rate.numerator === 30000 || rate.numerator === 60000);
}

/**
 * Frame number to timecode HH:MM:SS:FF, with `;` before the frames where it is a drop-frame count:
 * two (or four) numbers are left out at each minute but every tenth, so that it follows the clock.
 */
export function timecode(frame: number, rate: Rate): string {
  const base = Math.round(rate.numerator / rate.denominator);
  let n = Math.max(0, Math.round(frame));
  const drop = hasDropFrame(rate);
  if (drop) {
    const dropped = base / 15;
    const perMinute = base * 60 - dropped;
    const perTen = base * 600 - dropped * 9;
    const tens = Math.floor(n / perTen);
    const rest = n % perTen;
    n += dropped * 9 * tens + (rest >= dropped ? dropped * Math.floor((rest - dropped) / perMinute) : 0);
  }
  const two = (v: number): string => String(v).padStart(2, '0');
  const seconds = Math.floor(n / base);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${drop ? ';' : ':'}${two(n % base)}`;
}

/** Frame number of a timecode HH:MM:SS:FF, `;` or `.` before the frames too; null where it is none at this rate. */
export function parseTimecode(text: string, rate: Rate): number | null {
  const m = /^(\d{2}):(\d{2}):(\d{2})[:;.](\d{2,3})$/.exec(text);
  if (!m) return null;
  const base = Math.round(rate.numerator / rate.denominator);
  const [hours, minutes, seconds, frames] = m.slice(1).map(Number) as [number, number, number, number];
  if (minutes > 59 || seconds > 59 || frames >= base) return null;
  const whole = hours * 60 + minutes;
  const counted = (whole * 60 + seconds) * base + frames;
  if (!hasDropFrame(rate)) return counted;
  const dropped = base / 15;
  // Numbers that are left out stand for no frame.
  if (seconds === 0 && frames < dropped && minutes % 10 !== 0) return null;
  return counted - dropped * (whole - Math.floor(whole / 10));
}
