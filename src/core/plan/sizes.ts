/** Sizes by their trade names, and sizes on paper. */
import type { Size } from '../camera/view.js';

/** A size that is known by a name. */
export interface NamedSize extends Size {
  name: string;
  group: 'screen' | 'cinema' | 'broadcast' | 'social' | 'web';
  pixelAspect: number;
}

const sized = (group: NamedSize['group'], name: string, width: number, height: number, pixelAspect = 1): NamedSize => ({
  group,
  name,
  width,
  height,
  pixelAspect,
});

/** SMPTE and ITU rasters by their names; the social and web sizes are common practice, no source. */
export const NAMED_SIZES: readonly NamedSize[] = [
  sized('screen', 'HD 1080', 1920, 1080),
  sized('screen', 'HD 720', 1280, 720),
  sized('screen', 'quarter HD', 960, 540),
  sized('screen', 'UHD', 3840, 2160),
  sized('cinema', 'DCI 2K', 2048, 1080),
  sized('cinema', 'DCI 4K', 4096, 2160),
  sized('cinema', '2K square', 2048, 2048),
  sized('broadcast', 'D1 NTSC', 720, 486, 0.9),
  sized('broadcast', 'D1 PAL', 720, 576, 1.0667),
  sized('social', 'square', 1080, 1080),
  sized('social', 'portrait 4:5', 1080, 1350),
  sized('social', 'portrait 9:16', 1080, 1920),
  sized('web', 'small 640', 640, 360),
  sized('web', 'small 320', 320, 240),
];

/** The trade name of a size, or null. */
export function nameOfSize(size: Size, pixelAspect: number): string | null {
  return NAMED_SIZES.find((s) => s.width === size.width && s.height === size.height && Math.abs(s.pixelAspect - pixelAspect) < 1e-4)?.name ?? null;
}

/** Pixels of a sheet of paper in millimetres at dots an inch, 300 where a printer says nothing else. */
export function printSize(width: number, height: number, dpi = 300): Size {
  const pixels = (mm: number): number => Math.round((mm / 25.4) * dpi);
  return { width: pixels(width), height: pixels(height) };
}

/** ISO 216 in millimetres, landscape. */
export const PAPERS = [
  { name: 'A5', width: 210, height: 148 },
  { name: 'A4', width: 297, height: 210 },
  { name: 'A3', width: 420, height: 297 },
  { name: 'A2', width: 594, height: 420 },
  { name: 'A1', width: 841, height: 594 },
] as const;

/** Sizes out of a line as "1920x1080, 1080 × 1080", or what is wrong with it. */
export function readSizes(text: string): Size[] | string {
  const sizes: Size[] = [];
  for (const word of text.split(/[,;]/).map((t) => t.trim())) {
    if (word === '') continue;
    const m = /^(\d+)\s*[x×*]\s*(\d+)$/i.exec(word);
    if (!m) return `"${word}" is not a size; write it as 1920x1080.`;
    sizes.push({ width: Number(m[1]), height: Number(m[2]) });
  }
  return sizes;
}

/** Both sides times a factor, whole and at least 1. */
export function scaledSize({ width, height }: Size, factor: number): Size {
  return { width: Math.max(1, Math.round(width * factor)), height: Math.max(1, Math.round(height * factor)) };
}
