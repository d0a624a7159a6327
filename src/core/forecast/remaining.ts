/** How long the rest of a batch will take, from the frames that are done. */

export interface TimedFrame {
  shot: string;
  /** Seconds it took; null where it is not done. */
  seconds: number | null;
  waiting: boolean;
}

function mean(values: number[]): number {
  return values.reduce((a, b) => a + b, 0) / values.length;
}

/**
 * Expected seconds to go: frames of a shot of which some are done take what the latest of them took
 * on average, frames of other shots the average of all. Null before any is done.
 */
export function remainingSeconds(frames: TimedFrame[], latest = 12): number | null {
  const all = frames.flatMap((f) => (f.seconds === null ? [] : [f.seconds]));
  if (all.length === 0) return frames.some((f) => f.waiting) ? null : 0;
  const overall = mean(all);
  const byShot = new Map<string, { times: number[]; waiting: number }>();
  for (const f of frames) {
    const entry = byShot.get(f.shot) ?? { times: [], waiting: 0 };
    if (f.seconds !== null) entry.times.push(f.seconds);
    if (f.waiting) entry.waiting++;
    byShot.set(f.shot, entry);
  }
  let total = 0;
  for (const { times, waiting } of byShot.values()) total += waiting * (times.length > 0 ? mean(times.slice(-latest)) : overall);
  return total;
}
