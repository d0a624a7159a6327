/** What files are made of: a film, or passes out of one. */
import type { PassId } from '../../core/image/passes.js';
import type { LinearRender } from '../scheduler/job.js';

/** What passes are made of: a film, or what was kept of one. */
export interface PassSource {
  width: number;
  height: number;
  /**
   * Numbers of a pass, as many a pixel as it has channels; of mattes id and coverage pairs, strongest first. Of lines, as
   * they are traced and kept, the distance from the nearest in pixels; `withLineCover` makes coverage of it.
   */
  plane(id: PassId): Float32Array;
}

/** A traced picture. */
export type Film = Pick<LinearRender, 'width' | 'height' | 'colour' | 'sums' | 'stride'> & {
  /** Pictures that were rendered apart (clay, lines). */
  own?: Partial<Record<PassId, Float32Array>>;
  /** Its backdrop is clear. */
  transparent?: boolean;
};
