/** How many frames of each batch are in which state: counted by the database once, then kept as rows change. */
import { QueryTypes } from 'sequelize';
import type { Database } from '../db/connection.js';
import { BatchTimings, type CountedRow } from './timings.js';

/** How far a batch is. */
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

/** Saves of a batch's rows that are on their way, and how many began or ended so far. */
interface Saves {
  open: number;
  serial: number;
}

/** Frames of each batch by their state, kept in memory and written along with rows. */
export class BatchCounts {
  private readonly batches = new Map<number, Counts>();
  /** Counts that are being asked of the database. */
  private readonly loading = new Map<number, Promise<Counts>>();
  private readonly saves = new Map<number, Saves>();
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

  private of(batchId: number): Promise<Counts> | Counts {
    const known = this.batches.get(batchId) ?? this.loading.get(batchId);
    if (known) return known;
    const before = this.saves.get(batchId);
    const [open, serial] = [before?.open ?? 0, before?.serial ?? 0];
    const asked: Promise<Counts> = this.load(batchId).then(
      (counts) => {
        // Forgotten meanwhile: another one may be on its way.
        if (this.loading.get(batchId) !== asked) return counts;
        this.loading.delete(batchId);
        // What was counted while a row was being saved may hold that row or not: what the save comes to could not be added.
        const isQuiet = open === 0 && (this.saves.get(batchId)?.serial ?? 0) === serial;
        if (isQuiet) this.keep(batchId, counts);
        return counts;
      },
      (e: unknown) => {
        if (this.loading.get(batchId) === asked) this.loading.delete(batchId);
        throw e;
      },
    );
    this.loading.set(batchId, asked);
    return asked;
  }

  private keep(batchId: number, counts: Counts): void {
    if (this.batches.size >= MAX_BATCHES) this.batches.delete(this.batches.keys().next().value!);
    this.batches.set(batchId, counts);
  }

  async totals(batchId: number): Promise<BatchTotals> {
    const { done, failed, damaged, takenOver, developed, last } = await this.of(batchId);
    return { done, failed, damaged, takenOver, developed, lastSeconds: last?.seconds ?? null };
  }

  /** Saves a row of the batch, and keeps the counts by what the row was and what it is. */
  async saving(batchId: number, save: () => Promise<{ before: CountedRow; after: CountedRow }>): Promise<void> {
    const saves = this.saves.get(batchId) ?? { open: 0, serial: 0 };
    this.saves.set(batchId, saves);
    saves.open++;
    saves.serial++;
    try {
      const { before, after } = await save();
      this.changed(before, after);
    } finally {
      saves.open--;
      saves.serial++;
    }
  }

  /** What a row was is taken off, and what it is is added. A frame that is not done any more is counted anew. */
  private changed(before: CountedRow, after: CountedRow): void {
    this.timings.changed(after);
    const counts = this.batches.get(after.batchId);
    if (!counts) return;
    if (before.seconds !== null && before.seconds !== undefined) {
      this.forget(after.batchId);
      return;
    }
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
  }

  /** Many rows of a batch were written at once: it is counted anew when it is asked for. */
  forget(batchId: number): void {
    this.batches.delete(batchId);
    this.loading.delete(batchId);
    this.timings.forget(batchId);
  }

  /** Rows of unknown batches were written. */
  forgetAll(): void {
    this.batches.clear();
    this.loading.clear();
    this.timings.forgetAll();
  }
}
