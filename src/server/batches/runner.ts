/**
 * Runs batches one after another in the background. It owns no state that a crash can lose: what is to do is in the rows, and a frame's
 * row says done only after its files are whole on disk. Nothing it starts rejects: where the disk or the database is at fault the batch
 * waits in memory and goes on by itself.
 */
import { mkdir } from 'node:fs/promises';
import { Op } from 'sequelize';
import type * as z from 'zod';
import type { moveBatch } from '../../contract/batches.js';
import type { LiveFilm } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame } from '../db/models.js';
import { ServerError, storageFault } from '../errors.js';
import { toBatchReply, findBatch, type LiveProgress, readyRows } from './repository.js';
import { checkRoom } from './diskRoom.js';
import { callHook } from './hook.js';
import { Outage } from './outage.js';
import { recoverAfterCrash } from './recover.js';
import { renderWaitingFrames } from './frameLanes.js';
import { beginRunning, leaveRunning, nextBatch, nextStart, placeBatch, requeueDamaged, requeueFailed, requeueFrame, setBatchState } from './queue.js';
import { type FrameInWork, Run, supportsEarlyStop } from './run.js';
import { batchDigest, planSnapshot } from './snapshot.js';

/** Longest time until it is looked whether a batch may begin: clocks are set back and forth. */
const MAX_WAIT_MS = 60_000;

