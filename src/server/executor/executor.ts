/** Renders the frames of batches: on this machine, or wherever another kind of executor has its workers. */
import type { Frame } from '../../core/frame/frame.js';
import type { HashedFrame } from '../../engine/node/outputWorkers.js';
import type { RenderedFrame } from '../../engine/output/renderFrame.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import type { Checkpoint } from '../../engine/sampling/checkpoint.js';
import type { WorkStats } from '../../engine/scheduler/job.js';
import type { RenderOptions } from '../../engine/scheduler/job.js';

export interface Executor {
  /** Workers that can render at the same time. */
  readonly workers: number;
  /**
   * Renders a frame and makes its files, with their checksums. Rejects with AbortedError where it was stopped, and with
   * InvalidRenderError where the render is black, empty or not a number.
   */
  render(frame: Frame, from: AssetProvider, options: RenderOptions): Promise<RenderedFrame<HashedFrame>>;
  /** What was summed up of an unfinished still; null where it is damaged. */
  decodeCheckpoint(bytes: Uint8Array): Promise<Checkpoint | null>;
  /** What its workers have done since the last reset. */
  stats(): WorkStats;
  resetStats(): void;
}
