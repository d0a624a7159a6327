/** Entry of a tracing thread; bundled to dist/tile-worker.mjs. */
import { setPriority } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { makeTracer } from '../scheduler/tileWorker.js';
import type { ToWorker } from '../scheduler/messages.js';

/** Behind the server's own thread and the one that checks plans, where both cores are busy. */
const NICENESS = 5;

// On Linux that is this thread's alone; elsewhere it would be the whole server's.
if (process.platform === 'linux') setPriority(0, NICENESS);

const { module } = workerData as { module: WebAssembly.Module };
const port = parentPort!;
const handle = makeTracer(
  module,
  (m) => port.postMessage(m),
  () => performance.now(),
);
port.on('message', (m: ToWorker) => handle(m));
