/** Entry of a thread that reads one model and ends; bundled to dist/import-worker.mjs. */
import { parentPort, Worker } from 'node:worker_threads';
import { ModelError } from '../../formats/format.js';
import { type Model, triangleCount } from '../../core/model/model.js';
import { type LighterGlb, prepare } from '../prepare.js';
import { VIEWPORT_TRIANGLES } from '../reduce.js';
import { distFile } from './assets.js';
import { type ImportTask } from './importTask.js';

const port = parentPort!;

/** Makes the lighter form in a thread beside this one; where that fails, the viewport has the whole. */
function lighter(model: Model): Promise<LighterGlb | null> {
  if (triangleCount(model) <= VIEWPORT_TRIANGLES) return Promise.resolve(null);
  return new Promise((resolve) => {
    const worker = new Worker(distFile('reduce-worker.mjs'), { workerData: model });
    const end = (light: LighterGlb | null): void => {
      void worker.terminate();
      resolve(light);
    };
    worker.once('message', end);
    worker.once('error', () => end(null));
  });
}

// Waits for its task: reading the libraries takes longer than many a model.
const { module, files, options } = await new Promise<ImportTask>((resolve) => port.once('message', resolve));

try {
  const prepared = await prepare(module, files, options, (share, what) => port.postMessage({ type: 'progress', share, what }), lighter);
  // Handed over, not copied: they are large.
  const buffers = [prepared.glb, prepared.scene, prepared.viewport].flatMap((b) => (b ? [b.buffer as ArrayBuffer] : []));
  port.postMessage({ type: 'done', prepared }, [...new Set(buffers)]);
} catch (e) {
  port.postMessage({ type: 'fault', model: e instanceof ModelError, message: (e as Error).message });
}
