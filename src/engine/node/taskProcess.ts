/**
 * A process of its own for work on foreign bytes: a reader that crashes, hangs or grows takes nothing else with it. It is
 * watched by time since its last sign of life and by memory, and killed where it exceeds either.
 */
import { type ChildProcess, fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { distFile } from './assets.js';

/** Why a task process was killed or ended, as its host sees it. */
export type TaskEnd = 'stopped' | 'stalled' | 'memory' | 'crashed';

/** The process ended before its task was done. */
export class TaskEndError extends Error {
  override name = 'TaskEndError';
  constructor(readonly end: TaskEnd) {
    super(`The task process ended: ${end}.`);
  }
}

/** What a task process sends. `fault` is a finding about the input; what a task throws otherwise is `crash`. */
export type FromTask<Done> =
  | { type: 'progress'; share: number; what: string }
  | { type: 'done'; result: Done }
  | { type: 'fault'; message: string }
  | { type: 'crash'; message: string };

/** What a task may take. */
export interface TaskLimits {
  /** Milliseconds without a sign of life. */
  stallMs: number;
  /** Bytes of memory. */
  bytes: number;
}

/** How a task is watched, limited and stopped. */
export interface TaskOptions extends TaskLimits {
  onProgress?: (share: number, what: string) => void;
  signal?: AbortSignal;
}

const WATCH_MS = 100;
const HEAP_MB = 6144;
const PAGE_BYTES = 4096;

/** Resident memory of a process in bytes, from /proc; 0 where the system has none, and memory is then bounded by the heap alone. */
function residentBytes(pid: number): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'latin1').split(' ')[1]) * PAGE_BYTES;
  } catch {
    return 0;
  }
}

/** A finding about the input, as the task said it. */
export class TaskFault extends Error {
  override name = 'TaskFault';
}

/** A process for tasks that may run away: it is ended where one does, and made anew for the next. */
export class TaskProcess<Task extends object, Done> {
  private child: ChildProcess | null = null;
  /** Tasks run one after another. */
  private last: Promise<unknown> = Promise.resolve();

  /**
   * @param bundle file in dist/ that calls serveTasks.
   * @param single whether each task gets a process of its own, so that nothing of one reaches the next.
   */
  constructor(
    private readonly bundle: string,
    private readonly single: boolean,
  ) {}

  /** Starts the process that the next task will use. It holds up no program that is otherwise done. */
  warm(): void {
    if (this.child) return;
    const child = fork(distFile(this.bundle), [], {
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      execArgv: [`--max-old-space-size=${HEAP_MB}`],
    });
    child.once('exit', () => {
      if (this.child === child) this.child = null;
    });
    child.on('error', () => undefined);
    child.unref();
    child.channel?.unref();
    this.child = child;
  }

  /**
   * Runs a task after those before it. Rejects with TaskFault where the input is at fault, and with TaskEndError where
   * the process was killed or died; the next task gets a new one.
   */
  run(task: Task, options: TaskOptions): Promise<Done> {
    const run = this.last.then(() => this.runNow(task, options));
    this.last = run.catch(() => undefined);
    return run;
  }

  private runNow(task: Task, { stallMs, bytes, onProgress, signal }: TaskOptions): Promise<Done> {
    if (signal?.aborted) return Promise.reject(new TaskEndError('stopped'));
    this.warm();
    const child = this.child!;
    child.ref();
    child.channel?.ref();
    return new Promise<Done>((resolve, reject) => {
      let heard = performance.now();
      let ended = false;
      const settle = (act: () => void, keep: boolean): void => {
        if (ended) return;
        ended = true;
        clearInterval(watch);
        signal?.removeEventListener('abort', stop);
        child.removeAllListeners('message');
        child.removeListener('exit', died);
        if (keep && !this.single && child.connected) {
          child.unref();
          child.channel?.unref();
        } else {
          if (this.child === child) this.child = null;
          child.kill('SIGKILL');
        }
        act();
      };
      const kill = (end: TaskEnd): void => settle(() => reject(new TaskEndError(end)), false);
      const stop = (): void => kill('stopped');
      const died = (): void => kill('crashed');
      const look = (): void => {
        if (performance.now() - heard > stallMs) kill('stalled');
        else if (child.pid !== undefined && residentBytes(child.pid) > bytes) kill('memory');
      };
      const watch = setInterval(look, WATCH_MS);
      // What is over before the first turn of the clock is bounded too.
      setImmediate(() => !ended && look());
      signal?.addEventListener('abort', stop, { once: true });
      child.once('exit', died);
      child.on('message', (message: FromTask<Done>) => {
        heard = performance.now();
        if (message.type === 'progress') onProgress?.(message.share, message.what);
        else if (message.type === 'done') settle(() => resolve(message.result), true);
        else if (message.type === 'fault') settle(() => reject(new TaskFault(message.message)), true);
        else settle(() => reject(new TaskEndError('crashed')), false);
      });
      child.send(task, (e) => e && died());
    });
  }

  /** Ends the process; a task that runs is given up. */
  close(): void {
    this.child?.kill('SIGKILL');
    this.child = null;
  }
}
