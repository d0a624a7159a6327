/** A frame from trace to encoded files. */
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { passOf } from '../../core/image/passes.js';
import { matteNames, type MatteNames } from '../scene/matteNames.js';
import { type EncodedFrame, encodeFrame, type EncodeTask } from './encodeFrame.js';
import type { Pool } from '../scheduler/pool.js';
import type { LinearRender, RenderOptions } from '../scheduler/job.js';
import { resolveScene, type AssetProvider } from '../scene/resolveScene.js';

export { fileNames } from './encodeFiles.js';
export { InvalidRenderError } from './encodeFrame.js';

/** How a frame was traced. */
export interface TraceResult {
  /** Worker seconds divided by the number of workers. */
  seconds: number;
  samples: number;
  /** What ended the sampling; a picture that time or a person ended is never taken over as equal. */
  ended: LinearRender['ended'];
}

/** A frame that was traced and encoded. */
export type RenderedFrame<Encoded extends EncodedFrame = EncodedFrame> = Encoded & TraceResult;

/** Names for mattes, where a file of the frame tells them. */
export async function namesFor(frame: Frame, from: AssetProvider): Promise<MatteNames> {
  const tells = frame.files.some((f) => f.type === 'exr') && frame.passes.some((id) => passOf(id).needs === 'mattes');
  return tells ? matteNames(frame, await from.scene()) : { parts: [], materials: [] };
}

/**
 * Traces a frame and makes its files.
 * @param keepMaster whether a master is made as well.
 * @param finish makes the files of the traced picture: here, unless a server has a thread for it.
 * Throws InvalidRenderError where the picture is black, empty or not a number.
 */
export async function renderFrame<Encoded extends EncodedFrame = EncodedFrame>(
  pool: Pool,
  from: AssetProvider,
  frame: Frame,
  options: RenderOptions = {},
  finish: (task: EncodeTask) => Promise<Encoded> = encodeFrame as (task: EncodeTask) => Promise<Encoded>,
  keepMaster = false,
): Promise<RenderedFrame<Encoded>> {
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
    const finished = await finish({ frame, traced, names: await namesFor(frame, from), keepMaster });
    return { ...finished, seconds, samples, ended };
  } finally {
    clay?.release();
    picture.release();
  }
}
