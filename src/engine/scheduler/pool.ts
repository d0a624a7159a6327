/**
 * Hands tiles of frames to workers. Tiles of the first frame in line go out first, then those of the
 * next, so that no worker waits while another finishes the last tile of a frame; some tasks lie at
 * each worker, so that none waits for a message.
 */
import { AbortedError, type LinearRender, type RenderOptions, type RenderJob, type WorkStats } from './job.js';
import { createJob, finishedRender, finishEarly, frameMessages, shareSamples } from './jobSteps.js';
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import type { CompiledScene } from '../scene/compile.js';
import { MAX_TILE } from '../upload/tileMemory.js';
import { filmLayout } from '../upload/filmLayout.js';
import { BufferPool } from './bufferPool.js';
import type { FromWorker, TaskMessage, Thread } from './messages.js';
import { SceneCache } from './sceneCache.js';
import { type RenderStep, renderSteps, tilesOfRegion, needsLineart } from '../sampling/renderSteps.js';

// So many tiles outlast the moments in which the host is busy with something else.
const TASKS_PER_WORKER = 6;

export class Pool {
  private readonly scenes: SceneCache;
  private readonly buffers: BufferPool;
  private readonly jobs: RenderJob[] = [];
  private readonly load: number[];
  private serial = 0;
  private broken: Error | null = null;
  private span = { started: 0, busy: 0, traced: 0 };

  constructor(
    module: WebAssembly.Module,
    private readonly threads: Thread[],
    private readonly tileSize = 32,
  ) {
    if (tileSize < L.NEED_CELL || tileSize > MAX_TILE || tileSize % L.NEED_CELL !== 0)
      throw new Error(`A tile is ${L.NEED_CELL} to ${MAX_TILE} pixels wide, in steps of ${L.NEED_CELL}.`);
    this.scenes = new SceneCache(module, threads);
    this.buffers = new BufferPool(threads.length);
    this.load = threads.map(() => 0);
    threads.forEach((thread, i) => {
      thread.onMessage((message) => this.receive(i, message));
      thread.onFailure((error) => this.fail(error));
    });
  }

  get workers(): number {
    return this.threads.length;
  }

  /** Starts a new span of measurement. */
  resetStats(): void {
    this.span = { started: 0, busy: 0, traced: 0 };
  }

  stats(): WorkStats {
    const wall = this.span.started > 0 ? performance.now() - this.span.started : 0;
    return { wall: wall / 1000, busy: this.span.busy / 1000, traced: this.span.traced / 1000, workers: this.workers };
  }

  /** Whether the scene of this hash lies in memory already. */
  holds(hash: string): boolean {
    return this.scenes.get(hash) !== undefined;
  }

  /**
   * Renders a frame of the scene told by its hash. `scene` is asked for only where it is not loaded.
   * Rejects with AbortedError where the signal stops it.
   */
  async render(hash: string, scene: () => Promise<CompiledScene> | CompiledScene, frame: Frame, options: RenderOptions = {}): Promise<LinearRender> {
    if (this.broken) throw this.broken;
    let attached = this.scenes.get(hash) ?? this.scenes.attach(hash, await scene());
    // Between the await and now another scene may have pushed this one out.
    if (this.scenes.get(hash) !== attached) attached = this.scenes.attach(hash, await scene());
    if (options.signal?.aborted) throw new AbortedError();
    return new Promise((resolve, reject) => {
      const job = createJob(++this.serial, attached, frame, options, { resolve, reject });
      this.scenes.use(attached);
      const at = this.jobs.findIndex((j) => j.priority < job.priority);
      this.jobs.splice(at < 0 ? this.jobs.length : at, 0, job);
      const stop = (): void => this.end(job, new AbortedError());
      options.signal?.addEventListener('abort', stop, { once: true });
      const enough = (): void => finishEarly(job, 'hand');
      options.enough?.addEventListener('abort', enough, { once: true });
      job.unhook = () => {
        options.signal?.removeEventListener('abort', stop);
        options.enough?.removeEventListener('abort', enough);
      };
      this.dispatch();
    });
  }

  async close(): Promise<void> {
    for (const job of [...this.jobs]) this.end(job, new AbortedError());
    await Promise.all(this.threads.map((t) => t.close()));
  }

  private tiles(stage: RenderStep, job: RenderJob): TaskMessage[] {
    return tilesOfRegion(stage, job.id, job.frame, this.tileSize, job.options.region);
  }

