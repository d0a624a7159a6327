/**
 * Hands tiles of frames to workers. Tiles of the first frame in line go out first, then those of the
 * next, so that no worker waits while another finishes the last tile of a frame; some tasks lie at
 * each worker, so that none waits for a message.
 */
import * as L from '../../../kernel/layout.js';
import { type Frame } from '../../core/frame/frame.js';
import { type CompiledScene } from '../scene/compile.js';
import { MAX_TILE } from '../upload/tileMemory.js';
import { baseSamples, filmLayout } from '../upload/frame.js';
import { writeF32, viewsOf } from '../upload/memoryViews.js';
import { allocateDenoisePlanes, denoiseLayout, type DenoiseLayout } from '../upload/denoiseBuffers.js';
import { type FrameMessage, type FromWorker, type TaskMessage, type ToWorker } from './messages.js';
import { segmentsOf } from '../lines/segments.js';
import { loadScene, type SceneHost } from '../upload/loadScene.js';
import { maxExtraSamples, adaptiveScale } from '../sampling/adaptiveSampling.js';
import { unionRegion, resolveSteps, type Region, type RenderStep, renderSteps, tilesOfRegion, needsLineart } from '../sampling/renderSteps.js';

export interface Thread {
  post(message: ToWorker): void;
  onMessage(handler: (message: FromWorker) => void): void;
  onFailure(handler: (error: Error) => void): void;
  close(): Promise<void>;
}

/** A traced picture: linear Rec. 709, three f32 a pixel, rows from the top. */
export interface LinearRender {
  width: number;
  height: number;
  colour: Float32Array;
  /** `stride` sums a pixel, see PIXEL_ in kernel/layout.ts. */
  sums: Float32Array;
  stride: number;
  /** Coverage by lines, where the frame has them. */
  lines?: Float32Array;
  /** Most samples of a pixel. */
  samples: number;
  /** What ended the sampling. */
  ended: 'samples' | 'time' | 'hand';
  /** Worker time divided by the number of workers. */
  seconds: number;
  /** Gives the planes back for the next picture; they must not be read after. */
  release(): void;
}

export interface RenderOptions {
  /** Higher goes first. */
  priority?: number;
  onProgress?: (share: number) => void;
  signal?: AbortSignal;
  /** Ends the sampling when it fires; the picture is taken as it is by then. */
  enough?: AbortSignal;
  /** Shows the picture after each round of samples (1, 2, 4 … of them), until it is done. */
  onRound?: (picture: { colour: Float32Array; sums: Float32Array; samples: number }) => void;
  /** Sums of an earlier render of the same frame, and its samples: sampling goes on from there. */
  resume?: { sums: Float32Array; samples: number };
  /** Samples only there; the rest keeps what `resume` holds. */
  region?: Region;
}

export interface WorkStats {
  /** Seconds since the first task of the span. */
  wall: number;
  /** Seconds in which workers traced or developed, all together. */
  busy: number;
  traced: number;
  workers: number;
}

interface LoadedScene {
  id: number;
  host: SceneHost;
  free: number[];
  jobs: number;
  lastUse: number;
}

interface RenderJob {
  id: number;
  scene: LoadedScene;
  frame: Frame;
  options: RenderOptions;
  priority: number;
  resolve: (picture: LinearRender) => void;
  reject: (error: Error) => void;
  started: boolean;
  /** When its first task was made, milliseconds. */
  startedAt: number;
  slot: number;
  /** Address of the frame's record. */
  record: number;
  stride: number;
  film?: SharedArrayBuffer;
  out?: SharedArrayBuffer;
  planes?: DenoisePlanes;
  lines?: SharedArrayBuffer;
  /** What is to do after the present tasks. */
  stages: RenderStep[];
  /** Samples that are taken when the present stage is done. */
  samples: number;
  finish: LinearRender['ended'];
  tasks: TaskMessage[];
  inFlight: number;
  left: number;
  done: number;
  total: number;
  busy: number;
  ended: boolean;
  /** Takes the listeners off the signals, which outlive many jobs. */
  unhook?: () => void;
}

/** The denoiser's memory; pictures of the same size use it one after the other. */
interface DenoisePlanes {
  size: string;
  memory: WebAssembly.Memory;
  room: DenoiseLayout;
}

// So many tiles outlast the moments in which the host is busy with something else.
const TASKS_PER_WORKER = 6;
const MAX_SCENES = 3;
const MAX_SPARE_PLANES = 3;
export class AbortedError extends Error {
  constructor() {
    super('The render was stopped.');
    this.name = 'AbortedError';
  }
}

