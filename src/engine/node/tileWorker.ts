/** Entry of a tracing thread; bundled to dist/tile-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import { makeTracer } from '../scheduler/tileWorker.js';
import type { ToWorker } from '../scheduler/messages.js';

const { module } = workerData as { module: WebAssembly.Module };
const port = parentPort!;
const handle = makeTracer(
  module,
  (m) => port.postMessage(m),
  () => performance.now(),
);
port.on('message', (m: ToWorker) => handle(m));
