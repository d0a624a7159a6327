/** How many frames of each batch stand how, and how long they took: counted by the database once, then kept as rows change. */
import { QueryTypes } from 'sequelize';
import { LATEST_FRAMES, type TimedShot } from '../../core/forecast/remaining.js';
import type { Database } from '../db/connection.js';

/** What of a row is counted. */
export interface CountedRow {
  batchId: number;
  shot: string;
  position: number;
  state: string;
  seconds?: number | null;
  damage?: string | null;
}

interface ShotCounts {
  waiting: number;
  done: number;
  failed: number;
  damaged: number;
  timed: number;
  seconds: number;
  /** The latest timed frames, by position. */
  latest: { position: number; seconds: number }[];
}

export interface BatchTotals {
  done: number;
  failed: number;
  damaged: number;
  shots: TimedShot[];
  /** Seconds of the last frame that is done, in the batch's order. */
  lastSeconds: number | null;
}

const MAX_BATCHES = 1000;

export class BatchCounts {
  private readonly batches = new Map<number, Promise<Map<string, ShotCounts>>>();

  constructor(private readonly database: Database) {}

  private async load(batchId: number): Promise<Map<string, ShotCounts>> {
    const options = { bind: [batchId], type: QueryTypes.SELECT as const };
    const { sequelize } = this.database;
    const sums = await sequelize.query<Omit<ShotCounts, 'latest'> & { shot: string }>(
      `SELECT shot, sum(state IN ('waiting', 'rendering')) AS waiting, sum(state = 'done') AS done, sum(state = 'failed') AS failed,
         sum(damage IS NOT NULL) AS damaged, count(seconds) AS timed, total(seconds) AS seconds FROM frames WHERE batchId = $1 GROUP BY shot`,
      options,
    );
    const latest = await sequelize.query<{ shot: string; position: number; seconds: number }>(
      `SELECT shot, position, seconds FROM (
         SELECT shot, position, seconds, row_number() OVER (PARTITION BY shot ORDER BY position DESC) AS n FROM frames WHERE batchId = $1 AND seconds IS NOT NULL)
       WHERE n <= ${LATEST_FRAMES} ORDER BY position`,
      options,
    );
    const shots = new Map(sums.map(({ shot, ...counts }) => [shot, { ...counts, latest: [] as ShotCounts['latest'] }]));
    for (const { shot, position, seconds } of latest) shots.get(shot)!.latest.push({ position, seconds });
    return shots;
  }

  private of(batchId: number): Promise<Map<string, ShotCounts>> {
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
    const shots = [...(await this.of(batchId)).values()];
    const sum = (pick: (s: ShotCounts) => number): number => shots.reduce((n, s) => n + pick(s), 0);
    let last: { position: number; seconds: number } | undefined;
    for (const { latest } of shots) if (latest.length > 0 && latest.at(-1)!.position > (last?.position ?? -1)) last = latest.at(-1);
    return {
      done: sum((s) => s.done),
      failed: sum((s) => s.failed),
      damaged: sum((s) => s.damaged),
      shots: shots.map(({ waiting, timed, seconds, latest }) => ({
        waiting,
        timed,
        seconds,
        latest: latest.length > 0 ? latest.reduce((n, l) => n + l.seconds, 0) / latest.length : null,
      })),
      lastSeconds: last?.seconds ?? null,
    };
  }

  /** A row was written: what it was is taken off, and what it is is added. A frame that is not done any more is counted anew. */
  changed(before: CountedRow, after: CountedRow): void {
    const known = this.batches.get(after.batchId);
    if (!known) return;
    if (before.seconds !== null && before.seconds !== undefined) {
      this.forget(after.batchId);
      return;
    }
    void known.then(
      (shots) => {
        const counts = shots.get(after.shot);
        if (!counts) return;
        const add = ({ state, damage }: CountedRow, n: number): void => {
          if (state === 'waiting' || state === 'rendering') counts.waiting += n;
          if (state === 'done') counts.done += n;
          if (state === 'failed') counts.failed += n;
          if (damage) counts.damaged += n;
        };
        add(before, -1);
        add(after, 1);
        if (after.seconds === null || after.seconds === undefined) return;
        counts.timed++;
        counts.seconds += after.seconds;
        counts.latest.push({ position: after.position, seconds: after.seconds });
        counts.latest.sort((a, b) => a.position - b.position);
        if (counts.latest.length > LATEST_FRAMES) counts.latest.shift();
      },
      () => undefined,
    );
  }

  /** Many rows of a batch were written at once: it is counted anew when it is asked for. */
  forget(batchId: number): void {
    this.batches.delete(batchId);
  }

  /** Rows of unknown batches were written. */
  forgetAll(): void {
    this.batches.clear();
  }
}
