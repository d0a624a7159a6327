/** What a frame's rendering is made of: stages that must be whole before the next begins, each cut into tiles. */
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { MAX_TILE } from '../upload/tileMemory.js';
import { baseSamples } from '../upload/filmLayout.js';
import type { TaskMessage } from '../scheduler/messages.js';

/** A rectangle in pixels. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Work that must be whole before the next begins: samples from..to, a step of the development; or what the host does
 * itself: to show a round, and to share the rest of the samples out by what the pixels are foreseen to need.
 */
export interface RenderStep {
  type: TaskMessage['type'] | 'show' | 'share';
  from: number;
  to: number;
}

/** Samples of a round where a person may end the sampling at any time. */
const FINISH_CHECK_SAMPLES = 8;

/** Whether lines have to be found in the frame. */
export function needsLineart(frame: Frame): boolean {
  return frame.lines !== undefined || frame.passes.includes('lines');
}

/** What turns the film into a picture. */
export function resolveSteps({ denoise, mode }: Frame['sampling']): RenderStep[] {
  if (!denoise) return [{ type: 'average', from: 0, to: 0 }];
  const levels = mode === 'quick' ? L.DENOISE_LEVELS_QUICK : L.DENOISE_LEVELS;
  return [
    { type: 'prepare', from: 0, to: 0 },
    { type: 'smooth', from: 0, to: 0 },
    ...Array.from({ length: levels }, (_, k): RenderStep => ({ type: 'level', from: k, to: k })),
    { type: 'finish', from: levels, to: levels },
  ];
}

/** One part of the work on some rows of a frame. */
export interface StripOptions {
  /** Even samples with what further ones are needed; the rest of them; what makes a picture of them; or lines alone, of the whole frame. */
  part: 'even' | 'rest' | 'develop' | 'lines';
  /** A multiple of the largest tile's side. */
  top: number;
  height: number;
  /** Rows that memory is taken for: the same for all parts and strips, so that it is used again. */
  room: number;
  /** With the rest: what adaptiveScale gave for the whole frame. */
  scale?: number;
}

/** What decides which steps a render takes. */
export interface StepOptions {
  onRound?: unknown;
  enough?: unknown;
  resume?: { samples: number };
  strip?: StripOptions;
}

/** Whether the work makes a picture of its samples. */
export const develops = ({ strip }: Pick<StepOptions, 'strip'>): boolean => !strip || strip.part === 'develop';

/** Whether the work draws the frame's lines. */
export const drawsLines = (frame: Frame, { strip }: Pick<StepOptions, 'strip'>): boolean => needsLineart(frame) && (!strip || strip.part === 'lines');

/** One part of the work alone. */
function stepsOfStrip(frame: Frame, { part }: StripOptions): RenderStep[] {
  const { samples } = frame.sampling;
  const even = baseSamples(frame.sampling);
  switch (part) {
    case 'even':
      return even > 0
        ? [
            { type: 'trace', from: 0, to: even },
            { type: 'foresee', from: even, to: even },
          ]
        : [{ type: 'trace', from: 0, to: samples }];
    case 'rest':
      return [
        { type: 'share', from: even, to: even },
        { type: 'trace', from: even, to: samples },
      ];
    case 'develop':
      return resolveSteps(frame.sampling);
    case 'lines':
      return [{ type: 'lines', from: 0, to: 0 }];
  }
}

/** Samples in one run; in even rounds where a person may end them; where they are shown or time may end them, in rounds of 1, 2, 4 … */
export function renderSteps(frame: Frame, options: StepOptions): RenderStep[] {
  if (options.strip) return stepsOfStrip(frame, options.strip);
  const { samples, seconds } = frame.sampling;
  const first = options.resume?.samples ?? 0;
  const even = baseSamples(frame.sampling) || Infinity;
  const develop = resolveSteps(frame.sampling);
  const stages: RenderStep[] = [];
  const doubling = seconds > 0 || options.onRound !== undefined;
  for (let from = first; from < samples;) {
    const step = doubling ? Math.max(from, 1) : options.enough ? FINISH_CHECK_SAMPLES : samples;
    const to = Math.min(samples, from + step, from < even ? even : samples);
    // What a picture foresees that goes on from beyond that stays as it was.
    if (from === even) stages.push({ type: 'foresee', from, to: from });
    if (from === Math.max(first, even)) stages.push({ type: 'share', from, to: from });
    stages.push({ type: 'trace', from, to });
    if (options.onRound && to < samples) stages.push(...develop, { type: 'show', from: to, to });
    from = to;
  }
  return [...stages, ...develop, ...(needsLineart(frame) ? [{ type: 'lines', from: 0, to: 0 } as RenderStep] : [])];
}

/** A stage's tasks for the job of this number. Samples are taken in tiles of `tileSize`, and in those alone that the region meets. */
export function tilesOfRegion(
  { type, from, to }: RenderStep,
  job: number,
  frame: Frame,
  tileSize: number,
  { region, strip }: { region?: Region; strip?: StripOptions } = {},
): TaskMessage[] {
  if (type === 'show' || type === 'share') return [];
  if (type === 'lines') return [{ type, job, x: 0, y: 0, ...frame.size, from, to }];
  const { width, height } = frame.size;
  const sampling = type === 'trace' || type === 'foresee';
  // Quick pixels are soon done: larger tiles keep workers busy while the host writes files.
  const side = sampling && frame.sampling.mode === 'traced' ? tileSize : MAX_TILE;
  const within = sampling ? region : undefined;
  const list: TaskMessage[] = [];
  const [top, bottom] = strip ? [strip.top, Math.min(height, strip.top + strip.height)] : [0, height];
  for (let y = top; y < bottom; y += side) {
    for (let x = 0; x < width; x += side) {
      const tile = { type, job, x, y, width: Math.min(side, width - x), height: Math.min(side, bottom - y), from, to };
      const misses =
        within && (x >= within.x + within.width || y >= within.y + within.height || x + tile.width <= within.x || y + tile.height <= within.y);
      if (!misses) list.push(tile);
    }
  }
  return list;
}

/**
 * Takes from the stages in line those that are as much as this one task at the same tile, and returns what they do: a worker that has
 * the whole picture needs nobody's word to go on. Samples are left, since they may be ended before they are begun.
 */
export function takeFollowing(stages: RenderStep[], task: TaskMessage, tiles: (stage: RenderStep) => TaskMessage[]): TaskMessage['then'] {
  const isSame = (t: TaskMessage): boolean => t.x === task.x && t.y === task.y && t.width === task.width && t.height === task.height;
  const following: NonNullable<TaskMessage['then']>[number][] = [];
  for (let next = stages[0]; next && next.type !== 'trace'; next = stages[0]) {
    const [only, ...more] = tiles(next);
    if (!only || more.length > 0 || !isSame(only)) break;
    following.push({ type: only.type, from: only.from, to: only.to });
    stages.shift();
  }
  return following;
}

/** The rectangle that tasks cover between them. */
export function unionRegion(tasks: TaskMessage[]): Region {
  const x = Math.min(...tasks.map((t) => t.x));
  const y = Math.min(...tasks.map((t) => t.y));
  return { x, y, width: Math.max(...tasks.map((t) => t.x + t.width)) - x, height: Math.max(...tasks.map((t) => t.y + t.height)) - y };
}
