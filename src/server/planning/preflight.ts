/** Looks at plans before they run, in a thread beside the server's: checks them, and tells what their cost depends on. */
import { Worker } from 'node:worker_threads';
import { distFile } from '../../engine/node/assets.js';
import { ServerError } from '../errors.js';
import type { FromPreflight, PreflightCall, PreflightCalls, ToPreflight } from './preflightTask.js';

interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
  onProgress: (done: number, total: number) => void;
}

/** Nobody waits for the check any more. */
export class CheckStopped extends Error {
  override name = 'CheckStopped';
}

/** A check that takes longer lets batches go on beside it. */
const MAX_HOLD_MS = 15_000;

/** Checks plans in workers, so that requests are answered meanwhile. */
export class Preflight {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private serial = 0;

  /** @param hold lets the workers' lesser jobs wait until what it returns is called: a check is quick, and somebody waits for it. */
  constructor(private readonly hold: () => () => void = () => () => {}) {}

  private thread(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(distFile('preflight-worker.mjs'));
    worker.unref();
    worker.on('message', (message: FromPreflight) => this.receive(worker, message));
    worker.on('error', () => this.drop(worker));
    worker.on('exit', () => this.drop(worker));
    return (this.worker = worker);
  }

  private receive(worker: Worker, message: FromPreflight): void {
    const waiting = this.waiting.get(message.id);
    if ('total' in message) {
      waiting?.onProgress(message.done, message.total);
      return;
    }
    this.waiting.delete(message.id);
    if (this.waiting.size === 0) worker.unref();
    if ('answer' in message) waiting?.resolve(message.answer as never);
    else waiting?.reject('problem' in message ? new ServerError('unusable', message.problem) : new CheckStopped('stopped'));
  }

  private drop(worker: Worker): void {
    if (this.worker !== worker) return;
    this.worker = null;
    for (const { reject } of this.waiting.values())
      reject(new ServerError('overloaded', 'The plan could not be checked: its thread broke down. Try again.'));
    this.waiting.clear();
  }

  /** Looks at one plan after those asked before. Rejects with CheckStopped where the signal stops it, and with ServerError where it cannot be done. */
  run<C extends PreflightCall>(
    call: C,
    ask: PreflightCalls[C]['ask'],
    signal: AbortSignal,
    onProgress: (done: number, total: number) => void = () => {},
  ): Promise<PreflightCalls[C]['answer']> {
    if (signal.aborted) return Promise.reject(new CheckStopped('stopped'));
    const release = this.hold();
    const tooLong = setTimeout(release, MAX_HOLD_MS).unref();
    const answer = new Promise<PreflightCalls[C]['answer']>((resolve, reject) => {
      const id = ++this.serial;
      const worker = this.thread();
      this.waiting.set(id, { resolve, reject, onProgress });
      worker.ref();
      worker.postMessage({ id, call, ask } as ToPreflight);
      signal.addEventListener('abort', () => this.worker?.postMessage({ id, stop: true } satisfies ToPreflight), { once: true });
    });
    return answer.finally(() => {
      clearTimeout(tooLong);
      release();
    });
  }

  async close(): Promise<void> {
    const worker = this.worker;
    this.worker = null;
    await worker?.terminate();
  }
}