  /** Lays the frame into a free slot; false where there is none. */
  private start(job: RenderJob): boolean {
    const slot = job.scene.free.pop();
    if (slot === undefined) return false;
    const { width, height } = job.frame.size;
    const { stride } = filmLayout(job.frame);
    const { denoise } = job.frame.sampling;
    job.slot = slot;
    job.started = true;
    job.startedAt = performance.now();
    job.stride = stride;
    job.film = this.buffers.take(width * height * stride * 4);
    job.out = this.buffers.take(width * height * 12);
    job.planes = denoise ? this.buffers.takePlanes(width, height, stride) : undefined;
    if (job.options.resume) new Float32Array(job.film).set(job.options.resume.sums);
    // Buffers are used again: what is looked at, or left out by the region, must not hold an earlier picture.
    else if (job.options.region || job.options.onStart) new Float32Array(job.film).fill(0);
    job.record = job.scene.host.lay(slot, job.frame);
    job.lines = needsLineart(job.frame) ? this.buffers.take(width * height * 4) : undefined;
    frameMessages(job, this.workers).forEach((message, i) => this.threads[i]!.post(message));
    job.stages = renderSteps(job.frame, job.options);
    job.options.onStart?.({ width, height, stride, sums: new Float32Array(job.film) });
    // It may have fired before there was anything to end.
    if (job.options.enough?.aborted) finishEarly(job, 'hand');
    job.total = job.stages.reduce((n, s) => n + this.tiles(s, job).length, 0);
    this.nextStage(job);
    return true;
  }

  /** Goes on to the job's next stage; ends it after the last. */
  private nextStage(job: RenderJob): void {
    if (job.ended) return;
    const { seconds } = job.frame.sampling;
    const next = job.stages[0];
    if (next?.type === 'trace' && job.samples > 0 && seconds > 0 && performance.now() - job.startedAt > seconds * 1000) finishEarly(job, 'time');
    const stage = job.stages.shift();
    if (!stage) {
      this.end(job, null);
      return;
    }
    if (stage.type === 'show') {
      const { options, out, film, samples } = job;
      options.onRound?.({ colour: new Float32Array(out!), sums: new Float32Array(film!), samples });
      this.nextStage(job);
      return;
    }
    if (stage.type === 'share') {
      shareSamples(job, this.tileSize);
      this.nextStage(job);
      return;
    }
    if (stage.type === 'trace') job.samples = stage.to;
    job.tasks = this.tiles(stage, job);
    job.left = job.tasks.length;
    if (job.left === 0) this.nextStage(job);
  }

  private next(): { job: RenderJob; task: TaskMessage } | null {
    for (const job of this.jobs) {
      if (!job.started) {
        try {
          if (!this.start(job)) continue;
        } catch (e) {
          this.end(job, e as Error);
          return this.next();
        }
      }
      const task = job.tasks.shift();
      if (task) return { job, task };
    }
    return null;
  }

  private dispatch(): void {
    for (let free = true; free;) {
      free = false;
      for (let i = 0; i < this.threads.length; i++) {
        if (this.load[i]! >= TASKS_PER_WORKER) continue;
        const found = this.next();
        if (!found) return;
        this.load[i]!++;
        this.span.started ||= performance.now();
        found.job.inFlight++;
        this.threads[i]!.post(found.task);
        free = true;
      }
    }
  }

  private receive(worker: number, message: FromWorker): void {
    this.load[worker]!--;
    const job = this.jobs.find((j) => j.id === message.job) ?? this.leaving.get(message.job);
    if (job) {
      job.inFlight--;
      if (message.type === 'fault') this.end(job, new Error(message.message));
      else this.account(job, message.task, message.busy);
      if (job.ended) this.leave(job);
    }
    this.dispatch();
  }

  /** Jobs that were ended while tasks of theirs were still at workers. */
  private readonly leaving = new Map<number, RenderJob>();

  private account(job: RenderJob, task: TaskMessage['type'], busy: number): void {
    job.busy += busy;
    job.done++;
    this.span.busy += busy;
    if (task === 'trace') {
      job.traced += busy;
      this.span.traced += busy;
    }
    job.left--;
    if (job.ended) return;
    job.options.onProgress?.(Math.min(1, job.done / job.total));
    if (job.left === 0 && job.tasks.length === 0) this.nextStage(job);
  }

  private end(job: RenderJob, error: Error | null): void {
    if (job.ended) return;
    job.ended = true;
    job.unhook?.();
    job.tasks = [];
    this.jobs.splice(this.jobs.indexOf(job), 1);
    this.leaving.set(job.id, job);
    if (error) job.reject(error);
    else {
      const { film, out, planes, lines } = job;
      const render = finishedRender(job, this.workers, () => this.buffers.recycle(film, out, lines));
      job.film = job.out = job.planes = job.lines = undefined;
      this.buffers.recyclePlanes(planes);
      job.resolve(render);
    }
    this.leave(job);
  }

  /** Frees an ended job's slot once no worker can write for it any more. */
  private leave(job: RenderJob): void {
    if (job.inFlight > 0 || !this.leaving.delete(job.id)) return;
    for (const t of this.threads) if (job.started) t.post({ type: 'drop', job: job.id });
    if (job.started) job.scene.free.push(job.slot);
    this.buffers.recycle(job.film, job.out, job.lines);
    this.buffers.recyclePlanes(job.planes);
    job.scene.jobs--;
    this.dispatch();
  }

  private fail(error: Error): void {
    this.broken = new Error(`A tracing worker ended unexpectedly: ${error.message}. Start Cold Easel again; finished frames are kept.`);
    for (const job of [...this.jobs]) this.end(job, this.broken);
  }
}
