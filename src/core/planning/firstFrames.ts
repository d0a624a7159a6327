/** Which frames of a plan are rendered before the rest, so that what is wrong with all of them is seen early. */
import { type Frame, groupByShotOutput } from '../frame/frame.js';
import { isMoving } from '../shots/kinds.js';

/** Of each moving shot so many frames, evenly from the first to the last; of a still every view. None where `count` is 0. */
export function firstFrames<F extends Pick<Frame, 'shot' | 'kind'>>(frames: readonly F[], count: number): Set<F> {
  const chosen = new Set<F>();
  if (count <= 0) return chosen;
  for (const own of groupByShotOutput(frames).values()) {
    const most = isMoving(own[0]!.kind) ? Math.min(count, own.length) : own.length;
    for (let i = 0; i < most; i++) chosen.add(own[most === 1 ? 0 : Math.round((i * (own.length - 1)) / (most - 1))]!);
  }
  return chosen;
}
