/** What a machine's earlier batches say of its forecasts. */
import { DEVIATIONS } from './range.js';

/** A batch that was foreseen without corrections, and what it came to; of the frames alone that were rendered. */
export interface PastBatch {
  foreseen: { seconds: number; bytes: number };
  measured: { seconds: number; bytes: number };
}

/** What earlier batches of this machine say about its forecasts. */
export interface Learnt {
  /** What forecasts are multiplied by. */
  seconds: number;
  bytes: number;
  /** Standard deviation of the logarithm that is left of a batch. */
  deviation: number;
  batches: number;
}

/** Before the first batch: forecasts stand as they are. */
export const NOTHING_LEARNT: Learnt = { seconds: 1, bytes: 1, deviation: DEVIATIONS.batch, batches: 0 };

/** So many batches' worth of trust that a forecast needs no correction. */
const PRIOR_BATCHES = 1;
/** What a batch says in comparison to the one after it. */
const FADING = 0.9;

/** @param past the latest first. */
export function learnFrom(past: readonly PastBatch[]): Learnt {
  const known = past.filter(({ foreseen, measured }) => foreseen.seconds > 0 && measured.seconds > 0);
  const weights = known.map((_, i) => FADING ** i);
  const sum = weights.reduce((a, b) => a + b, 0);
  const mean = (ratio: (p: PastBatch) => number): number =>
    known.reduce((n, p, i) => n + weights[i]! * Math.log(ratio(p)), 0) / (sum + PRIOR_BATCHES);
  const seconds = mean((p) => p.measured.seconds / p.foreseen.seconds);
  const bytes = mean((p) => (p.foreseen.bytes > 0 && p.measured.bytes > 0 ? p.measured.bytes / p.foreseen.bytes : 1));
  const squares = known.reduce((n, p, i) => n + weights[i]! * (Math.log(p.measured.seconds / p.foreseen.seconds) - seconds) ** 2, 0);
  return {
    seconds: Math.exp(seconds),
    bytes: Math.exp(bytes),
    deviation: Math.sqrt((squares + PRIOR_BATCHES * DEVIATIONS.batch ** 2) / (sum + PRIOR_BATCHES)),
    batches: known.length,
  };
}
