/** Entry of the thread that probes a share of a plan's frames; bundled to dist/probe-worker.mjs. */
import { parentPort } from 'node:worker_threads';
import { PlanCache } from '../../core/planning/planCache.js';
import { type WantedProbe, wantedProbes } from '../../core/preflight/preflight.js';
import type { FrameProbe } from '../../core/preflight/probe.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { SceneProber } from '../../engine/probes/sceneProber.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { assetsOf, planTask } from './plannedTask.js';
import type { FromProbeHelper, ProbeShare, ToProbeHelper } from './preflightTask.js';

const port = parentPort!;
const module = loadKernelModule();
const prober = new SceneProber(module);
const plans = new PlanCache();
let open: { serial: number; wanted: WantedProbe[]; source: AssetProvider } | null = null;

async function probe({ serial, task, indices }: ProbeShare): Promise<FrameProbe[]> {
  if (task) open = { serial, wanted: wantedProbes(planTask(task, plans).plan), source: assetsOf(task, module) };
  const { wanted, source } = open!;
  if (open!.serial !== serial) throw new Error('Another plan is probed meanwhile.');
  const answers: FrameProbe[] = [];
  for (const i of indices) answers.push(await prober.probe(wanted[i]!, source));
  return answers;
}

/** One after another: they share the kernel's memory. */
let last: Promise<void> = Promise.resolve();
port.on('message', ({ id, ...share }: ToProbeHelper) => {
  last = last
    .then(async () => port.postMessage({ id, answers: await probe(share) } satisfies FromProbeHelper))
    .catch((e: unknown) => port.postMessage({ id, problem: (e as Error).message } satisfies FromProbeHelper));
});
