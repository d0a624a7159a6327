/** The executor of one machine: frames are traced by the threads of this process, and their files are made by others. */
import { type Frame, withFrame } from '../../core/frame/frame.js';
import type { DevelopTask } from '../../engine/node/developFromFile.js';
import type { HashedFrame } from '../../engine/node/hashedFiles.js';
import type { OutputWorkers } from '../../engine/node/outputWorkers.js';
import { framesBudget } from '../../engine/node/memoryBudget.js';
import { renderLargeFrame } from '../../engine/node/renderLargeFrame.js';
import { needsStrips } from '../../engine/sampling/strips.js';
import { namesFor, renderFrame, type RenderedFrame } from '../../engine/output/renderFrame.js';
import { type AssetProvider, resolveScene } from '../../engine/scene/resolveScene.js';
import type { Checkpoint } from '../../engine/sampling/checkpoint.js';
import type { RenderOptions } from '../../engine/scheduler/job.js';
import type { WorkStats } from '../../engine/scheduler/job.js';
import type { Pool } from '../../engine/scheduler/pool.js';
import type { DevelopedFrame, Executor, ExecutorOptions } from './executor.js';

/** Renders on this machine's own workers. */
export class LocalWorkers implements Executor {
  constructor(
    private readonly pool: Pool,
    private readonly output: OutputWorkers,
  ) {}

  get workers(): number {
    return this.pool.workers;
  }

  render(frame: Frame, from: AssetProvider, { keepMaster, stripFolder, ...options }: ExecutorOptions): Promise<RenderedFrame<HashedFrame>> {
    if (needsStrips(frame, framesBudget()))
      return renderLargeFrame(this.pool, from, frame, { ...options, ...(stripFolder && { folder: stripFolder }) }, this.output.finish);
    return renderFrame(this.pool, from, frame, options, this.output.finish, keepMaster);
  }

  async develop(frame: Frame, from: AssetProvider, master: DevelopTask['master'], options: RenderOptions): Promise<DevelopedFrame | null> {
    const task = { frame, master, names: await namesFor(frame, from) };
    const first = await this.output.develop(task);
    if (first.kind !== 'film') return first.kind === 'files' ? first : null;
    const { key, load } = resolveScene(frame, from);
    const traced = { ...frame.sampling, samples: first.film.samples };
    // All its samples are there: it goes through the filter alone. What else the files need is in the master.
    const filtered = await this.pool.render(key, load, withFrame(frame, { sampling: traced, passes: ['beauty'], lines: undefined }), {
      ...options,
      resume: first.film,
    });
    try {
      const second = await this.output.develop({ ...task, beauty: filtered.colour });
      return second.kind === 'files' ? second : null;
    } finally {
      filtered.release();
    }
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
