/** Checks a set on a revision before it runs. */
import { access as mayWrite, constants } from 'node:fs/promises';
import { toMaterial, textureFilesOf } from '../core/materials/customMaterial.js';
import { backdropFiles, environmentFiles, type SetFile } from '../core/plan/set.js';
import type { CheckedPlan } from '../engine/probes/checkPlan.js';
import type { OutputPlace } from '../core/preflight/finding.js';
import { PICTURES } from './assets/assetStore.js';
import { freeBytes } from './batches/diskRoom.js';
import type { ServerContext } from './context.js';
import type { Revision } from './db/models.js';
import type { PreflightTask } from './planning/preflightTask.js';
import { partsText } from './revisions.js';

/** Files of images that the set names. */
function namedImages(set: SetFile): { textures: string[]; environments: string[] } {
  const materials = (set.materials?.materials ?? []).map(toMaterial);
  return { textures: [...new Set([...textureFilesOf(materials), ...backdropFiles(set)])], environments: environmentFiles(set) };
}

/** Where the files of a plan are to go, and whether they can. */
async function outputPlace({ store, config, access, forecasts }: ServerContext, plan: PreflightTask['plan']): Promise<OutputPlace> {
  const folder = store.picture('.', PICTURES);
  const writable = await mayWrite(folder, constants.W_OK).then(
    () => true,
    // It is made with the first batch.
    (e: NodeJS.ErrnoException) => e.code === 'ENOENT',
  );
  return {
    // Where others can reach the server, paths of its machine are none of their business.
    folder: access.exposed ? 'the folder of pictures' : folder,
    writable,
    free: Math.max(0, (await freeBytes(store.root)) - config.reserveBytes),
    needed: forecasts.known(plan)?.forecast.bytes ?? null,
  };
}

/** What a check of the plan on a revision reads. */
export async function preflightTask(context: ServerContext, revision: Revision, plan: PreflightTask['plan']): Promise<PreflightTask> {
  const { store } = context;
  const named = namedImages(plan.set);
  const [textures, environments]: [Record<string, string>, Record<string, string>] = [{}, {}];
  const missingFiles: string[] = [];
  for (const file of named.textures) {
    if (await store.hasTexture(file)) textures[file] = store.texture(file);
    else missingFiles.push(file);
  }
  for (const file of named.environments) {
    if (await store.hasEnvironmentMap(file)) environments[file] = await store.environmentTexels(file);
    else missingFiles.push(file);
  }
  return {
    plan,
    parts: await partsText(context, revision.id),
    scene: await store.scenePath(revision.hash),
    textures,
    environments,
    missingFiles,
    output: await outputPlace(context, plan),
  };
}

/** Checks a set as it stands on a revision. */
export async function checkSet(
  context: ServerContext,
  revision: Revision,
  plan: PreflightTask['plan'],
  signal: AbortSignal,
  onProgress?: (done: number, total: number) => void,
): Promise<CheckedPlan> {
  return context.preflight.run('check', await preflightTask(context, revision, plan), signal, onProgress);
}
