/**
 * Runs batches one after another in the background. It owns no state that a crash can lose: what is
 * to do is in the rows, and a frame's row says done only after its files are whole on disk.
 */
import { readFile, rm } from 'node:fs/promises';
import { Op } from 'sequelize';
import { type Frame } from '../../core/plan/frame.js';
import { decodeFilm, type Film } from '../../engine/film.js';
import { AbortedError } from '../../engine/pool.js';
import { writeWhole } from '../../engine/node/files.js';
import { renderFrame } from '../../engine/renderFrame.js';
import { type ServerContext } from '../context.js';
import { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { batchFrames, describeBatch, describeFrame, findBatch, frozenPlan, type LiveProgress, shotNames } from './batches.js';

/** Stills are looked at one by one; what moves is sampled alike. */
function canEndEarly(frame: Frame): boolean {
  return frame.kind === 'still' && frame.sampling.mode === 'traced';
}

/** Frames in work at a time: the second fills the end of the first while that is being written. */
const LANES = 3;
const MOST_ATTEMPTS = 2;
/** As many frames failing one after another for the same reason hold the batch. */
const SAME_FAILURES = 3;
const TELL_MS = 250;
/** Telling takes at most one part in so many of the time, however many frames a batch has. */
const TELL_SHARE = 10;

/** A frame in work. */
interface Current {
  row: BatchFrame;
  frame: Frame;
  share: number;
  /** Ends its sampling; the picture is made of what is there. */
  enough: AbortController;
  /** Gives it up. */
  stop: AbortController;
}

interface Run {
  batch: Batch;
  started: number;
  /** No further frame is begun. */
  halted: boolean;
  current: Map<number, Current>;
  /** What stills have is kept, so that they can go on from there. */
  pausing: boolean;
  names: Map<string, string>;
  failure: { message: string; count: number };
  tellTimer: NodeJS.Timeout | null;
  tellCost: number;
}

export class Runner {
  private run: Run | null = null;
  private wanted = true;
  private loop: Promise<void> | null = null;

  constructor(private readonly context: ServerContext) {}

  /** Goes on where it stopped, or looks whether there is something new to do. */
  wake(): void {
    if (!this.wanted) return;
    this.loop ??= this.work().finally(() => {
      this.loop = null;
    });
  }

  /** Ends without waiting for frames; what was being rendered waits for the next start. */
  async close(): Promise<void> {
    this.wanted = false;
    if (this.run) this.halt(this.run, false);
    await this.loop;
  }

  live(batch: Batch): LiveProgress | null {
    const run = this.run;
    if (!run || run.batch.id !== batch.id) return null;
    const first = [...run.current.entries()].sort((a, b) => a[0] - b[0])[0]?.[1];
    const { busy, wall, workers } = this.context.pool.stats();
    return {
      elapsed: (performance.now() - run.started) / 1000,
      current: first
        ? {
            id: first.row.id,
            shot: run.names.get(first.frame.shot) ?? first.frame.shot,
            number: first.frame.number,
            share: first.share,
            still: canEndEarly(first.frame),
          }
        : null,
      busy,
      wall,
      workers,
    };
  }

  async pause(id: number): Promise<Batch> {
    return this.turn(id, ['queued', 'running'], 'paused');
  }

  async resume(id: number): Promise<Batch> {
    const batch = await this.turn(id, ['paused', 'held'], 'queued');
    this.wake();
    return batch;
  }

  async stop(id: number): Promise<Batch> {
    return this.turn(id, ['queued', 'running', 'paused', 'held'], 'stopped');
  }

  /** "Good enough": ends the sampling of a still that is being rendered; its picture is made of what is there. */
  async take(id: number, frame: number): Promise<void> {
    const current = this.run?.batch.id === id ? [...this.run.current.values()].find((c) => c.row.id === frame) : undefined;
    if (!current) throw new ServerError('conflict', 'This frame is not being rendered now.');
    if (!canEndEarly(current.frame)) throw new ServerError('conflict', 'Frames of a movie are sampled alike; only a still can be ended early.');
    current.enough.abort();
  }

  /** Goes on with a done frame whose sampling was ended early, from where it stopped. */
  async goOn(id: number, frame: number): Promise<Batch> {
    const batch = await findBatch(id);
    const row = await BatchFrame.findOne({ where: { id: frame, batchId: id } });
    if (!row) throw new ServerError('not-found', `There is no frame ${frame} in batch ${batch.number}.`);
    if (row.state !== 'done' || row.ended === null || row.ended === 'samples')
      throw new ServerError('conflict', `Frame ${row.number} has all its samples already.`);
    if (batch.state === 'stopped' || batch.state === 'done') await this.setState(batch, 'queued');
    await this.save(row, { state: 'waiting' });
    this.wake();
    await this.tell(batch);
    return batch;
  }

  /** Ends the run. A still may have hours in it: pausing keeps what it has. Frames of a movie are begun again. */
  private halt(run: Run, pausing: boolean): void {
    run.halted = true;
    run.pausing = pausing;
    for (const { frame, enough, stop } of run.current.values()) (pausing && canEndEarly(frame) ? enough : stop).abort();
  }

  private async turn(id: number, from: string[], to: string): Promise<Batch> {
    // A run that is ending still writes; what it was asked to become must be there before it becomes another thing.
    if (this.run?.batch.id === id && this.run.halted) await this.loop;
    const batch = await findBatch(id);
    if (!from.includes(batch.state)) throw new ServerError('conflict', `Batch ${batch.number} is ${batch.state}; that cannot be done now.`);
    await this.setState(batch, to);
    if (this.run?.batch.id === id) {
      this.run.batch.state = to;
      this.halt(this.run, to === 'paused');
      await this.loop;
      await batch.reload();
    }
    await this.tell(batch);
    return batch;
  }

  private async setState(batch: Batch, state: string, reason: string | null = null): Promise<void> {
    batch.state = state;
    batch.reason = reason;
    batch.ended = state === 'done' || state === 'stopped' ? new Date().toISOString() : null;
    const { ended } = batch;
    await this.context.database.write((transaction) => Batch.update({ state, reason, ended }, { where: { id: batch.id }, transaction }));
  }

  private async tell(batch: Batch): Promise<void> {
    this.context.events.send({ type: 'batch', batch: await describeBatch(this.context, batch, this.live(batch)) });
  }

  private tellSoon(run: Run): void {
    if (run.tellTimer) return;
    run.tellTimer = setTimeout(
      () => {
        const started = performance.now();
        void this.tell(run.batch)
          .catch((e: unknown) => this.context.log.error(e))
          .finally(() => {
            run.tellTimer = null;
            run.tellCost = performance.now() - started;
          });
      },
      Math.max(TELL_MS, TELL_SHARE * run.tellCost),
    );
  }

  private async work(): Promise<void> {
    while (this.wanted) {
      const batch = await Batch.findOne({
        where: { state: { [Op.in]: ['running', 'queued'] } },
        order: [
          ['state', 'DESC'],
          ['number', 'ASC'],
        ],
      });
      if (!batch) return;
      await this.runBatch(batch);
    }
  }

  private async runBatch(batch: Batch): Promise<void> {
    const { context } = this;
    const run: Run = {
      batch,
      started: performance.now(),
      halted: false,
      current: new Map(),
      pausing: false,
      names: shotNames(batch),
      failure: { message: '', count: 0 },
      tellTimer: null,
      tellCost: 0,
    };
    this.run = run;
    context.pool.resetStats();
    try {
      await this.setState(batch, 'running');
      await this.tell(batch);
      const frames = batchFrames(batch);
      const taken = new Set<number>();
      await Promise.all(Array.from({ length: LANES }, () => this.lane(run, frames, taken)));
      const left = await BatchFrame.count({ where: { batchId: batch.id, state: { [Op.in]: ['waiting', 'rendering'] } } });
      if (batch.state === 'running' && left === 0) await this.setState(batch, 'done');
    } catch (e) {
      context.log.error(e);
      await this.setState(batch, 'held', (e as Error).message);
    } finally {
      if (run.tellTimer) clearTimeout(run.tellTimer);
      await this.endRun(run);
    }
  }

  /** Adds what was measured to the row and tells the end. */
  private async endRun(run: Run): Promise<void> {
    const { batch } = run;
    const live = this.live(batch)!;
    this.run = null;
    batch.set({ elapsed: (batch.elapsed ?? 0) + live.elapsed, busy: (batch.busy ?? 0) + live.busy, wall: (batch.wall ?? 0) + live.wall });
    await this.context.database.write((transaction) => batch.save({ transaction, fields: ['elapsed', 'busy', 'wall'] }));
    const share = (busy: number): number => (live.wall > 0 ? Number((100 * (1 - busy / (live.wall * live.workers))).toFixed(1)) : 0);
    this.context.log.info(
      {
        batch: batch.number,
        state: batch.state,
        seconds: Number(live.elapsed.toFixed(1)),
        workersIdlePercent: share(live.busy),
        notTracingPercent: share(this.context.pool.stats().traced),
      },
      'batch ended its run',
    );
    await this.tell(batch);
  }

  private async lane(run: Run, frames: Frame[], taken: Set<number>): Promise<void> {
    while (this.wanted && !run.halted) {
      const row = await BatchFrame.findOne({
        where: { batchId: run.batch.id, state: 'waiting', id: { [Op.notIn]: [...taken] } },
        order: ['position'],
      });
      // The other lanes look at the same time.
      if (!row) return;
      if (taken.has(row.id) || run.halted) continue;
      taken.add(row.id);
      await this.renderRow(run, row, frames[row.position]!);
      taken.delete(row.id);
    }
  }

  private async save(
    row: BatchFrame,
    values: Partial<Pick<BatchFrame, 'state' | 'attempts' | 'seconds' | 'samples' | 'message' | 'ended' | 'files'>>,
  ): Promise<void> {
    row.set(values);
    await this.context.database.write((transaction) => row.save({ transaction }));
  }

  private async renderRow(run: Run, row: BatchFrame, frame: Frame): Promise<void> {
    const { pool, store, events } = this.context;
    const { batch } = run;
    const progress: Current = { row, frame, share: 0, enough: new AbortController(), stop: new AbortController() };
    run.current.set(row.position, progress);
    const tellFrame = (): void => events.send({ type: 'frame', batchId: batch.id, frame: describeFrame(row, frame, run.names) });
    try {
      if (row.identity !== frame.identity) throw new Error('The engine has changed since this batch was planned; start a new batch.');
      await this.save(row, { state: 'rendering', attempts: row.attempts + 1 });
      tellFrame();
      const { scene } = frozenPlan(batch).context;
      const film = await this.filmOf(batch, row, frame);
      const done = await renderFrame(pool, store.source(scene), frame, {
        signal: progress.stop.signal,
        ...(canEndEarly(frame) && { enough: progress.enough.signal }),
        ...(film && { resume: film }),
        onProgress: (share) => {
          progress.share = share;
          this.tellSoon(run);
        },
      });
      const kept = store.film(batch.id, row.position);
      if (done.film) await writeWhole(kept, done.film);
      if (run.pausing && done.ended === 'hand') {
        await this.save(row, { state: 'waiting', attempts: row.attempts - 1 });
        return;
      }
      for (const file of done.files) await writeWhole(store.picture(batch.folder, file.name), file.bytes);
      if (!done.film) await rm(kept, { force: true });
      await this.save(row, {
        state: 'done',
        seconds: done.seconds + (film ? (row.seconds ?? 0) : 0),
        samples: done.samples,
        ended: done.ended,
        message: null,
        files: JSON.stringify(done.files.map((f) => f.name)),
      });
      run.failure.count = 0;
    } catch (e) {
      if (e instanceof AbortedError) await this.save(row, { state: 'waiting', attempts: row.attempts - 1 });
      else await this.failed(run, row, e as Error & { code?: string });
    } finally {
      run.current.delete(row.position);
    }
    tellFrame();
    this.tellSoon(run);
  }

  /** What is kept of the frame's sampling, or null. */
  private async filmOf(batch: Batch, row: BatchFrame, frame: Frame): Promise<Film | null> {
    const bytes = await readFile(this.context.store.film(batch.id, row.position)).catch(() => null);
    const film = bytes && decodeFilm(bytes);
    return film && film.identity === frame.identity && film.samples < frame.sampling.samples ? film : null;
  }

  /** A failed frame is tried again, then passed over; a common cause holds the batch. */
  private async failed(run: Run, row: BatchFrame, error: Error & { code?: string }): Promise<void> {
    const full = error.code === 'ENOSPC';
    const message = full ? 'The disk is full. Free some room and resume; finished frames are kept.' : error.message;
    this.context.log.warn({ batch: run.batch.number, frame: row.name, message }, 'a frame failed');
    // Frames differ in their names; the cause is what follows.
    const cause = message.replace(/^Shot .*?: /, '');
    run.failure = cause === run.failure.message ? { message: cause, count: run.failure.count + 1 } : { message: cause, count: 1 };
    const hold = full || run.failure.count >= SAME_FAILURES;
    const again = full || row.attempts < MOST_ATTEMPTS;
    await this.save(row, { state: again ? 'waiting' : 'failed', message });
    if (hold && run.batch.state === 'running') {
      await this.setState(run.batch, 'held', full ? message : `The same fault three times in a row: ${cause}`);
      this.halt(run, false);
    }
  }
}
