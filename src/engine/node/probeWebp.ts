/** What an animated WebP holds, read by libvips. */
import sharp from 'sharp';
import type { ProbedMovie } from './probedMovie.js';

/** Reads it whole. Rejects where it is torn, or holds one picture alone. */
export async function probeWebp(file: string): Promise<ProbedMovie> {
  const image = sharp(file, { animated: true, failOn: 'truncated', limitInputPixels: false });
  const { format, pages = 1, delay = [], width, height, pageHeight = height, hasAlpha } = await image.metadata();
  if (format !== 'webp' || pages < 2) throw new Error('It is no animated WebP.');
  await image.stats();
  const seconds = delay.reduce((sum, ms) => sum + ms, 0) / 1000;
  return {
    codec: 'webp',
    width: width!,
    height: pageHeight!,
    rate: (pages / seconds).toFixed(4),
    frames: pages,
    seconds,
    pixelFormat: hasAlpha ? 'rgba' : 'rgb24',
    profile: '',
    range: '',
    matrix: '',
    fastStart: true,
  };
}
