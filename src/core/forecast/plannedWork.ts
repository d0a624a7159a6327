/** A plan as its cost is foreseen by. */
import { type Frame, groupByShotOutput } from '../frame/frame.js';
import type { FrameProbe } from '../preflight/probe.js';
import { workOf } from './cost.js';
import type { PlannedWork } from './forecast.js';
import { seenTraits } from './traits.js';

/** @param frames in the order of the plan, which the answer keeps. @param probe what rays met of a frame, where they were asked. */
export function plannedWork(frames: readonly Frame[], probe: (frame: Frame) => FrameProbe | undefined): PlannedWork {
  const places = new Map<Frame, number>();
  const work: PlannedWork['work'] = {};
  for (const [run, own] of groupByShotOutput(frames)) {
    work[run] = workOf(own[0]!);
    own.forEach((f, i) => places.set(f, own.length > 1 ? i / (own.length - 1) : 0));
  }
  return {
    work,
    frames: frames.map((f) => {
      const answer = probe(f);
      return { run: f.shot, place: places.get(f)!, ...(answer && { seen: seenTraits(answer) }) };
    }),
  };
}
