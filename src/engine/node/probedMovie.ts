/** What was read of a movie. */
import type { MovieFacts } from '../../core/handover/audit.js';

export interface ProbedMovie extends MovieFacts {
  codec: string;
  width: number;
  height: number;
}
