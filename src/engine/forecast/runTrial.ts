/** Renders trials and measures them: by the same pool, and into the same files, as the frames whose cost they foresee. */
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { fileKeys, type Trial } from '../../core/forecast/trial.js';
import { encodeFrame, InvalidRenderError } from '../output/encodeFrame.js';
import { matteNames } from '../scene/matteNames.js';
import { sampleDeviations } from '../sampling/cellNoise.js';
import { type AssetProvider, resolveScene } from '../scene/resolveScene.js';
import type { LinearRender } from '../scheduler/job.js';
import type { Pool } from '../scheduler/pool.js';

/** What is expected of files that could not be made because the picture is black or empty, in bytes a pixel. */
const EMPTY_BYTES = 0.05;

/** How a trial is run beside other work. */
export interface TrialOptions {
  priority?: number;
  signal?: AbortSignal;
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
