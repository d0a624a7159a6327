/** In which order the frames of a batch are rendered: by the plan, or every n-th of what moves first and then those between. */

/** Most frames from one to the next of the coarsest round. */
export const MAX_SPREAD = 1000;

/**
 * In which round a frame comes, 0 first: round 0 has every `spread`-th frame, each further one those half as far apart,
 * until all are there.
 * @param index place in its run, from 0.
 * @param spread 1 or more; 1 puts all frames into round 0.
 */
export function roundOf(index: number, spread: number): number {
  let round = 0;
  for (let step = spread; index % step !== 0; step = Math.floor(step / 2)) round++;
  return round;
}

/**
 * Place of each frame in the order of rendering, from 0, frame by frame of the plan. The rounds of all runs come one after
 * another, so that every movie is there coarsely before one of them is whole.
 * @param spread frames from one to the next of the coarsest round; 1 keeps the plan's order.
 */
export function renderOrder(frames: readonly { shot: string }[], spread: number): number[] {
  const places = new Map<string, number>();
  const rounds = frames.map(({ shot }) => {
    const index = places.get(shot) ?? 0;
    places.set(shot, index + 1);
    return roundOf(index, spread);
  });
  const order = frames.map((_, i) => i).sort((a, b) => rounds[a]! - rounds[b]! || a - b);
  const place = new Array<number>(frames.length);
  order.forEach((position, i) => (place[position] = i));
  return place;
}
