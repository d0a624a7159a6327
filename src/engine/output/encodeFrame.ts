/** From a traced picture to encoded files: looked at, graded, and written in every type. It knows no pool and no scene, so that it can run in a thread of its own. */
import * as L from '../../../kernel/layout.js';
import { validateRender } from '../../core/image/validateRender.js';
import type { Frame } from '../../core/frame/frame.js';
import type { PassId } from '../../core/image/passes.js';
import { errorKept, noiseOf } from '../sampling/cellNoise.js';
import { encodeCheckpoint } from '../sampling/checkpoint.js';
import type { MatteNames } from '../scene/matteNames.js';
import type { LinearRender } from '../scheduler/job.js';
import { encodeFiles, type RenderedFile } from './encodeFiles.js';
import { encodeMaster } from './master.js';
import type { PassSource } from './film.js';
import { filmSource } from './passes.js';

/** A render that cannot be right: empty, or with values that are no numbers. */
export class InvalidRenderError extends Error {
  override name = 'PictureError';
}

/** A traced picture as finishing needs it; its planes may be shared with other threads. */
export interface TracedFrame extends Pick<LinearRender, 'width' | 'height' | 'colour' | 'sums' | 'stride' | 'lines' | 'samples' | 'ended'> {
  /** The clay pass, traced apart. */
  clay?: Float32Array;
}

/** A picture that was made in strips: its passes, without the film. */
export interface TracedPlanes {
  width: number;
  height: number;
  planes: Partial<Record<PassId, Float32Array>>;
  /** Whether any sample met the model. */
  met: boolean;
  /** Relative errors of its cells. */
  errors: number[];
}

/** A traced frame to be developed and encoded. */
export interface EncodeTask {
  frame: Frame;
  traced: TracedFrame | TracedPlanes;
  /** Names that mattes may have, in a file that tells them. */
  names: MatteNames;
  /** A master is made as well, of which files can be developed later. */
  keepMaster?: boolean;
}

/** Files of a frame, with what else is kept of it. */
export interface EncodedFrame {
  files: RenderedFile[];
  /** Where time or a person ended the sampling: what was summed up, see checkpoint.ts. */
  film?: Uint8Array;
  /** Where one was asked for, and all samples were taken: see master.ts. */
  master?: Uint8Array;
  /** Noise that nearly all of the picture keeps to, where its quality promises a level; see noiseOf. */
  noise?: number;
}

/** Share of a picture's cells that must keep to the noise that is promised. */
const CELLS_IN_PROMISE = 0.98;

function sourceOf(traced: EncodeTask['traced'], { transparent }: Frame): PassSource {
  if (!('planes' in traced)) {
    const { lines, clay } = traced;
    return filmSource({ ...traced, transparent, own: { ...(lines && { lines }), ...(clay && { clay }) } });
  }
  return {
    width: traced.width,
    height: traced.height,
    plane(id) {
      const values = traced.planes[id];
      if (!values) throw new Error(`The ${id} pass was not rendered.`);
      return values;
    },
  };
}

/** Share of a pixel that the model covers, as far as is known. */
function coverageOf(traced: EncodeTask['traced']): (pixel: number) => number {
  if ('planes' in traced) return () => (traced.met ? 1 : 0);
  const { sums, stride } = traced;
  return (pixel) => sums[pixel * stride + L.PIXEL_COVERAGE]!;
}

/** Throws PictureError where the picture is black, empty or not a number. */
export async function encodeFrame({ frame, traced, names, keepMaster }: EncodeTask): Promise<EncodedFrame> {
  const source = sourceOf(traced, frame);
  const fault = validateRender(source.plane('beauty'), frame.stage.base ? undefined : coverageOf(traced), frame.transparent);
  if (fault) throw new InvalidRenderError(`Shot ${frame.shot}, frame ${frame.number}: ${fault}`);
  const files = await encodeFiles(frame, source, names);
  const promised = frame.sampling.mode === 'traced' && frame.sampling.noise > 0;
  const noise = promised ? ('planes' in traced ? errorKept(traced.errors, CELLS_IN_PROMISE) : noiseOf(traced, CELLS_IN_PROMISE)) : undefined;
  const told = noise === undefined ? {} : { noise };
  // Of a picture in strips nothing is kept but its files: it fills the memory as it is.
  if ('planes' in traced) return { files, ...told };
  if (traced.ended !== 'samples') return { files, film: encodeCheckpoint(frame.identity, traced), ...told };
  return { files, ...(keepMaster && { master: encodeMaster(frame, source, traced, noise) }), ...told };
}
