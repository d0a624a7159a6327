/** Tracing threads of this process. */
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { FromWorker, Thread } from '../scheduler/messages.js';
import { Pool } from '../scheduler/pool.js';
import { distFile, loadKernelModule } from './assets.js';

/** A tracing thread of this process. */
export function startThread(module: WebAssembly.Module): Thread {
  const worker = new Worker(distFile('tile-worker.mjs'), { workerData: { module } });
  let closing = false;
  return {
    post: (m) => worker.postMessage(m),
    onMessage: (handler) => worker.on('message', (m: FromWorker) => handler(m)),
    onFailure: (handler) => {
      worker.on('error', handler);
      worker.on('exit', (code) => closing || handler(new Error(`exit ${code}`)));
    },
    close: async () => {
      closing = true;
      await worker.terminate();
    },
  };
}

/** A pool with one thread a core, unless told otherwise. One that breaks down or hangs is replaced. @param hangMs as in CrewOptions. */
export function startPool(threads = availableParallelism(), tileSize = 32, hangMs?: number): Pool {
  const module = loadKernelModule();
  return new Pool(
    module,
    Array.from({ length: Math.max(1, threads) }, () => startThread(module)),
    tileSize,
    { restart: () => startThread(module), ...(hangMs !== undefined && { hangMs }) },
  );
}
