/** Plans in a thread beside the server's, so that a hundred thousand frames hold up nothing. */
import { createHash } from 'node:crypto';
import { Worker } from 'node:worker_threads';
import type { Frame } from '../../core/frame/frame.js';
import type { CompiledAssignments } from '../../core/materials/assignments.js';
import { distFile } from '../../engine/node/assets.js';
import { ServerError } from '../errors.js';
import type { ReadSet, SetTextKind } from '../setText.js';
import type { PlanningCall, PlanningCalls, PlanningReply, PlanningRequest } from './tasks.js';

/** A plan cannot be made; the message says which piece of it is wrong. */
export class PlanError extends Error {
  override name = 'PlanError';
}

class UnknownPlanError extends Error {}

interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
}

/** A plan that was opened: its frames are asked for by position. */
export interface OpenPlan {
  total: number;
  /** Rows as JSON, see ROW_COLUMNS. */
  rows(from: number, to: number): Promise<string>;
  frames(from: number, to: number): Promise<Frame[]>;
  assignments(): Promise<CompiledAssignments[]>;
}

/** Plans sets in a worker, so that requests are answered meanwhile. */
export class Planner {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private serial = 0;

  /** @param models folder of the compiled models: plans tell what their frames render of them. */
  constructor(private readonly models: string) {}

  /** The thread; it holds up no process that is otherwise done. */
  private thread(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(distFile('planning-worker.mjs'), { workerData: { models: this.models } });
    worker.unref();
    worker.on('message', (reply: PlanningReply) => {
      const waiting = this.waiting.get(reply.id);
      this.waiting.delete(reply.id);
      if (this.waiting.size === 0) worker.unref();
      if ('answer' in reply) waiting?.resolve(reply.answer as never);
      else waiting?.reject('problem' in reply ? new PlanError(reply.problem) : new UnknownPlanError());
    });
    // What it was asked is not answered any more; the next call starts a new one.
    worker.on('error', () => this.drop(worker));
    worker.on('exit', () => this.drop(worker));
    return (this.worker = worker);
  }

  private drop(worker: Worker): void {
    if (this.worker !== worker) return;
    this.worker = null;
    for (const { reject } of this.waiting.values()) reject(new ServerError('overloaded', 'The plan could not be computed: its thread broke down.'));
    this.waiting.clear();
  }

  private call<C extends PlanningCall>(call: C, ask: PlanningCalls[C]['ask']): Promise<PlanningCalls[C]['answer']> {
    return new Promise((resolve, reject) => {
      const id = ++this.serial;
      const worker = this.thread();
      this.waiting.set(id, { resolve, reject });
      worker.ref();
      worker.postMessage({ id, call, ask } satisfies PlanningRequest);
    });
  }

  /** Starts the thread before anybody waits for it. */
  warm(): void {
    this.thread();
  }

  /** Makes a plan's frames, or finds them where they are held. Rejects with PlanError where it cannot be made. @param plan PlanSnapshot as JSON. */
  async open(plan: string): Promise<OpenPlan> {
    const key = createHash('sha256').update(plan).digest('hex');
    const { total } = await this.call('open', { key, plan });
    const again = async <T>(ask: () => Promise<T>): Promise<T> => {
      try {
        return await ask();
      } catch (e) {
        if (!(e instanceof UnknownPlanError)) throw e;
        // Others were asked for meanwhile, and it is not held any more.
        await this.call('open', { key, plan });
        return ask();
      }
    };
    return {
      total,
      rows: (from, to) => again(() => this.call('rows', { key, from, to })),
      frames: (from, to) => again(() => this.call('frames', { key, from, to })),
      assignments: () => again(() => this.call('assignments', { key })),
    };
  }

  /** As readSet, of a long text. Rejects with PlanError that names each wrong place. */
  readSet(kind: SetTextKind, text: string): Promise<ReadSet> {
    return this.call('readSet', { kind, text });
  }

  async close(): Promise<void> {
    const worker = this.worker;
    this.worker = null;
    await worker?.terminate();
  }
}
