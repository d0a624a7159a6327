/** Which frame is shown while frames play. */

/** How fast frames play, as parts of their own rate. */
export const SPEEDS = [0.25, 0.5, 1, 2] as const;

/** How frames are played. */
export interface PlayOptions {
  /** Of SPEEDS. */
  speed: number;
  /** At the end it goes back the way it came, instead of beginning again. */
  thereAndBack: boolean;
  /** First and last place that play; all where null. */
  range: [number, number] | null;
}

/** At true speed, from the first to the last, again and again. */
export const PLAIN_PLAY: PlayOptions = { speed: 1, thereAndBack: false, range: null };

/** The same within a range of places: from outside of it, playing begins at its start. */
export function playIndexIn(range: [number, number] | null, first: number, steps: number, count: number, thereAndBack: boolean): number {
  const [from, to] = range ?? [0, count - 1];
  const start = first < from || first > to ? 0 : first - from;
  return from + playIndex(start, steps, to - from + 1, thereAndBack);
}

/** The frame after so many steps from `first`, of so many frames that go round. */
export function playIndex(first: number, steps: number, count: number, thereAndBack: boolean): number {
  if (count < 2) return 0;
  if (!thereAndBack) return (first + steps) % count;
  const period = 2 * (count - 1);
  const at = (first + steps) % period;
  return at < count ? at : period - at;
}
