/** What is done to one job of the pool: made, told to workers, cut short, and handed over. */
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { segmentsOf } from '../lines/segments.js';
import { adaptiveScale, maxExtraSamples } from '../sampling/adaptiveSampling.js';
import { develops, drawsLines, resolveSteps, tilesOfRegion, unionRegion } from '../sampling/renderSteps.js';
import { baseSamples, filmLayout } from '../upload/filmLayout.js';
import { viewsOf, writeF32 } from '../upload/memoryViews.js';
import type { BufferPool } from './bufferPool.js';
import type { LinearRender, LiveFilm, RenderJob, RenderOptions } from './job.js';
import type { FrameMessage, TaskMessage } from './messages.js';
import type { LoadedScene } from './sceneCache.js';

/** A job that waits for its turn. */
export function createJob(
  id: number,
  scene: LoadedScene,
  frame: Frame,
  options: RenderOptions,
  settle: Pick<RenderJob, 'resolve' | 'reject'>,
): RenderJob {
  return {
    ...settle,
    id,
    scene,
    frame,
    options,
    priority: options.priority ?? 0,
    started: false,
    told: new Set(),
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
    traced: 0,
    ended: false,
    losses: 0,
    restart: false,
  };
}

/** Rows that a job holds in memory. */
export function rowsOf({ frame, options }: Pick<RenderJob, 'frame' | 'options'>): number {
  return options.strip?.height ?? frame.size.height;
}

/** What a job's film can be looked at by while it is filled. */
export function liveFilm(job: RenderJob, tiles: LiveFilm['tiles']): LiveFilm {
  return { width: job.frame.size.width, height: rowsOf(job), stride: job.stride, sums: new Float32Array(job.film!), tiles };
}

/** Takes what a job holds while it is in work. */
export function takeMemory(job: RenderJob, buffers: BufferPool): void {
  const { frame, options } = job;
  const { width } = frame.size;
  const height = rowsOf(job);
  const room = options.strip?.room ?? height;
  const { stride } = filmLayout(frame);
  job.stride = stride;
  job.film = buffers.take(width * room * stride * 4);
  job.out = buffers.take(width * room * 12);
  job.planes = frame.sampling.denoise && develops(options) ? buffers.takePlanes(width, height, stride) : undefined;
  job.lines = drawsLines(frame, options) ? buffers.take(width * frame.size.height * 4) : undefined;
}

/** What the worker in that place must know of a job that has its memory. */
export function frameMessage(job: RenderJob, place: number): FrameMessage {
  const { frame, scene, planes } = job;
  const lines = job.lines && {
    segments: segmentsOf(scene.host.data, frame),
    distances: job.lines,
    camera: frame.camera,
  };
  return {
    type: 'frame',
    job: job.id,
    scene: scene.id,
    record: job.record,
    ...frame.size,
    top: job.options.strip?.top ?? 0,
    stride: job.stride,
    film: job.film!,
    out: job.out!,
    planes: planes && { memory: planes.memory, room: planes.room, tile: planes.room.tiles[place]! },
    lines,
  };
}

/** Whether a task that was cut off can be done once more: all but one that adds to what is summed up already. */
export function isRepeatable({ type, from }: TaskMessage): boolean {
  return type !== 'trace' || from === 0;
}

/** Looks at what all pixels need, and tells the workers how far the samples go. */
export function shareSamples({ scene, record, frame, film, stride, options, id }: RenderJob, tileSize: number): void {
  const most = maxExtraSamples(baseSamples(frame.sampling), frame.sampling.samples);
  const write = (scale: number): void => writeF32(viewsOf(scene.host.memory), record + L.FRAME_ADAPTIVE_SCALE, [scale, most]);
  if (options.strip) {
    write(options.strip.scale ?? 0);
    return;
  }
  const within = unionRegion(tilesOfRegion({ type: 'foresee', from: 0, to: 0 }, id, frame, tileSize, options));
  const scale = adaptiveScale(new Float32Array(film!), stride, frame.size.width, within, most);
  write(scale);
}

/** Leaves out the samples that are not begun; what is there is developed. */
export function finishEarly(job: RenderJob, why: LinearRender['ended']): void {
  if (job.ended || job.finish !== 'samples') return;
  // All its samples are taken already: it is being developed.
  if (job.started && !job.stages.some((s) => s.type === 'trace')) return;
  job.finish = why;
  // Before anything was sampled there is nothing to take: the first round stays.
  const keep = job.samples === 0 ? job.stages.findIndex((s) => s.type === 'trace') : -1;
  const develop = [...resolveSteps(job.frame.sampling), ...job.stages.filter((s) => s.type === 'lines')];
  job.stages = [...(keep >= 0 ? [job.stages[keep]!] : []), ...develop];
}

/** Ends the sampling where the time for it is over. */
export function endInTime(job: RenderJob): void {
  const { seconds } = job.frame.sampling;
  const samplesNext = job.stages[0]?.type === 'trace' && job.samples > 0;
  if (samplesNext && seconds > 0 && performance.now() - job.startedAt > seconds * 1000) finishEarly(job, 'time');
}

/** The picture of a job whose last task is done. `release` gives its memory back. */
export function finishedRender(job: RenderJob, workers: number, release: () => void): LinearRender {
  return {
    width: job.frame.size.width,
    height: rowsOf(job),
    colour: new Float32Array(job.out!, 0, job.frame.size.width * rowsOf(job) * 3),
    sums: new Float32Array(job.film!, 0, job.frame.size.width * rowsOf(job) * job.stride),
    stride: job.stride,
    lines: job.lines && new Float32Array(job.lines),
    samples: job.samples,
    ended: job.finish,
    seconds: job.busy / 1000 / workers,
    traced: job.traced / 1000 / workers,
    release,
  };
}
