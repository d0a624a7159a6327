/** A plan as its cost is foreseen by. */
import { type Frame, groupByShotOutput } from '../frame/frame.js';
import type { FrameProbe } from '../preflight/probe.js';
import { workOf } from './cost.js';
import type { PlannedWork } from './forecast.js';
import { seenTraits } from './traits.js';

/** Frames of a plan that are looked at for its forecast, about: in a longer plan that would take longer than small frames do. */
const MOST_LOOKED_AT = 600;

/** All frames of a short plan; of a longer one the first and last of each run, and those at equal steps between. */
export function framesToLookAt<F extends { shot: string }>(frames: readonly F[], most = MOST_LOOKED_AT): Set<F> {
  const step = Math.ceil(frames.length / most);
  const runs = [...groupByShotOutput(frames).values()];
  return new Set(runs.flatMap((own) => own.filter((_, i) => i % step === 0 || i === own.length - 1)));
}

/** Each of a list, or what stands nearest to it where it is missing; the earlier of two as near. */
function filled<T>(list: readonly (T | undefined)[]): (T | undefined)[] {
  const known = list.flatMap((v, i) => (v === undefined ? [] : [i]));
  let k = 0;
  return list.map((_, i) => {
    while (k + 1 < known.length && Math.abs(known[k + 1]! - i) < Math.abs(known[k]! - i)) k++;
    return list[known[k]!];
  });
}

/**
 * @param frames in the order of the plan, which the answer keeps.
 * @param probe what rays met of a frame, where they were asked; else the nearest frame of its run that was tells.
 */
export function plannedWork(frames: readonly Frame[], probe: (frame: Frame) => FrameProbe | undefined): PlannedWork {
  const places = new Map<Frame, number>();
  const seen = new Map<Frame, FrameProbe | undefined>();
  const work: PlannedWork['work'] = {};
  for (const [run, own] of groupByShotOutput(frames)) {
    work[run] = workOf(own[0]!);
    own.forEach((f, i) => places.set(f, own.length > 1 ? i / (own.length - 1) : 0));
    filled(own.map(probe)).forEach((answer, i) => seen.set(own[i]!, answer));
  }
  return {
    work,
    frames: frames.map((f) => {
      const answer = seen.get(f);
      return { run: f.shot, place: places.get(f)!, ...(answer && { seen: seenTraits(answer) }) };
    }),
  };
}
