/** Entry of a tracing thread; bundled to dist/engine-worker.mjs. */
import { parentPort, workerData } from 'node:worker_threads';
import { makeTracer } from '../tracer.js';
import { type ToWorker } from '../messages.js';

const { module } = workerData as { module: WebAssembly.Module };
const port = parentPort!;
const handle = makeTracer(
  module,
  (m) => port.postMessage(m),
  () => performance.now(),
);
port.on('message', (m: ToWorker) => handle(m));
