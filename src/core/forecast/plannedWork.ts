/** A plan as its cost is foreseen by. */
import { type Frame, groupByShotOutput } from '../frame/frame.js';
import type { FrameProbe } from '../preflight/probe.js';
import { workOf } from './cost.js';
import type { PlannedWork } from './forecast.js';
import { seenTraits } from './traits.js';

/** About how many frames of a plan are looked at for its forecast: looking at all of a long one takes longer than rendering small ones. */
const MOST_LOOKED_AT = 600;

/** All frames of a short plan; of a longer one the first and last of each run, and those at equal steps between. */
export function framesToLookAt<F extends { shot: string }>(frames: readonly F[], most = MOST_LOOKED_AT): Set<F> {
  const step = Math.ceil(frames.length / most);
  const runs = [...groupByShotOutput(frames).values()];
  return new Set(runs.flatMap((own) => own.filter((_, i) => i % step === 0 || i === own.length - 1)));
}

/** The list with each gap filled by the nearest value; by the earlier of two that are as near. */
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
 * @param probe what rays met of a frame; undefined for one that was not looked at, which is taken for the nearest of its run that was.
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
