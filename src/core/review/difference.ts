/** What is different between two renders of one size: how much of the picture, by how much, and where; noise does not count. */
import { type ChangedArea, findAreas } from './areas.js';

/** Pixels as a canvas has them: RGBA bytes, sRGB, alpha straight. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
}

/** What two renders differ by. */
export interface Difference {
  width: number;
  height: number;
  /** CIEDE2000 above which a pixel counts as changed. */
  threshold: number;
  /** Share of the pixels that changed, 0..1. */
  changed: number;
  /** Structural similarity of the lightness. */
  ssim: number;
  /** Largest CIEDE2000 of a changed pixel; 0 where none is. */
  largest: number;
  /** By how much each pixel differs beyond noise, in CIEDE2000; 0 where that cannot come to MIN_THRESHOLD. */
  values: Float32Array;
  /** 1 where changed. */
  mask: Uint8Array;
  /** Most pixels first. */
  areas: ChangedArea[];
}

/** By how much each pixel of two pictures differs beyond noise, before a threshold says what of it counts. */
export type MeasuredDifference = Pick<Difference, 'width' | 'height' | 'values' | 'ssim'>;

/** What of a difference counts. @param threshold in CIEDE2000, MIN_THRESHOLD to MAX_THRESHOLD. */
export function judgeDifference({ width, height, values, ssim }: MeasuredDifference, threshold: number): Difference {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) if (values[i]! > threshold) mask[i] = 1;
  const areas = findAreas(mask, values, width, height);
  const pixels = areas.reduce((n, area) => n + area.pixels, 0);
  const largest = areas.reduce((m, area) => Math.max(m, area.largest), 0);
  return { width, height, threshold, changed: pixels / values.length, ssim, largest, values, mask, areas };
}
