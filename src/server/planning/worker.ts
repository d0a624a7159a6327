/** Entry of the planning thread; bundled to dist/planning-worker.mjs. */
import { parentPort } from 'node:worker_threads';
import type { Frame } from '../../core/frame/frame.js';
import { DEFAULT_FIRST_FRAMES } from '../../core/plan/firstFrames.js';
import { firstFrames } from '../../core/planning/firstFrames.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import { parseSet } from '../../core/plan/set.js';
import { readSet } from '../setText.js';
import type { PlanningCall, PlanningCalls, PlanningReply, PlanningRequest, PlanSnapshot } from './tasks.js';

/** Plans kept for the batches asked for last. */
const MAX_PLANS = 4;
interface Planned {
  frames: Frame[];
  first: ReadonlySet<Frame>;
}
const plans = new Map<string, Planned>();

class UnknownPlan extends Error {}

function planOf(key: string): Planned {
  const planned = plans.get(key);
  if (!planned) throw new UnknownPlan();
  plans.delete(key);
  plans.set(key, planned);
  return planned;
}

const calls: { [C in PlanningCall]: (ask: PlanningCalls[C]['ask']) => PlanningCalls[C]['answer'] } = {
  open({ key, plan }) {
    const known = plans.get(key);
    if (known) return { total: known.frames.length };
    const { set, context, select, firstFrames: count } = JSON.parse(plan) as PlanSnapshot;
    const frames = selectPlannedFrames(planFrames(parseSet(set), context), select ?? '');
    if (plans.size >= MAX_PLANS) plans.delete(plans.keys().next().value!);
    plans.set(key, { frames, first: firstFrames(frames, count ?? DEFAULT_FIRST_FRAMES) });
    return { total: frames.length };
  },
  rows({ key, from, to }) {
    const { frames, first } = planOf(key);
    return JSON.stringify(
      frames.slice(from, to).map((f) => [f.shot, f.number, f.name, f.identity, f.kind, f.view, f.time, f.sun?.date ?? null, first.has(f) ? 1 : 0]),
    );
  },
  // A frame computes identity and seed when asked; a copy must be given them.
  frames: ({ key, from, to }) =>
    planOf(key)
      .frames.slice(from, to)
      .map((f) => ({ ...f, identity: f.identity, seed: f.seed })),
  assignments: ({ key }) => [...new Map(planOf(key).frames.flatMap((f) => (f.materials ? [[f.materials.id, f.materials] as const] : []))).values()],
  readSet: ({ kind, text }) => readSet(kind, text),
};

const port = parentPort!;
port.on('message', ({ id, call, ask }: PlanningRequest) => {
  let reply: PlanningReply;
  try {
    reply = { id, answer: (calls[call] as (a: unknown) => unknown)(ask) };
  } catch (e) {
    reply = e instanceof UnknownPlan ? { id, unknown: true } : { id, problem: (e as Error).message };
  }
  port.postMessage(reply);
});
