import { LABELS } from './words.js';
/** Times and sizes as people read them. */

/** Seconds as H:MM:SS or M:SS. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.round(seconds));
  const two = (v: number): string => String(v).padStart(2, '0');
  return s >= 3600 ? `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}` : `${Math.floor(s / 60)}:${two(s % 60)}`;
}

/** Seconds that are not exactly known: 40 s, 12 min, 1 h 20 min. */
export function about(seconds: number): string {
  const s = Math.max(0, seconds);
  if (s < 29.5) return `${s < 1 ? s.toFixed(1) : s.toFixed(0)} s`;
  if (s < 90) return `${Math.round(s / 5) * 5} s`;
  const minutes = Math.round(s / 60);
  if (minutes < 60) return `${minutes} min`;
  const rounded = minutes < 600 ? Math.round(minutes / 5) * 5 : Math.round(minutes / 60) * 60;
  const [h, m] = [Math.floor(rounded / 60), rounded % 60];
  return m === 0 ? `${h} h` : `${h} h ${m} min`;
}

/** Hour of the day at which something ends. */
export function formatEta(seconds: number): string {
  return hourOf(new Date(Date.now() + seconds * 1000).toISOString());
}

/** Hour of the day of a moment told in ISO 8601. */
export function hourOf(iso: string): string {
  return new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}

/** Width, height and depth of the bounds, in words. */
export function metres(bounds: { min: readonly number[]; max: readonly number[] }): string {
  const sides = bounds.min.map((v, i) => bounds.max[i]! - v);
  const decimals = Math.max(...sides) < 10 ? 3 : 2;
  return `${sides.map((s) => s.toFixed(decimals)).join(' × ')} m`;
}

/** A size in words; a thousand bytes to the kilobyte. */
export function fileSize(bytes: number): string {
  if (bytes < 1e6) return LABELS.kb(Math.ceil(bytes / 1e3));
  return bytes < 1e9 ? LABELS.mb((bytes / 1e6).toFixed(1)) : LABELS.gb((bytes / 1e9).toFixed(1));
}
