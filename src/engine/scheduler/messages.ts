/** What the pool and its workers say to each other. */
import type { Camera } from '../../core/camera/view.js';
import type { DenoiseLayout } from '../upload/denoiseBuffers.js';

/** A scene that the worker will render from. */
export interface AttachMessage {
  type: 'attach';
  scene: number;
  memory: WebAssembly.Memory;
  area: { scratch: number; tile: number };
}

/** A scene that the worker no longer needs. */
export interface DetachMessage {
  type: 'detach';
  scene: number;
}

/** Announces a frame that is laid out at `record`. */
export interface FrameMessage {
  type: 'frame';
  job: number;
  scene: number;
  record: number;
  /** Of the frame. */
  width: number;
  height: number;
  /** The row that film and picture begin with. */
  top: number;
  /** Floats a pixel of the film. */
  stride: number;
  /** Sums over the samples. */
  film: SharedArrayBuffer;
  /** The denoiser's memory and the worker's tile in it; absent where it is off. */
  planes?: { memory: WebAssembly.Memory; room: DenoiseLayout; tile: number };
  /** Three f32 a pixel, linear. */
  out: SharedArrayBuffer;
  /** Lines to draw, where they are asked for: six numbers each, and where pixels' distances from them go. */
  lines?: { segments: Float32Array; distances: SharedArrayBuffer; camera: Camera };
}

/** A job whose tasks are no longer wanted. */
export interface DropMessage {
  type: 'drop';
  job: number;
}

/**
 * A tile's work. `trace` adds samples from..to; `foresee` tells how many more each pixel needs; `prepare` makes the denoiser's planes of the film, `smooth` what its
 * first level compares, `level` runs one of its levels and `finish` makes the picture of the last; `average` divides the film by its samples; `lines` draws them all.
 */
export interface TaskMessage {
  type: 'trace' | 'foresee' | 'prepare' | 'smooth' | 'level' | 'finish' | 'average' | 'lines';
  job: number;
  x: number;
  y: number;
  width: number;
  height: number;
  /** Samples of a trace; the number of a level, or of those before `finish`. */
  from: number;
  to: number;
  /** Where the tile is the whole picture: what is done to it next, in turn, without asking. */
  then?: readonly Pick<TaskMessage, 'type' | 'from' | 'to'>[];
}

/** Where in a frame a worker is: pixels of the frame, from its top left corner. */
export interface TileInWork {
  /** Workers are counted from 1. */
  worker: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** All that a worker is told. */
export type ToWorker = AttachMessage | DetachMessage | FrameMessage | DropMessage | TaskMessage;

/** A task is done, and what was to be done next. */
export interface DoneMessage {
  type: 'done';
  job: number;
  /** The task itself counted. */
  steps: number;
  /** Milliseconds in the kernel, and what of it went into samples. */
  busy: number;
  traced: number;
}

/** A task failed. */
export interface FaultMessage {
  type: 'fault';
  job: number;
  message: string;
}

/** All that a worker says. */
export type FromWorker = DoneMessage | FaultMessage;

/** A worker as the scheduler sees it. */
export interface Thread {
  post(message: ToWorker): void;
  onMessage(handler: (message: FromWorker) => void): void;
  onFailure(handler: (error: Error) => void): void;
  close(): Promise<void>;
}
