/** Ranges of what is foreseen: from the 10th to the 90th percentile. */

/** The 10th percentile, what is likely, and the 90th. */
export interface Range {
  low: number;
  likely: number;
  high: number;
}

/** 90th percentile of the standard normal distribution (Abramowitz and Stegun, "Handbook of Mathematical Functions", table 26.1). */
const Z90 = 1.2816;

/** The range about a value whose logarithm has this standard deviation. */
export const rangeAbout = (likely: number, deviation: number): Range => ({
  low: likely * Math.exp(-Z90 * deviation),
  likely,
  high: likely * Math.exp(Z90 * deviation),
});

/**
 * How far frames come out otherwise than foreseen, as standard deviations of the logarithm: all of a batch alike (another
 * machine's load, the trials' small size), those of one run alike, and single ones. Of the recordings; no source.
 */
export const DEVIATIONS = { batch: 0.13, run: 0.1, frame: 0.1 };
/** Neighbouring frames come out otherwise alike: so many count as one. */
const ALIKE_FRAMES = 4;

/**
 * Deviation of a sum of frames.
 * @param runs seconds of each run's frames. @param squares sum of the squares of single frames' seconds.
 * @param of the whole batch's deviation. `left` is how much of that, or of a run's, is left: 1 where nothing was measured.
 */
export function deviationOfSum(runs: readonly { seconds: number; left?: number }[], squares: number, of: { batch: number; left?: number }): number {
  const total = runs.reduce((n, r) => n + r.seconds, 0);
  if (total <= 0) return 0;
  const ofRuns = runs.reduce((n, r) => n + (DEVIATIONS.run * r.seconds * (r.left ?? 1)) ** 2, 0);
  return Math.sqrt((of.batch * (of.left ?? 1)) ** 2 + (ofRuns + ALIKE_FRAMES * DEVIATIONS.frame ** 2 * squares) / total ** 2);
}
