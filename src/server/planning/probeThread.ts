/** The thread beside the one that looks at plans: it probes a share of the frames, so that both cores do. */
import { Worker } from 'node:worker_threads';
import type { FrameProbe } from '../../core/preflight/probe.js';
import { distFile } from '../../engine/node/assets.js';
import type { ProbeHelper } from '../../engine/probes/checkPlan.js';
import type { FromProbeHelper, PreflightTask, ToProbeHelper } from './preflightTask.js';

interface Asked {
  resolve: (answers: FrameProbe[]) => void;
  reject: (error: Error) => void;
}

/** A further thread that takes half of the frames that are probed. */
export class ProbeThread {
  private worker: Worker | null = null;
  private readonly asked = new Map<number, Asked>();
  private serial = 0;

  private thread(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(distFile('probe-worker.mjs'));
    worker.unref();
    worker.on('message', (message: FromProbeHelper) => {
      const asked = this.asked.get(message.id);
      this.asked.delete(message.id);
      if ('answers' in message) asked?.resolve(message.answers);
      else asked?.reject(new Error(message.problem));
    });
    for (const end of ['error', 'exit'] as const) worker.on(end, () => this.drop(worker));
    return (this.worker = worker);
  }

  private drop(worker: Worker): void {
    if (this.worker !== worker) return;
    this.worker = null;
    for (const { reject } of this.asked.values()) reject(new Error('The thread that probes frames broke down.'));
    this.asked.clear();
  }

  /** Probes frames of that task; it is sent along once. */
  of(task: PreflightTask): ProbeHelper {
    const serial = ++this.serial;
    let at: Worker | null = null;
    return (indices) =>
      new Promise((resolve, reject) => {
        const id = ++this.serial;
        const worker = this.thread();
        this.asked.set(id, { resolve, reject });
        worker.postMessage({ id, serial, indices, ...(at !== worker && { task }) } satisfies ToProbeHelper);
        at = worker;
      });
  }
}