/** Renders batches in the order of the queue until there is none. */
export class Runner {
  private run: Run | null = null;
  private wanted = true;
  private loop: Promise<void> | null = null;
  private outage: Outage | null = null;
  /** Whether rows are as they should be, and whether they ever were since the start. */
  private recovered = false;
  private started = false;
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly context: ServerContext) {}

  /** Goes on where it stopped, or looks whether there is something new to do. */
  wake(): void {
    if (!this.wanted) return;
    this.outage?.wake();
    this.loop ??= this.work().finally(() => {
      this.loop = null;
    });
  }

  /** Looks whether another batch comes before the one that runs; that one goes on in its turn. */
  async reconsider(): Promise<void> {
    this.wake();
    try {
      await this.awaitStart();
      const next = this.run && !this.run.ending ? await nextBatch() : null;
      if (next && this.run && next.id !== this.run.batch.id) this.run.giveWay();
    } catch (e) {
      this.context.log.warn({ err: e }, 'the queue could not be looked at');
    }
  }

  /** Looks again when the next batch may begin that waits for its hour, and now and then before: clocks are set. */
  private async awaitStart(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const at = this.wanted ? await nextStart() : null;
    if (!at || !this.wanted) return;
    this.timer = setTimeout(() => void this.reconsider(), Math.min(MAX_WAIT_MS, Math.max(0, at.getTime() - Date.now()) + 1));
    this.timer.unref();
  }

  /** Sets rows right after a crash. Where the database cannot be written now, the first run does it. */
  async recover(): Promise<void> {
    try {
      await recoverAfterCrash(this.context, true);
      this.recovered = this.started = true;
    } catch (e) {
      this.context.log.warn({ err: e }, 'rows could not be set right yet');
    }
  }

  /** Ends without waiting for frames; what was being rendered waits for the next start. */
  async close(): Promise<void> {
    this.wanted = false;
    if (this.timer) clearTimeout(this.timer);
    this.outage?.wake();
    this.run?.halt(false);
    await this.loop;
  }

  live(batch: Batch): LiveProgress | null {
    const { outage } = this;
    // A run that is ending because of a fault is not at work any more, though its last writes may take seconds.
    const run = this.run?.batch.id === batch.id ? this.run : null;
    if (run?.begun && !(outage && run.halted)) return run.progress(this.context);
    // A batch that was paused or stopped meanwhile waits for nothing.
    if (outage?.batch !== batch.id || !['queued', 'running'].includes(batch.state)) return null;
    return { elapsed: 0, current: null, busy: 0, wall: 0, workers: this.context.executor.workers, shares: new Map(), waiting: outage.reason };
  }

  /** A frame in work, with what is summed up of it so far. Throws a conflict where it is not being traced now. */
  inWork(id: number, frame: number): FrameInWork & { film: LiveFilm } {
    const current = this.run?.batch.id === id ? [...this.run.current.values()].find((c) => c.row.id === frame) : undefined;
    if (!current?.film) throw new ServerError('conflict', 'This frame is not being rendered now.');
    return { ...current, film: current.film };
  }

  async pause(id: number): Promise<Batch> {
    return this.turn(id, ['queued', 'running'], 'paused');
  }

  async resume(id: number): Promise<Batch> {
    // One that waits for the disk is tried at once.
    if (this.outage?.batch === id) {
      this.wake();
      return findBatch(id);
    }
    const batch = await this.turn(id, ['paused', 'held'], 'queued');
    this.wake();
    return batch;
  }

  async stop(id: number): Promise<Batch> {
    return this.turn(id, ['queued', 'running', 'paused', 'held'], 'stopped');
  }

  /** Ends the sampling of a still that is being rendered; its picture is made of what is there. */
  async take(id: number, frame: number): Promise<void> {
    const current = this.run?.batch.id === id ? [...this.run.current.values()].find((c) => c.row.id === frame) : undefined;
    if (!current) throw new ServerError('conflict', 'This frame is not being rendered now.');
    if (!supportsEarlyStop(current.frame)) throw new ServerError('conflict', 'Frames of a movie are sampled alike; only a still can be ended early.');
    current.enough.abort();
  }

  /** Goes on with a done frame whose sampling was ended early, from where it stopped. */
  async resumeFrame(id: number, frame: number): Promise<Batch> {
    return this.again(await requeueFrame(this.context, id, frame));
  }

  /** Renders the done frames again whose files are gone or were changed. */
  async renderDamaged(id: number): Promise<Batch> {
    return this.again(await requeueDamaged(this.context, id));
  }

  /** Renders the failed frames again. */
  async retryFailed(id: number): Promise<Batch> {
    return this.again(await requeueFailed(this.context, id));
  }

  /** Puts a batch elsewhere in the queue. */
  async move(id: number, place: z.infer<typeof moveBatch>): Promise<Batch> {
    const batch = await placeBatch(this.context, id, place);
    await this.reconsider();
    await this.tell(batch);
    return batch;
  }

  /** Queues a batch that has frames to render after it was over. */
  private async again(batch: Batch): Promise<Batch> {
    if (batch.state === 'stopped' || batch.state === 'done') await setBatchState(this.context, batch, 'queued');
    this.wake();
    await this.tell(batch);
    return batch;
  }

  private async turn(id: number, from: string[], to: string): Promise<Batch> {
    const batch = await findBatch(id);
    if (!from.includes(batch.state)) throw new ServerError('conflict', `Batch ${batch.number} is ${batch.state}; that cannot be done now.`);
    await setBatchState(this.context, batch, to);
    if (this.outage?.batch === id) this.outage.wake();
    if (this.run?.batch.id === id) {
      // Nobody waits for its end: what it still writes are rows of frames, and the state of one that runs alone.
      this.run.batch.state = to;
      this.run.halt(to === 'paused');
    }
    await this.tell(batch);
    if (to === 'stopped') void callHook(this.context, id);
    return batch;
  }

  /** Tells every page how the batch of that id stands, after something of it was written. */
  async tellOf(id: number): Promise<void> {
    const batch = await Batch.findByPk(id).catch(() => null);
    if (batch) await this.tell(batch);
  }

  /** Tells every page how a batch stands; where that cannot be read now, the next time says it. */
  private async tell(batch: Batch): Promise<void> {
    try {
      this.context.events.send(batch.projectId, { type: 'batch', batch: await toBatchReply(this.context, batch, this.live(batch)) });
    } catch (e) {
      this.context.log.warn({ err: e, batch: batch.number }, 'the state of a batch could not be told');
    }
  }

  private async work(): Promise<void> {
    while (this.wanted) {
      let batch: Batch | null = null;
      try {
        if (!this.recovered) {
          await recoverAfterCrash(this.context, !this.started);
          this.recovered = this.started = true;
        }
        batch = await nextBatch();
        if (!batch) {
          this.outage = null;
          await this.awaitStart();
          return;
        }
        await this.runBatch(batch);
      } catch (e) {
        await this.waitOut(batch, e as Error);
      }
    }
  }

  /** Waits for the disk or the database to work again. What else goes wrong holds the batch, so that the others go on. */
  private async waitOut(batch: Batch | null, error: Error): Promise<void> {
    const { context } = this;
    let fault = storageFault(error, true);
    if (!fault) {
      context.log.error({ err: error, batch: batch?.number }, 'a batch could not be run');
      try {
        const reason = error instanceof ServerError ? error.message : 'Something went wrong inside Cold Easel; the log of the server says more.';
        if (batch) {
          await setBatchState(this.context, batch, 'held', reason);
          await this.tell(batch);
          return;
        }
      } catch (e) {
        fault = storageFault(e, true);
      }
      fault ??= new ServerError('internal', 'Something went wrong inside Cold Easel.');
    }
    // The run may have told of this fault before it was over; and where rows cannot be set right, no batch is read.
    const { outage: last } = this;
    const outage = new Outage(batch?.id ?? last?.batch ?? null, fault, last ? last.tries + (last.rested ? 1 : 0) : 0, context.config.retrySeconds);
    this.outage = outage;
    context.log.warn({ batch: batch?.number, code: fault.code, seconds: outage.seconds }, `waiting: ${fault.message}`);
    if (batch) await this.tell(batch);
    if (this.wanted) await outage.rest();
  }

  /** Rejects where the disk or the database is at fault, or the batch cannot be run at all. */
  private async runBatch(batch: Batch): Promise<void> {
    const { context } = this;
    await checkRoom(context.store.root, context.config.reserveBytes);
    const digest = batchDigest(planSnapshot(batch));
    const plan = await context.planner.open(batch.plan);
    await readyRows(context, batch);
    await mkdir(context.store.picture('.', batch.folder), { recursive: true });
    const run = new Run(batch, digest, plan, () => this.tell(batch));
    // From here on it can be stopped; whoever did so before is heeded.
    this.run = run;
    context.executor.resetStats();
    try {
      if (!(run.begun = await beginRunning(context, batch))) return;
      await this.tell(batch);
      await renderWaitingFrames(context, run, {
        wanted: () => this.wanted,
        rendered: () => (this.outage = null),
        interrupted: (fault) => {
          this.recovered = false;
          if (!fault || this.outage) return;
          this.outage = new Outage(batch.id, fault, 0, context.config.retrySeconds);
          void this.tell(batch);
        },
        hold: (reason) => leaveRunning(this.context, batch, 'held', reason),
      });
      const left = await BatchFrame.count({ where: { batchId: batch.id, state: { [Op.in]: ['waiting', 'rendering'] } } });
      if (batch.state === 'running' && left === 0) await leaveRunning(this.context, batch, 'done');
      else if (run.yielding && !run.halted) await leaveRunning(this.context, batch, 'queued');
    } finally {
      run.stopTelling();
      await this.endRun(run).catch((e: unknown) => context.log.warn({ err: e }, 'what was measured of a run could not be kept'));
      this.run = null;
    }
    // It may have been resumed while it was ending.
    await this.tellOf(batch.id);
    if (batch.state === 'done') void callHook(context, batch.id);
  }

  /** Adds what was measured to the row. */
  private async endRun(run: Run): Promise<void> {
    const { batch } = run;
    const { busy, elapsed, wall, workers } = run.progress(this.context);
    const share = (seconds: number): number => (wall > 0 ? Number((100 * (1 - seconds / (wall * workers))).toFixed(1)) : 0);
    this.context.log.info(
      {
        batch: batch.number,
        state: batch.state,
        seconds: Number(elapsed.toFixed(1)),
        workersIdlePercent: share(busy),
        notTracingPercent: share(this.context.executor.stats().traced),
      },
      'batch ended its run',
    );
    batch.set({ elapsed: (batch.elapsed ?? 0) + elapsed, busy: (batch.busy ?? 0) + busy, wall: (batch.wall ?? 0) + wall });
    await this.context.database.write((transaction) => batch.save({ transaction, fields: ['elapsed', 'busy', 'wall'] }));
  }
}
