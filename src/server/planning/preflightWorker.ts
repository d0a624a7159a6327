/** Entry of the thread that looks at plans before they run; bundled to dist/preflight-worker.mjs. */
import { parentPort } from 'node:worker_threads';
import { PlanCache } from '../../core/planning/planCache.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { framesToLookAt, plannedWork } from '../../core/forecast/plannedWork.js';
import { framesToMeasure } from '../../core/forecast/traits.js';
import { TRIAL_LIMITS, trialFrame } from '../../core/forecast/trial.js';
import type { PreflightPlan } from '../../core/preflight/finding.js';
import { unplannable } from '../../core/preflight/unplannable.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { checkPlan, type CheckOptions, probePlan, type ProbeCache } from '../../engine/probes/checkPlan.js';
import { SceneProber } from '../../engine/probes/sceneProber.js';
import { assetsOf, planTask } from './plannedTask.js';
import type { FromPreflight, PreflightCall, PreflightCalls, PreflightTask, ToPreflight } from './preflightTask.js';
import { ProbeThread } from './probeThread.js';

/** Answers that are kept, about half a kilobyte each, more than a plan has frames; the oldest tenth goes when there are more. */
const MAX_CACHED = 120_000;

const port = parentPort!;
const send = (message: FromPreflight): void => port.postMessage(message);
const module = loadKernelModule();
const prober = new SceneProber(module);
const beside = new ProbeThread();
const cache: ProbeCache = new Map();
const plans = new PlanCache();
const stops = new Map<number, AbortController>();

const denoised = (frame: Frame): Frame => withFrame(frame, { sampling: { ...frame.sampling, denoise: true } });

type OnProgress = (done: number, total: number) => void;

const optionsOf = (task: PreflightTask, signal: AbortSignal, onProgress: OnProgress): CheckOptions => ({
  cache,
  signal,
  onProgress,
  helper: beside.of(task),
});

/** Answers that are kept: the oldest go where there are too many. */
function trim(): void {
  if (cache.size > MAX_CACHED) for (const key of [...cache.keys()].slice(0, MAX_CACHED / 10)) cache.delete(key);
}

const calls: {
  [C in PreflightCall]: (ask: PreflightCalls[C]['ask'], signal: AbortSignal, onProgress: OnProgress) => Promise<PreflightCalls[C]['answer']>;
} = {
  async check(task, signal, onProgress) {
    let plan: PreflightPlan;
    try {
      ({ plan } = planTask(task, plans));
    } catch (e) {
      return { ...unplannable(e as Error, task.plan.set, task.plan.context), frames: 0, probed: 0 };
    }
    const report = await checkPlan(plan, prober, assetsOf(task, module), optionsOf(task, signal, onProgress));
    trim();
    return report;
  },
  async work(task, signal, onProgress) {
    if (task.missingFiles.length > 0) throw new Error(`The image "${task.missingFiles[0]}" is not here; import it again.`);
    const { plan, frames } = planTask(task, plans);
    const answers = await probePlan(plan, prober, assetsOf(task, module), {
      ...optionsOf(task, signal, onProgress),
      only: framesToLookAt(frames),
    });
    trim();
    const work = plannedWork(frames, (f) => answers.get(f));
    const chosen = framesToMeasure(work.frames, TRIAL_LIMITS);
    const { scene } = task.plan.context;
    const plain = chosen.find((index) => frames[index]!.sampling.mode === 'traced' && !frames[index]!.sampling.denoise);
    return {
      plan: work,
      trials: chosen.map((index) => ({ index, frame: trialFrame(frames[index]!, scene) })),
      ...(plain !== undefined && { denoised: { index: plain, frame: trialFrame(denoised(frames[plain]!), scene) } }),
    };
  },
};

/** One after another: they share the kernel's memory. */
let last: Promise<void> = Promise.resolve();

function take<C extends PreflightCall>(id: number, call: C, ask: PreflightCalls[C]['ask']): void {
  const stop = new AbortController();
  stops.set(id, stop);
  last = last
    .then(async () => {
      stop.signal.throwIfAborted();
      send({ id, answer: await calls[call](ask, stop.signal, (done, total) => send({ id, done, total })) });
    })
    .catch((e: unknown) => send(stop.signal.aborted ? { id, stopped: true } : { id, problem: (e as Error).message }))
    .finally(() => stops.delete(id));
}

port.on('message', (message: ToPreflight) => {
  if ('stop' in message) stops.get(message.id)?.abort();
  else take(message.id, message.call, message.ask);
});
