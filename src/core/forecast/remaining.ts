/** How long the rest of a batch will take, from the frames that are done. */

/** What is known of one shot of a batch. */
export interface TimedShot {
  /** Frames that are still to be rendered. */
  waiting: number;
  /** Frames that are done and were timed. */
  timed: number;
  /** Seconds of all timed frames together. */
  seconds: number;
  /** Mean seconds of the latest timed frames; null where there are none. */
  latest: number | null;
}

/** As many of a shot's latest frames say how long its next will take. */
export const LATEST_FRAMES = 12;

/**
 * Expected seconds to go: frames of a shot of which some are done take what the latest of them took on average, frames
 * of other shots the average of all. Null before any is done, and 0 where nothing is left.
 */
export function remainingSeconds(shots: readonly TimedShot[]): number | null {
  const timed = shots.reduce((n, s) => n + s.timed, 0);
  if (timed === 0) return shots.some((s) => s.waiting > 0) ? null : 0;
  const overall = shots.reduce((n, s) => n + s.seconds, 0) / timed;
  return shots.reduce((n, s) => n + s.waiting * (s.latest ?? overall), 0);
}
