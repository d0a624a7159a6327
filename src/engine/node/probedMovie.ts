/** What was read of a movie. */
import type { MovieFacts } from '../../core/handover/audit.js';

/** What a movie file says of itself. */
export interface ProbedMovie extends MovieFacts {
  codec: string;
  width: number;
  height: number;
}
