/** From a traced picture to encoded files: looked at, graded, and written in every type. It knows no pool and no scene, so that it can run in a thread of its own. */
import * as L from '../../../kernel/layout.js';
import { validateRender } from '../../core/image/validateRender.js';
import type { Frame } from '../../core/frame/frame.js';
import { noiseOf } from '../sampling/cellNoise.js';
import { encodeCheckpoint } from '../sampling/checkpoint.js';
import type { MatteNames } from '../scene/matteNames.js';
import type { LinearRender } from '../scheduler/job.js';
import { encodeFiles, type RenderedFile } from './encodeFiles.js';
import { encodeMaster } from './master.js';
import { filmSource } from './passes.js';

export class InvalidRenderError extends Error {
  override name = 'PictureError';
}

/** A traced picture as finishing needs it; its planes may be shared with other threads. */
export interface TracedFrame extends Pick<LinearRender, 'width' | 'height' | 'colour' | 'sums' | 'stride' | 'lines' | 'samples' | 'ended'> {
  /** The clay pass, traced apart. */
  clay?: Float32Array;
}

export interface EncodeTask {
  frame: Frame;
  traced: TracedFrame;
  /** Names that mattes may have, in a file that tells them. */
  names: MatteNames;
  /** A master is made as well, of which files can be developed later. */
  keepMaster?: boolean;
}

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

/** Throws PictureError where the picture is black, empty or not a number. */
export async function encodeFrame({ frame, traced, names, keepMaster }: EncodeTask): Promise<EncodedFrame> {
  const { colour, sums, stride, lines, clay } = traced;
  const covers = frame.stage.base ? undefined : (pixel: number): number => sums[pixel * stride + L.PIXEL_COVERAGE]!;
  const fault = validateRender(colour, covers, frame.transparent);
  if (fault) throw new InvalidRenderError(`Shot ${frame.shot}, frame ${frame.number}: ${fault}`);
  const source = filmSource({ ...traced, own: { ...(lines && { lines }), ...(clay && { clay }) } });
  const files = await encodeFiles(frame, source, names);
  const promised = frame.sampling.mode === 'traced' && frame.sampling.noise > 0;
  const noise = promised ? noiseOf(traced, CELLS_IN_PROMISE) : undefined;
  const whole = traced.ended === 'samples';
  return {
    files,
    ...(!whole && { film: encodeCheckpoint(frame.identity, traced) }),
    ...(whole && keepMaster && { master: encodeMaster(frame, source, traced, noise) }),
    ...(noise !== undefined && { noise }),
  };
}
