/**
 * Hands tiles to workers: those of the first frame in line go out first, then those of the next, so that no worker waits for the last
 * tile of another; some tasks lie at each worker, so that none waits for a message.
 */
import { AbortedError, DeadlyFrameError, type LinearRender, type RenderOptions, type RenderJob, type WorkStats } from './job.js';
import { createJob, endInTime, finishedRender, finishEarly, frameMessage, isRepeatable, liveFilm, shareSamples, takeMemory } from './jobSteps.js';
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import type { CompiledScene } from '../scene/compile.js';
import { MAX_TILE } from '../upload/tileMemory.js';
import { BufferPool } from './bufferPool.js';
import { Crew, type CrewOptions } from './crew.js';
import { Holds } from './holds.js';
import type { DoneMessage, FromWorker, TaskMessage, Thread } from './messages.js';
import { SceneCache } from './sceneCache.js';
import { WorkSpan } from './workSpan.js';
import { type RenderStep, renderSteps, takeFollowing, tilesOfRegion } from '../sampling/renderSteps.js';

// So many tiles outlast the moments in which the host is busy with something else.
const TASKS_PER_WORKER = 6;
/** A frame at whose tasks so many workers ended is given up: the others must not end of it too. */
const MAX_LOSSES_PER_FRAME = 2;
/** Renders frames on workers. */
export class Pool {
  private readonly scenes: SceneCache;
  private readonly buffers: BufferPool;
  private readonly jobs: RenderJob[] = [];
  private readonly crew: Crew;
  private readonly held = new Holds();
  private serial = 0;
  private broken: Error | null = null;
  private span = new WorkSpan();

  /** @param options how workers are replaced. */
  constructor(
    module: WebAssembly.Module,
    threads: Thread[],
    private readonly tileSize = 32,
    options: CrewOptions = {},
  ) {
    if (tileSize < L.NEED_CELL || tileSize > MAX_TILE || tileSize % L.NEED_CELL !== 0)
      throw new Error(`A tile is ${L.NEED_CELL} to ${MAX_TILE} pixels wide, in steps of ${L.NEED_CELL}.`);
    this.buffers = new BufferPool(threads.length);
    this.crew = new Crew(
      threads,
      {
        receive: (_, message) => this.receive(message),
        replaced: (place, tasks) => this.takeUp(place, tasks),
        lost: (error) => this.fail(error),
      },
      options,
    );
    this.scenes = new SceneCache(module, this.crew);
  }

  get workers(): number {
    return this.crew.size;
  }

  /** Starts a new span of measurement. */
  resetStats(): void {
    this.span = new WorkSpan();
  }

  stats(): WorkStats {
    return this.span.stats(this.workers);
  }

  /** Whether the scene of this hash lies in memory already. */
  holds(hash: string): boolean {
    return this.scenes.get(hash) !== undefined;
  }

  /** Lets jobs of lower priority wait, but for tasks that are in work, until what is returned is called. */
  hold(below: number): () => void {
    const release = this.held.add(below);
    return () => (release(), this.dispatch());
  }

  /**
   * Renders a frame of the scene told by its hash. `scene` is asked for only where it is not loaded.
   * Rejects with AbortedError where the signal stops it.
   */
  async render(hash: string, scene: () => Promise<CompiledScene> | CompiledScene, frame: Frame, options: RenderOptions = {}): Promise<LinearRender> {
    if (this.broken) throw this.broken;
    let attached = this.scenes.get(hash) ?? this.scenes.attach(hash, await scene());
    // Another scene may have pushed this one out meanwhile.
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
    await this.crew.close();
  }

  private tiles(stage: RenderStep, job: RenderJob): TaskMessage[] {
    return tilesOfRegion(stage, job.id, job.frame, this.tileSize, job.options);
  }

