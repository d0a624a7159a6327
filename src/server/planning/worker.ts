/** Entry of the planning thread; bundled to dist/planning-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import type { Frame } from '../../core/frame/frame.js';
import { DEFAULT_FIRST_FRAMES } from '../../core/plan/firstFrames.js';
import { firstFrames } from '../../core/planning/firstFrames.js';
import { filesKeyOf, groundsOf, masterKeyOf, pixelsKeyOf, type SharedTexts } from '../../core/frame/identity.js';
import type { PlannedFrame } from '../../core/frame/plannedFrame.js';
import { renderOrder } from '../../core/plan/frameOrder.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import { parseSet } from '../../core/plan/set.js';
import { ContentOfFrames } from './contentOfFrames.js';
import { readSet } from '../setText.js';
import { ROW_COLUMNS, type PlanningCall, type PlanningCalls, type PlanningReply, type PlanningRequest, type PlanSnapshot } from './tasks.js';

/** Plans kept for the batches asked for last. */
const MAX_PLANS = 4;
interface Planned {
  frames: PlannedFrame[];
  first: ReadonlySet<Frame>;
  /** Place in the order of rendering. */
  sequence: number[];
  content: ContentOfFrames;
  /** Texts that the frames share for their keys. */
  texts: SharedTexts;
}
/** Folder of the compiled models. */
const { models } = workerData as { models: string };
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
    const { set, context, select, firstFrames: count, spread = 1 } = JSON.parse(plan) as PlanSnapshot;
    const frames = selectPlannedFrames(planFrames(parseSet(set), context), select ?? '');
    if (plans.size >= MAX_PLANS) plans.delete(plans.keys().next().value!);
    plans.set(key, {
      frames,
      first: firstFrames(frames, count ?? DEFAULT_FIRST_FRAMES),
      sequence: renderOrder(frames, spread),
      content: new ContentOfFrames(models, context.scene),
      texts: new WeakMap(),
    });
    return { total: frames.length };
  },
  rows({ key, from, to }) {
    const { frames, first, sequence, content, texts } = planOf(key);
    const row = (f: PlannedFrame, i: number): Record<(typeof ROW_COLUMNS)[number], unknown> => {
      const rendered = content.of(f);
      return {
        ...{ shot: f.shot, number: f.number, name: f.name, identity: f.identity, kind: f.kind, view: f.view, time: f.time },
        date: f.sun?.date ?? null,
        first: first.has(f) ? 1 : 0,
        sequence: sequence[from + i]!,
        filesKey: filesKeyOf(f, pixelsKeyOf(f, rendered, texts)),
        grounds: groundsOf(f, rendered, texts),
        masterKey: masterKeyOf(f, rendered, texts),
      };
    };
    return JSON.stringify(
      frames
        .slice(from, to)
        .map(row)
        .map((r) => ROW_COLUMNS.map((column) => r[column])),
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
