/** Renders trials and measures them: by the same pool, and into the same files, as the frames whose cost they foresee. */
import * as L from '../../../kernel/layout.js';
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { fileKeys, type Trial } from '../../core/forecast/trial.js';
import { encodeFrame, InvalidRenderError } from '../output/encodeFrame.js';
import { matteNames } from '../scene/matteNames.js';
import { type AssetProvider, resolveScene } from '../scene/resolveScene.js';
import type { LinearRender } from '../scheduler/job.js';
import type { Pool } from '../scheduler/pool.js';

/** Ranks at which deviations are told. */
const RANKS = 32;
/** Luminance below which an error counts against this, as kernel/film/adaptive.ts has it. */
const DARK = 0.05;
/** What is expected of files that could not be made because the picture is black or empty, in bytes a pixel. */
const EMPTY_BYTES = 0.05;

export interface TrialOptions {
  priority?: number;
  signal?: AbortSignal;
}

/** Relative deviation of a sample from its pixel, the mean of each cell in which noise is looked at; at even steps of rank. */
export function sampleDeviations({ width, height, sums, stride }: Pick<LinearRender, 'width' | 'height' | 'sums' | 'stride'>): number[] {
  const cells: number[] = [];
  for (let y = 0; y < height; y += L.CELL) {
    for (let x = 0; x < width; x += L.CELL) {
      let [sum, count] = [0, 0];
      for (let py = y; py < Math.min(height, y + L.CELL); py++) {
        for (let px = x; px < Math.min(width, x + L.CELL); px++) {
          const at = (py * width + px) * stride;
          const n = sums[at + L.PIXEL_COUNT]!;
          if (n < 2) continue;
          const l = (0.2126 * sums[at]! + 0.7152 * sums[at + 1]! + 0.0722 * sums[at + 2]!) / n;
          const variance = Math.max(0, sums[at + L.PIXEL_LUMINANCE_SQ]! / n - l * l) * (n / (n - 1));
          sum += Math.sqrt(variance) / Math.max(l, DARK);
          count++;
        }
      }
      if (count > 0) cells.push(sum / count);
    }
  }
  cells.sort((a, b) => a - b);
  if (cells.length === 0) return [];
  return Array.from({ length: RANKS }, (_, i) => cells[Math.min(cells.length - 1, Math.floor(((i + 0.5) * cells.length) / RANKS))]!);
}

/** @param frame of trialFrame. Rejects with AbortedError where the signal stops it, and where its scene cannot be loaded. */
export async function runTrial(pool: Pool, from: AssetProvider, frame: Frame, options: TrialOptions = {}): Promise<Trial> {
  const { key, load } = resolveScene(frame, from);
  // The first render of a scene pays for what is laid into memory once.
  if (!pool.holds(key)) (await pool.render(key, load, frame, options)).release();
  const picture = await pool.render(key, load, frame, options);
  let clay: LinearRender | undefined;
  try {
    if (frame.passes.includes('clay'))
      clay = await pool.render(key, load, withFrame(frame, { clay: true, passes: ['beauty'], lines: undefined }), options);
    const all = clay ? [picture, clay] : [picture];
    const traced = all.reduce((n, p) => n + p.traced, 0);
    const names = matteNames(frame, await from.scene());
    const started = performance.now();
    const { width, height, colour, sums, stride, lines, samples, ended } = picture;
    const finished = await encodeFrame({
      frame,
      traced: { width, height, colour, sums, stride, samples, ended, ...(lines && { lines }), ...(clay && { clay: clay.colour }) },
      names,
    }).catch((e: unknown) => {
      // A black or empty picture takes its time all the same, and preflight tells of it.
      if (e instanceof InvalidRenderError) return null;
      throw e;
    });
    const written = (performance.now() - started) / 1000;
    const pixels = width * height;
    const bytes: Record<string, number> = {};
    fileKeys(frame).forEach((file, i) => (bytes[file] = (bytes[file] ?? 0) + (finished ? finished.files[i]!.bytes.length : pixels * EMPTY_BYTES)));
    return {
      pixels,
      samples: frame.sampling.samples,
      traced,
      developed: all.reduce((n, p) => n + p.seconds, 0) - traced,
      written,
      bytes,
      deviations: sampleDeviations(picture),
    };
  } finally {
    picture.release();
    clay?.release();
  }
}
