/** Entry of a thread that reads one model and ends; bundled to dist/import-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import { ModelError, type ReadOptions, type SourceFile } from '../../formats/format.js';
import { prepare } from '../prepare.js';

const { module, files, options } = workerData as { module: WebAssembly.Module; files: SourceFile[]; options: ReadOptions };
const port = parentPort!;

try {
  const prepared = await prepare(module, files, options, (share, what) => port.postMessage({ type: 'progress', share, what }));
  port.postMessage({ type: 'done', prepared });
} catch (e) {
  port.postMessage({ type: 'fault', model: e instanceof ModelError, message: (e as Error).message });
}
