/** A task of the threads that look at plans, read: its frames, and where the images of its scene are. */
import { readFileSync } from 'node:fs';
import type { Frame } from '../../core/frame/frame.js';
import { transformedBounds } from '../../core/model/modelTransform.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import type { PlanCache } from '../../core/planning/planCache.js';
import { planFrames } from '../../core/planning/planFrames.js';
import type { PreflightPlan } from '../../core/preflight/finding.js';
import { type ModelPart, preflightPlan } from '../../core/preflight/preflight.js';
import { decodeTexels } from '../../engine/node/texels.js';
import { decodeScene } from '../../engine/scene/compile.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { decodeTexture } from '../../formats/image/texture.js';
import type { PreflightTask } from './preflightTask.js';

/** Scene and images of a task, each read when it is asked for. */
export function assetsOf({ scene, textures, environments, plan }: PreflightTask, module: WebAssembly.Module): AssetProvider {
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

/** Its frames, and what is to be judged of them. Throws an Error that says what of the set is wrong. */
export function planTask(task: PreflightTask, plans: PlanCache): { frames: Frame[]; plan: PreflightPlan } {
  const { set, context, select } = task.plan;
  const frames = selectPlannedFrames(planFrames(set, context, plans), select ?? '');
  const parts = JSON.parse(task.parts) as ModelPart[];
  const bounds = transformedBounds(set.transform, context.bounds);
  const { missingFiles, output } = task;
  return { frames, plan: preflightPlan(set, frames, { parts, bounds, scene: context.scene }, { missingFiles, output }) };
}
