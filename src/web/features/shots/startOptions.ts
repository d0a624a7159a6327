/** How the next batch is rendered, beside which frames: kept while the page is open. */
import type { BatchReply } from '../../../contract/batches.js';

/** How a batch is started. */
export interface StartOptions {
  /** Shares of size and samples; null for the plan as it is. */
  draft: { size: number; samples: number } | null;
  /** Frames from one to the next of the round that comes first; 1 by plan. */
  spread: number;
  priority: BatchReply['priority'];
  /** ISO 8601; null for at once. */
  startAt: string | null;
  /** Equal pictures that are there are rendered again. */
  anew: boolean;
}

/** The plan as it is, in turn, now. */
export const PLAIN_START: StartOptions = { draft: null, spread: 1, priority: 'inTurn', startAt: null, anew: false };

/** What of the options a request names: those alone that are not plain. */
export function startBody({ draft, spread, priority, startAt, anew }: StartOptions): object {
  return {
    ...(draft && { draft }),
    ...(spread > 1 && { spread }),
    ...(priority !== PLAIN_START.priority && { priority }),
    ...(startAt !== null && { startAt }),
    ...(anew && { anew }),
  };
}
