import { LABELS } from './words.js';
/** Times and sizes as people read them. */

/** Seconds as H:MM:SS or M:SS. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.round(seconds));
  const two = (v: number): string => String(v).padStart(2, '0');
  return s >= 3600 ? `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}` : `${Math.floor(s / 60)}:${two(s % 60)}`;
}

/** Hour of the day at which something ends. */
export function formatEta(seconds: number): string {
  return hourOf(new Date(Date.now() + seconds * 1000).toISOString());
}

/** Hour of the day of a moment told in ISO 8601. */
export function hourOf(iso: string): string {
  return new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}

export function metres(bounds: { min: readonly number[]; max: readonly number[] }): string {
  const sides = bounds.min.map((v, i) => bounds.max[i]! - v);
  const decimals = Math.max(...sides) < 10 ? 3 : 2;
  return `${sides.map((s) => s.toFixed(decimals)).join(' × ')} m`;
}

export function fileSize(bytes: number): string {
  return bytes < 1e6 ? LABELS.kb(Math.ceil(bytes / 1e3)) : LABELS.mb((bytes / 1e6).toFixed(1));
}