  /** Lays the frame into a free slot; false where there is none. */
  private start(job: RenderJob): boolean {
    const slot = job.scene.free.pop();
    if (slot === undefined) return false;
    job.slot = slot;
    job.started = true;
    takeMemory(job, this.buffers);
    job.record = job.scene.host.lay(slot, job.frame);
    job.options.onStart?.(liveFilm(job, () => this.crew.tilesOf(job.id)));
    this.begin(job);
    return true;
  }

  /** Begins the job with its first stage, for the first time or once more. */
  private begin(job: RenderJob): void {
    const { resume, region, onStart, enough } = job.options;
    const film = new Float32Array(job.film!);
    if (resume) film.set(resume.sums);
    // Buffers are used again: what is looked at, or left out by the region, must not hold an earlier picture.
    else if (region || onStart) film.fill(0);
    job.startedAt = performance.now();
    job.samples = 0;
    job.finish = 'samples';
    job.restart = false;
    job.done = 0;
    job.stages = renderSteps(job.frame, job.options);
    // It may have fired before there was anything to end.
    if (enough?.aborted) finishEarly(job, 'hand');
    job.total = job.stages.reduce((n, s) => n + this.tiles(s, job).length, 0);
    this.nextStage(job);
  }

  /** Goes on to the job's next stage; ends it after the last. */
  private nextStage(job: RenderJob): void {
    if (job.ended) return;
    endInTime(job);
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
    else if (job.left === 1) job.tasks[0]!.then = takeFollowing(job.stages, job.tasks[0]!, (s) => this.tiles(s, job));
  }

  private next(): { job: RenderJob; task: TaskMessage } | null {
    const { floor } = this.held;
    for (const job of this.jobs) {
      if (job.priority < floor) return null;
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
      for (let place = 0; place < this.workers; place++) {
        if (this.crew.load(place) >= TASKS_PER_WORKER) continue;
        const found = this.next();
        if (!found) return;
        this.span.begin();
        found.job.inFlight++;
        if (!found.job.told.has(place)) this.crew.tell(place, frameMessage(found.job, place));
        found.job.told.add(place);
        this.crew.give(place, found.task);
        free = true;
      }
    }
  }

  private jobOf(id: number): RenderJob | undefined {
    return this.jobs.find((j) => j.id === id) ?? this.leaving.get(id);
  }

  private receive(message: FromWorker): void {
    const job = this.jobOf(message.job);
    if (job) {
      job.inFlight--;
      if (message.type === 'fault') this.end(job, new Error(message.message));
      else if (!job.restart) this.account(job, message);
      this.settle(job);
    }
    this.dispatch();
  }

  /** What waits for the job's last task at any worker. */
  private settle(job: RenderJob): void {
    if (job.ended) this.leave(job);
    else if (job.restart && job.inFlight === 0) this.begin(job);
  }

  /** A new worker is told what the others know, and what was at the old one is done again. */
  private takeUp(place: number, tasks: TaskMessage[]): void {
    this.scenes.attachTo(place);
    for (const job of this.jobs) job.told.delete(place);
    tasks.forEach((task, i) => {
      const job = this.jobOf(task.job);
      if (!job) return;
      job.inFlight--;
      // The one in work is the one that it ended of.
      if (i === 0 && !job.ended) {
        if (++job.losses >= MAX_LOSSES_PER_FRAME) this.end(job, new DeadlyFrameError(job.losses));
        else if (!isRepeatable(task)) {
          job.restart = true;
          job.tasks = [];
        }
      }
      if (!job.ended && !job.restart) job.tasks.push(task);
      this.settle(job);
    });
    this.dispatch();
  }

  /** Jobs that were ended while tasks of theirs were still at workers. */
  private readonly leaving = new Map<number, RenderJob>();

  private account(job: RenderJob, { steps, busy, traced }: DoneMessage): void {
    job.busy += busy;
    job.done += steps;
    job.traced += traced;
    this.span.add(busy, traced);
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
    for (const place of job.told) this.crew.tell(place, { type: 'drop', job: job.id });
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
