/** How many frames of each batch are in which state: counted by the database once, then kept as rows change. */
import { QueryTypes } from 'sequelize';
import type { Database } from '../db/connection.js';
import { BatchTimings, type CountedRow } from './timings.js';

export interface BatchTotals {
  done: number;
  failed: number;
  damaged: number;
  takenOver: number;
  developed: number;
  /** Seconds of the last frame that is done, in the batch's order. */
  lastSeconds: number | null;
}

interface Counts extends Omit<BatchTotals, 'lastSeconds'> {
  last: { position: number; seconds: number } | null;
}

const MAX_BATCHES = 1000;

export class BatchCounts {
  private readonly batches = new Map<number, Promise<Counts>>();
  /** Times of single frames, of the batches asked for last. */
  readonly timings: BatchTimings;

  constructor(private readonly database: Database) {
    this.timings = new BatchTimings(database);
  }

  private async load(batchId: number): Promise<Counts> {
    const options = { bind: [batchId], type: QueryTypes.SELECT as const };
    const { sequelize } = this.database;
    const [sums] = await sequelize.query<Omit<Counts, 'last'>>(
      `SELECT total(state = 'done') AS done, total(state = 'failed') AS failed, total(damage IS NOT NULL) AS damaged,
         total(state = 'done' AND takenFrom IS NOT NULL) AS takenOver,
         total(state = 'done' AND developed IS NOT NULL) AS developed FROM frames WHERE batchId = $1`,
      options,
    );
    const [last] = await sequelize.query<{ position: number; seconds: number }>(
      'SELECT position, seconds FROM frames WHERE batchId = $1 AND seconds IS NOT NULL ORDER BY position DESC LIMIT 1',
      options,
    );
    return { ...sums!, last: last ?? null };
  }

  private of(batchId: number): Promise<Counts> {
    let known = this.batches.get(batchId);
    if (!known) {
      if (this.batches.size >= MAX_BATCHES) this.batches.delete(this.batches.keys().next().value!);
      known = this.load(batchId);
      this.batches.set(batchId, known);
      // What could not be counted is counted when it is asked for again.
      known.catch(() => this.batches.delete(batchId));
    }
    return known;
  }

  async totals(batchId: number): Promise<BatchTotals> {
    const { done, failed, damaged, takenOver, developed, last } = await this.of(batchId);
    return { done, failed, damaged, takenOver, developed, lastSeconds: last?.seconds ?? null };
  }

  /** A row was written: what it was is taken off, and what it is is added. A frame that is not done any more is counted anew. */
  changed(before: CountedRow, after: CountedRow): void {
    this.timings.changed(after);
    const known = this.batches.get(after.batchId);
    if (!known) return;
    if (before.seconds !== null && before.seconds !== undefined) {
      this.forget(after.batchId);
      return;
    }
    void known.then(
      (counts) => {
        const add = ({ state, damage, takenFrom, developed }: CountedRow, n: number): void => {
          if (state === 'done') counts.done += n;
          if (state === 'done' && takenFrom) counts.takenOver += n;
          if (state === 'done' && developed) counts.developed += n;
          if (state === 'failed') counts.failed += n;
          if (damage) counts.damaged += n;
        };
        add(before, -1);
        add(after, 1);
        const { position, seconds } = after;
        if (seconds !== null && seconds !== undefined && position > (counts.last?.position ?? -1)) counts.last = { position, seconds };
      },
      () => undefined,
    );
  }

  /** Many rows of a batch were written at once: it is counted anew when it is asked for. */
  forget(batchId: number): void {
    this.batches.delete(batchId);
    this.timings.forget(batchId);
  }

  /** Rows of unknown batches were written. */
  forgetAll(): void {
    this.batches.clear();
    this.timings.forgetAll();
  }
}
