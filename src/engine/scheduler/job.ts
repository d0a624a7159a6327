/** A frame that is asked for, while it is rendered, and when it is done. */
import type { Frame } from '../../core/frame/frame.js';
import type { DenoisePlanes } from './bufferPool.js';
import type { TaskMessage, TileInWork } from './messages.js';
import type { LoadedScene } from './sceneCache.js';
import type { Region, RenderStep, StripOptions } from '../sampling/renderSteps.js';

/** A traced picture: linear Rec. 709, three f32 a pixel, rows from the top. */
export interface LinearRender {
  width: number;
  height: number;
  colour: Float32Array;
  /** `stride` sums a pixel, see PIXEL_ in kernel/layout.ts. */
  sums: Float32Array;
  stride: number;
  /** Distance of each pixel from the nearest drawn line, up to what the widest covers, where the frame has lines. */
  lines?: Float32Array;
  /** Most samples of a pixel. */
  samples: number;
  /** What ended the sampling. */
  ended: 'samples' | 'time' | 'hand';
  /** Worker time divided by the number of workers, and what of it went into samples. */
  seconds: number;
  traced: number;
  /** Gives the planes back for the next picture; they must not be read after. */
  release(): void;
}

/** What is summed up of a picture, while it is: `stride` sums a pixel, all 0 where nothing is traced yet. */
export interface LiveFilm extends Pick<LinearRender, 'width' | 'height' | 'sums' | 'stride'> {
  /** The tiles that workers have in hand at this moment; none once the picture is done. */
  tiles(): TileInWork[];
}

/** How a render is watched, stopped and put before others. */
export interface RenderOptions {
  /** Higher goes first. */
  priority?: number;
  onProgress?: (share: number) => void;
  /** Gives the film that is filled, to be looked at until the picture is done and not after. */
  onStart?: (film: LiveFilm) => void;
  signal?: AbortSignal;
  /** Ends the sampling when it fires; the picture is taken as it is by then. */
  enough?: AbortSignal;
  /** Shows the picture after each round of samples (1, 2, 4 … of them), until it is done. */
  onRound?: (picture: { colour: Float32Array; sums: Float32Array; samples: number }) => void;
  /** Sums of an earlier render of the same frame, and its samples: sampling goes on from there. */
  resume?: { sums: Float32Array; samples: number };
  /** Samples only there; the rest keeps what `resume` holds. */
  region?: Region;
  /** Only these rows are held in memory, and only this part of the work is done: see strips.ts. */
  strip?: StripOptions;
}

/** A render in the pool. */
export interface RenderJob {
  id: number;
  scene: LoadedScene;
  frame: Frame;
  options: RenderOptions;
  priority: number;
  resolve: (picture: LinearRender) => void;
  reject: (error: Error) => void;
  started: boolean;
  /** Places of the workers that know its frame. */
  told: Set<number>;
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
  /** Of `busy`, what went into samples. */
  traced: number;
  ended: boolean;
  /** Workers that ended while they worked at it. */
  losses: number;
  /** It is begun anew once no worker writes for it any more. */
  restart: boolean;
  /** Takes the listeners off the signals, which outlive many jobs. */
  unhook?: () => void;
}

/** What the workers did in a span of time, in seconds. */
export interface WorkStats {
  /** Since the first task of the span. */
  wall: number;
  /** In which workers traced or developed, all together. */
  busy: number;
  traced: number;
  workers: number;
}

/** A render was stopped before it was done. */
export class AbortedError extends Error {
  constructor() {
    super('The render was stopped.');
    this.name = 'AbortedError';
  }
}

/** A frame was given up since workers ended of it: another try would cost more of them. */
export class DeadlyFrameError extends Error {
  constructor(losses: number) {
    super(`${losses} workers ended while they rendered this frame, so it was given up. Render it smaller, or simplify what it shows.`);
    this.name = 'DeadlyFrameError';
  }
}
