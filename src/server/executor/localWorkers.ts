/** The executor of one machine: frames are traced by the threads of this process, and their files are made by others. */
import type { Frame } from '../../core/frame/frame.js';
import type { HashedFrame, OutputWorkers } from '../../engine/node/outputWorkers.js';
import { renderFrame, type RenderedFrame } from '../../engine/output/renderFrame.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import type { Checkpoint } from '../../engine/sampling/checkpoint.js';
import type { RenderOptions } from '../../engine/scheduler/job.js';
import type { WorkStats } from '../../engine/scheduler/job.js';
import type { Pool } from '../../engine/scheduler/pool.js';
import type { Executor } from './executor.js';

export class LocalWorkers implements Executor {
  constructor(
    private readonly pool: Pool,
    private readonly output: OutputWorkers,
  ) {}

  get workers(): number {
    return this.pool.workers;
  }

  render(frame: Frame, from: AssetProvider, options: RenderOptions): Promise<RenderedFrame<HashedFrame>> {
    return renderFrame(this.pool, from, frame, options, this.output.finish);
  }

  decodeCheckpoint(bytes: Uint8Array): Promise<Checkpoint | null> {
    return this.output.decodeFilm(bytes);
  }

  stats(): WorkStats {
    return this.pool.stats();
  }

  resetStats(): void {
    this.pool.resetStats();
  }
}
