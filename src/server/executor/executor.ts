/** Renders the frames of batches: on this machine, or wherever another kind of executor has its workers. */
import type { Frame } from '../../core/frame/frame.js';
import type { DevelopTask, HashedDevelopment } from '../../engine/node/developFromFile.js';
import type { HashedFrame } from '../../engine/node/hashedFiles.js';
import type { RenderedFrame } from '../../engine/output/renderFrame.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import type { Checkpoint } from '../../engine/sampling/checkpoint.js';
import type { WorkStats } from '../../engine/scheduler/job.js';
import type { RenderOptions } from '../../engine/scheduler/job.js';

/** How a frame is rendered, and what is kept of it. */
export interface ExecutorOptions extends RenderOptions {
  /** A master is made as well. */
  keepMaster?: boolean;
  /** Where the film of a frame lies that is too large for memory; what is done of it stays there when it is stopped. */
  stripFolder?: string;
}

/** Files that were developed from a master. */
export type DevelopedFrame = Extract<HashedDevelopment, { kind: 'files' }>;

/** Where frames are rendered. */
export interface Executor {
  /** Workers that can render at the same time. */
  readonly workers: number;
  /**
   * Renders a frame and makes its files, with their checksums. Rejects with AbortedError where it was stopped, and with
   * InvalidRenderError where the render is black, empty or not a number.
   */
  render(frame: Frame, from: AssetProvider, options: ExecutorOptions): Promise<RenderedFrame<HashedFrame>>;
  /** Makes a frame's files of a master; null where it lacks something. Rejects where it is gone or damaged. */
  develop(frame: Frame, from: AssetProvider, master: DevelopTask['master'], options: RenderOptions): Promise<DevelopedFrame | null>;
  /** What was summed up of an unfinished still; null where it is damaged. */
  decodeCheckpoint(bytes: Uint8Array): Promise<Checkpoint | null>;
  /** What its workers have done since the last reset. */
  stats(): WorkStats;
  resetStats(): void;
}
