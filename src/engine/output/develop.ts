/** Files of a frame out of a master: another grade, type, curve, weight or colour of lines, or the filter for noise on or off. */
import type { Frame } from '../../core/frame/frame.js';
import type { MatteNames } from '../scene/matteNames.js';
import { encodeFiles, keepsSingles, type RenderedFile } from './encodeFiles.js';
import type { Master } from './master.js';
import type { PassSource } from './film.js';

/** Sums that the filter has to go through first. */
export interface UnfilteredFilm {
  sums: Float32Array;
  stride: number;
  samples: number;
}

/** What became of a frame that was asked of a master. */
export type Development =
  | {
      kind: 'files';
      files: RenderedFile[];
      /** The same bytes as of a frame that is traced for these files: not where the filter was put on or off afterwards. */
      exact: boolean;
      samples: number;
      noise?: number;
    }
  /** Filter these sums, and ask again with the result. */
  | { kind: 'film'; film: UnfilteredFilm }
  /** The frame has to be traced, since the master lacks something. */
  | { kind: 'unfit' };

/**
 * Makes the frame's files.
 * @param beauty filtered from the sums that an earlier answer gave.
 */
export async function developFrame(frame: Frame, master: Master, names: MatteNames, beauty?: Float32Array): Promise<Development> {
  const { denoise } = frame.sampling;
  const exact = master.filtered === denoise;
  if (frame.files.some(keepsSingles) && !master.singles) return { kind: 'unfit' };
  // The clay pass was filtered, or not, as beauty was; its sums are not kept.
  if (!exact && frame.passes.includes('clay')) return { kind: 'unfit' };
  if (denoise && !exact && !beauty) return master.film ? { kind: 'film', film: { ...master.film, samples: master.samples } } : { kind: 'unfit' };
  const other = exact ? undefined : denoise ? beauty : master.unfiltered;
  const source: PassSource = other ? { ...master.source, plane: (id) => (id === 'beauty' ? other : master.source.plane(id)) } : master.source;
  const { samples, noise } = master;
  return { kind: 'files', files: await encodeFiles(frame, source, names), exact, samples, ...(noise !== undefined && { noise }) };
}
