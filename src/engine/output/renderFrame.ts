/** A frame from trace to encoded files. */
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { type EncodedFrame, encodeFrame, type EncodeTask, type MatteNames } from './encodeFrame.js';
import { type Pool } from '../scheduler/pool.js';
import { type LinearRender, type RenderOptions } from '../scheduler/job.js';
import { resolveScene, type AssetProvider } from '../scene/resolveScene.js';

export { fileNames, InvalidRenderError, type RenderedFile } from './encodeFrame.js';

export interface RenderedFrame extends EncodedFrame {
  /** Worker seconds divided by the number of workers. */
  seconds: number;
  samples: number;
  /** What ended the sampling; a picture that time or a person ended is never taken over as equal. */
  ended: LinearRender['ended'];
}

/** Names for mattes, where a file of the frame tells them. */
async function matteNames(frame: Frame, from: AssetProvider): Promise<MatteNames> {
  if (!frame.files.some((f) => f.type === 'exr')) return { parts: [], materials: [] };
  const { parts, materials } = await from.scene();
  return { parts: parts.filter((p) => p.primitives.length > 0).map((p) => p.path), materials: materials.map((f) => f.name) };
}

/**
 * Traces a frame and makes its files.
 * @param finish makes the files of the traced picture: here, unless a server has a thread for it.
 * Throws PictureError where the picture is black, empty or not a number.
 */
export async function renderFrame(
  pool: Pool,
  from: AssetProvider,
  frame: Frame,
  options: RenderOptions = {},
  finish: (task: EncodeTask) => Promise<EncodedFrame> = encodeFrame,
): Promise<RenderedFrame> {
  const { key, load } = resolveScene(frame, from);
  const picture = await pool.render(key, load, frame, options);
  let clay: LinearRender | undefined;
  try {
    let { seconds } = picture;
    if (frame.passes.includes('clay')) {
      clay = await pool.render(key, load, withFrame(frame, { clay: true, passes: ['beauty'], lines: undefined }), {
        ...options,
        onProgress: undefined,
        resume: undefined,
      });
      seconds += clay.seconds;
    }
    const { width, height, colour, sums, stride, lines, samples, ended } = picture;
    const traced = { width, height, colour, sums, stride, samples, ended, ...(lines && { lines }), ...(clay && { clay: clay.colour }) };
    const finished = await finish({ frame, traced, names: await matteNames(frame, from) });
    return { ...finished, seconds, samples, ended };
  } finally {
    clay?.release();
    picture.release();
  }
}
