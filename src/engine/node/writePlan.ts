/** Writes a plan as GLB in a thread of its own: a large model would hold up everything else that is asked meanwhile. */
import { Worker } from 'node:worker_threads';
import type { PlanContext } from '../../core/planning/planFrames.js';
import type { SetFile } from '../../core/plan/set.js';
import { distFile } from './assets.js';

/** A plan to be written as a glTF file. */
export interface PlanTask {
  set: SetFile;
  context: PlanContext;
  /** Path of the canonical model. */
  model: string;
  /** Paths of the pictures on materials, by the names that the set has for them. */
  pictures: Record<string, string>;
}

/** Rejects with one sentence where a material or a picture is not known. */
export function writePlan(task: PlanTask): Promise<Uint8Array> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(distFile('plan-worker.mjs'), { workerData: task });
    worker.on('message', (reply: { bytes: Uint8Array } | { fault: string }) => {
      void worker.terminate();
      if ('bytes' in reply) resolve(reply.bytes);
      else reject(new Error(reply.fault));
    });
    worker.on('error', reject);
  });
}