export class Pool {
  private readonly scenes = new Map<string, LoadedScene>();
  private readonly jobs: RenderJob[] = [];
  private readonly load: number[];
  private readonly spare = new Map<number, SharedArrayBuffer[]>();
  private sparePlanes: DenoisePlanes[] = [];
  private serial = 0;
  private clock = 0;
  private broken: Error | null = null;
  private span = { started: 0, busy: 0, traced: 0 };

  constructor(
    private readonly module: WebAssembly.Module,
    private readonly threads: Thread[],
    private readonly tileSize = 32,
  ) {
    if (tileSize < L.NEED_CELL || tileSize > MAX_TILE || tileSize % L.NEED_CELL !== 0)
      throw new Error(`A tile is ${L.NEED_CELL} to ${MAX_TILE} pixels wide, in steps of ${L.NEED_CELL}.`);
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
    return this.scenes.has(hash);
  }

  /**
   * Renders a frame of the scene told by its hash. `scene` is asked for only where it is not loaded.
   * Rejects with AbortedError where the signal stops it.
   */
  async render(hash: string, scene: () => Promise<CompiledScene> | CompiledScene, frame: Frame, options: RenderOptions = {}): Promise<LinearRender> {
    if (this.broken) throw this.broken;
    let attached = this.scenes.get(hash) ?? this.attach(hash, await scene());
    // Between the await and now another scene may have pushed this one out.
    if (this.scenes.get(hash) !== attached) attached = this.attach(hash, await scene());
    if (options.signal?.aborted) throw new AbortedError();
    return new Promise((resolve, reject) => {
      const job: RenderJob = {
        id: ++this.serial,
        scene: attached,
        frame,
        options,
        priority: options.priority ?? 0,
        resolve,
        reject,
        started: false,
        startedAt: 0,
        slot: -1,
        record: 0,
        stride: 0,
        stages: [],
        samples: 0,
        finish: 'samples',
        tasks: [],
        inFlight: 0,
        left: 0,
        done: 0,
        total: 0,
        busy: 0,
        ended: false,
      };
      attached.jobs++;
      attached.lastUse = ++this.clock;
      const at = this.jobs.findIndex((j) => j.priority < job.priority);
      this.jobs.splice(at < 0 ? this.jobs.length : at, 0, job);
      const stop = (): void => this.end(job, new AbortedError());
      options.signal?.addEventListener('abort', stop, { once: true });
      const enough = (): void => this.finishEarly(job, 'hand');
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

  private attach(hash: string, compiled: CompiledScene): LoadedScene {
    const present = this.scenes.get(hash);
    if (present) return present;
    if (this.scenes.size >= MAX_SCENES) {
      const idle = [...this.scenes].filter(([, s]) => s.jobs === 0).sort((a, b) => a[1].lastUse - b[1].lastUse)[0];
      if (idle) {
        this.scenes.delete(idle[0]);
        for (const t of this.threads) t.post({ type: 'detach', scene: idle[1].id });
      }
    }
    const host = loadScene(this.module, compiled, this.workers);
    const attached: LoadedScene = { id: ++this.serial, host, free: Array.from({ length: host.slots }, (_, i) => i), jobs: 0, lastUse: ++this.clock };
    this.scenes.set(hash, attached);
    this.threads.forEach((t, i) => t.post({ type: 'attach', scene: attached.id, memory: host.memory, area: host.areas[i]! }));
    return attached;
  }

  private buffer(bytes: number): SharedArrayBuffer {
    return this.spare.get(bytes)?.pop() ?? new SharedArrayBuffer(bytes);
  }

  private recycle(...buffers: (SharedArrayBuffer | undefined)[]): void {
    for (const b of buffers) {
      if (!b) continue;
      const list = this.spare.get(b.byteLength) ?? [];
      if (list.length < 3) list.push(b);
      this.spare.set(b.byteLength, list);
      // Sizes that are no longer asked for must not pile up.
      if (this.spare.size > 8) this.spare.delete(this.spare.keys().next().value!);
    }
  }

  private planesOf(width: number, height: number, stride: number): DenoisePlanes {
    const size = `${width} × ${height} × ${stride}`;
    const at = this.sparePlanes.findIndex((p) => p.size === size);
    if (at >= 0) return this.sparePlanes.splice(at, 1)[0]!;
    const room = denoiseLayout(width, height, stride, this.workers);
    return { size, room, memory: allocateDenoisePlanes(room, width, height) };
  }

  private recyclePlanes(planes: DenoisePlanes | undefined): void {
    if (planes) this.sparePlanes = [planes, ...this.sparePlanes].slice(0, MAX_SPARE_PLANES);
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
    const film = (job.film = this.buffer(width * height * stride * 4));
    const out = (job.out = this.buffer(width * height * 12));
    job.planes = denoise ? this.planesOf(width, height, stride) : undefined;
    if (job.options.resume) new Float32Array(job.film).set(job.options.resume.sums);
    // Buffers are used again: what the region leaves out must not hold an earlier picture.
    else if (job.options.region) new Float32Array(job.film).fill(0);
    const record = (job.record = job.scene.host.lay(slot, job.frame));
    let lines: FrameMessage['lines'];
    if (needsLineart(job.frame)) {
      job.lines = this.buffer(width * height * 4);
      lines = {
        segments: segmentsOf(job.scene.host.data, job.frame),
        cover: job.lines,
        camera: job.frame.camera,
        width: job.frame.lines?.width ?? 1.2,
      };
    }
    this.threads.forEach((t, i) => {
      t.post({
        type: 'frame',
        job: job.id,
        scene: job.scene.id,
        record,
        width,
        height,
        stride,
        film,
        out,
        planes: job.planes && { memory: job.planes.memory, room: job.planes.room, tile: job.planes.room.tiles[i]! },
        lines,
      });
    });
    job.stages = renderSteps(job.frame, job.options);
    // It may have fired before there was anything to end.
    if (job.options.enough?.aborted) this.finishEarly(job, 'hand');
    job.total = job.stages.reduce((n, s) => n + this.tiles(s, job).length, 0);
    this.nextStage(job);
    return true;
  }

  /** Goes on to the job's next stage; ends it after the last. */
  private nextStage(job: RenderJob): void {
    if (job.ended) return;
    const { seconds } = job.frame.sampling;
    const next = job.stages[0];
    if (next?.type === 'trace' && job.samples > 0 && seconds > 0 && performance.now() - job.startedAt > seconds * 1000) this.finishEarly(job, 'time');
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
      this.share(job);
      this.nextStage(job);
      return;
    }
    if (stage.type === 'trace') job.samples = stage.to;
    job.tasks = this.tiles(stage, job);
    job.left = job.tasks.length;
    if (job.left === 0) this.nextStage(job);
  }

  /** Looks at what all pixels need, and tells the workers how far the samples go. */
  private share({ scene, record, frame, film, stride, options, id }: RenderJob): void {
    const most = maxExtraSamples(baseSamples(frame.sampling), frame.sampling.samples);
    const within = unionRegion(tilesOfRegion({ type: 'foresee', from: 0, to: 0 }, id, frame, this.tileSize, options.region));
    const scale = adaptiveScale(new Float32Array(film!), stride, frame.size.width, within, most);
    writeF32(viewsOf(scene.host.memory), record + L.FRAME_ADAPTIVE_SCALE, [scale, most]);
  }

  /** Leaves out the samples that are not begun; what is there is developed. */
  private finishEarly(job: RenderJob, why: LinearRender['ended']): void {
    if (job.ended || job.finish !== 'samples') return;
    // All its samples are taken already: it is being developed.
    if (job.started && !job.stages.some((s) => s.type === 'trace')) return;
    job.finish = why;
    // Before anything was sampled there is nothing to take: the first round stays.
    const keep = job.samples === 0 ? job.stages.findIndex((s) => s.type === 'trace') : -1;
    const develop = [...resolveSteps(job.frame.sampling), ...job.stages.filter((s) => s.type === 'lines')];
    job.stages = [...(keep >= 0 ? [job.stages[keep]!] : []), ...develop];
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
    if (task === 'trace') this.span.traced += busy;
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
      const { width, height } = job.frame.size;
      job.film = job.out = job.planes = job.lines = undefined;
      this.recyclePlanes(planes);
      job.resolve({
        width,
        height,
        colour: new Float32Array(out!),
        sums: new Float32Array(film!),
        stride: job.stride,
        lines: lines && new Float32Array(lines),
        samples: job.samples,
        ended: job.finish,
        seconds: job.busy / 1000 / this.workers,
        release: () => this.recycle(film, out, lines),
      });
    }
    this.leave(job);
  }

  /** Frees an ended job's slot once no worker can write for it any more. */
  private leave(job: RenderJob): void {
    if (job.inFlight > 0 || !this.leaving.delete(job.id)) return;
    for (const t of this.threads) if (job.started) t.post({ type: 'drop', job: job.id });
    if (job.started) job.scene.free.push(job.slot);
    this.recycle(job.film, job.out, job.lines);
    this.recyclePlanes(job.planes);
    job.scene.jobs--;
    this.dispatch();
  }

  private fail(error: Error): void {
    this.broken = new Error(`A tracing worker ended unexpectedly: ${error.message}. Start Cold Easel again; finished frames are kept.`);
    for (const job of [...this.jobs]) this.end(job, this.broken);
  }
}
