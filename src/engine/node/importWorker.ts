/** Entry of a process that reads a model; bundled to dist/import-worker.mjs. */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
// Every model is written and read again as a GLB: a process that waits for one has that ready.
import '../../formats/glb/read.js';
import '../../formats/glb/write.js';
import { type Model, triangleCount } from '../../core/model/model.js';
import { digestOf, type ViewportLod, prepare } from '../scene/prepare.js';
import { VIEWPORT_TRIANGLES } from '../scene/viewportLod.js';
import { distFile, loadKernelModule } from './assets.js';
import { IMPORT_FILES, type ImportDone, type ImportTask } from './importTask.js';
import { serveTasks } from './serveTasks.js';

/** Makes the lighter form in a thread beside this one; where that fails, the viewport has the whole. */
function lighterModel(model: Model): Promise<ViewportLod | null> {
  if (triangleCount(model) <= VIEWPORT_TRIANGLES) return Promise.resolve(null);
  return new Promise((resolve) => {
    const worker = new Worker(distFile('reduce-worker.mjs'), { workerData: model });
    const end = (light: ViewportLod | null): void => {
      void worker.terminate();
      resolve(light);
    };
    worker.once('message', end);
    worker.once('error', () => end(null));
  });
}

serveTasks<ImportTask, ImportDone>(async ({ files, options, out }, progress) => {
  const sources = await Promise.all(files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await readFile(f.path)) })));
  const { summary, glb, scene, viewport } = await prepare(loadKernelModule(), sources, options, progress, lighterModel);
  const write = (name: string, content: Uint8Array | string): Promise<void> => writeFile(path.join(out, name), content);
  await write(IMPORT_FILES.glb, glb);
  await write(IMPORT_FILES.scene, scene);
  if (viewport) await write(IMPORT_FILES.viewport, viewport);
  await write(IMPORT_FILES.summary, JSON.stringify(summary));
  return digestOf(summary);
});
