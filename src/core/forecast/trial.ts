/** Trials: small renders of a few frames, of which the cost of all is foreseen. The engine makes them; here is what of. */
import { type FileFormat, type Frame, withFrame } from '../frame/frame.js';
import { identityOf } from '../frame/identity.js';
import { holdsAllPasses } from '../image/fileTypes.js';
import type { PassId } from '../image/passes.js';

/** Pixels across the longer side of a trial, and its samples a pixel: as many as eye rays go together. */
const TRIAL_SIDE = 192;
const TRIAL_SAMPLES = 16;
/** Frames that are tried at most: of a run, and of a plan. */
export const TRIAL_LIMITS = { perRun: 6, most: 60 };
/** A noise level that no picture reaches: every pixel then takes the same samples. */
const NEVER_REACHED = 1e-6;

/** What a trial took, in seconds of all the machine's workers together. */
export interface Trial {
  pixels: number;
  samples: number;
  /** To trace it, and to make a picture of what was traced. */
  traced: number;
  developed: number;
  /** To grade and encode its files, by one thread. */
  written: number;
  /** Bytes of its files, by fileKey. */
  bytes: Record<string, number>;
  /** Relative deviations of a sample from its pixel, of the picture's cells from the least to the greatest; even steps of rank. */
  deviations: number[];
}

/** What a file of a frame is called in sums: its type, and its pass where a file holds one. */
export const fileKey = (format: Pick<FileFormat, 'type' | 'exrSplit'>, pass: PassId): string =>
  holdsAllPasses(format) ? format.type : `${format.type} ${pass}`;

/** Keys of a frame's files, in the order in which they are written. */
export const fileKeys = ({ files, passes }: Pick<Frame, 'files' | 'passes'>): string[] =>
  files.flatMap((f) => (holdsAllPasses(f) ? [fileKey(f, 'beauty')] : passes.map((pass) => fileKey(f, pass))));

/** The frame as a trial renders it: smaller, of few samples, and told by what makes its cost. @param scene content hash of its model. */
export function trialFrame(frame: Frame, scene: string): Frame {
  const { width, height } = frame.size;
  const scale = Math.min(1, TRIAL_SIDE / Math.max(width, height));
  const size = { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) };
  const { sampling } = frame;
  const traced = sampling.mode === 'traced';
  const small = withFrame(frame, {
    size,
    legend: undefined,
    seed: 1,
    sampling: traced ? { ...sampling, samples: TRIAL_SAMPLES, noise: sampling.noise > 0 ? NEVER_REACHED : 0, seconds: 0 } : sampling,
  });
  return { ...small, identity: identityOf(small, scene, new WeakMap()) };
}
