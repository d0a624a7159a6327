/** Entry of the thread that checks plans; bundled to dist/preflight-worker.mjs. */
import { readFileSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import { transformedBounds } from '../../core/model/modelTransform.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { PlanCache } from '../../core/planning/planCache.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import { type ModelPart, preflightPlan, unplannable } from '../../core/preflight/preflight.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { decodeTexels } from '../../engine/node/texels.js';
import { type CheckedPlan, checkPlan, type ProbeCache } from '../../engine/probes/checkPlan.js';
import { SceneProber } from '../../engine/probes/sceneProber.js';
import { decodeScene } from '../../engine/scene/compile.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { decodeTexture } from '../../formats/image/texture.js';
import type { FromPreflight, PreflightTask, ToPreflight } from './preflightTask.js';

/** Answers that are kept, about half a kilobyte each; the oldest tenth goes when there are more. */
const MAX_CACHED = 50_000;

const port = parentPort!;
const send = (message: FromPreflight): void => port.postMessage(message);
const module = loadKernelModule();
const prober = new SceneProber(module);
const cache: ProbeCache = new Map();
const plans = new PlanCache();
const stops = new Map<number, AbortController>();

function assets({ scene, textures, environments, plan }: PreflightTask): AssetProvider {
  const bytesOf = (files: Record<string, string>, file: string): Uint8Array => {
    const at = files[file];
    if (at === undefined) throw new Error(`The image "${file}" is not here; import it again.`);
    return new Uint8Array(readFileSync(at));
  };
  return {
    hash: plan.context.scene,
    scene: () => decodeScene(new Uint8Array(readFileSync(scene)))!,
    module: () => module,
    texture: (file) => decodeTexture(file, bytesOf(textures, file)),
    picture: (file) => Promise.resolve(decodeTexels(bytesOf(environments, file))!),
  };
}

async function check(task: PreflightTask, signal: AbortSignal, onProgress: (done: number, total: number) => void): Promise<CheckedPlan> {
  const { set, context, select } = task.plan;
  let frames: ReturnType<typeof planFrames>;
  try {
    frames = selectPlannedFrames(planFrames(set, context, plans), select ?? '');
  } catch (e) {
    return { ...unplannable((e as Error).message), frames: 0, probed: 0 };
  }
  const parts = JSON.parse(task.parts) as ModelPart[];
  const bounds = transformedBounds(set.transform, context.bounds);
  const plan = preflightPlan(set, frames, { parts, bounds, scene: context.scene }, task.missingFiles);
  const report = await checkPlan(plan, prober, assets(task), { cache, signal, onProgress });
  if (cache.size > MAX_CACHED) for (const key of [...cache.keys()].slice(0, MAX_CACHED / 10)) cache.delete(key);
  return report;
}

/** One after another: they share the kernel's memory. */
let last: Promise<void> = Promise.resolve();

function take(id: number, task: PreflightTask): void {
  const stop = new AbortController();
  stops.set(id, stop);
  last = last
    .then(async () => {
      stop.signal.throwIfAborted();
      send({ id, report: await check(task, stop.signal, (done, total) => send({ id, done, total })) });
    })
    .catch((e: unknown) => send(stop.signal.aborted ? { id, stopped: true } : { id, problem: (e as Error).message }))
    .finally(() => stops.delete(id));
}

port.on('message', (message: ToPreflight) => {
  if ('stop' in message) stops.get(message.id)?.abort();
  else take(message.id, message.task);
});
