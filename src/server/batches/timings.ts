/** What each frame of a batch was foreseen to take and what it took: read once, then kept as rows change. */
import { QueryTypes } from 'sequelize';
import type { Range } from '../../core/forecast/range.js';
import { remainingTime, type TimedFrame } from '../../core/forecast/remaining.js';
import type { SeenTraits } from '../../core/forecast/traits.js';
import type { Database } from '../db/connection.js';

/** What of a row is counted. */
export interface CountedRow {
  batchId: number;
  position: number;
  state: string;
  seconds?: number | null;
  damage?: string | null;
  takenFrom?: number | null;
  developed?: string | null;
}

interface TimingRow {
  shot: string;
  position: number;
  state: string;
  seconds: number | null;
  foreseen: number | null;
  traits: string | null;
}

/** Working out takes at most one part in so many of the time. */
const WORK_SHARE = 30;

/** Batches that are kept: those that run, and the few that wait beside them. */
const MAX_BATCHES = 16;

/** How a run is going. */
export interface Pace {
  /** Shares that are done of frames in work, by position. */
  shares: ReadonlyMap<number, number>;
  /** Seconds that pass for each second of all workers. */
  pace: number;
}

interface Timings {
  /** By position. */
  frames: Map<number, TimedFrame>;
  forecast: string | null;
  /** What was worked out last, and until when that holds, in milliseconds. */
  last?: { range: Range | null; until: number };
}

const isOpen = (state: string): boolean => state === 'waiting' || state === 'rendering';

/** How long frames of a batch took, for its remaining time; each read once. */
export class BatchTimings {
  private readonly batches = new Map<number, Promise<Timings>>();

  constructor(private readonly database: Database) {}

  private async load(batchId: number): Promise<Timings> {
    const [batch] = await this.database.sequelize.query<{ forecast: string | null }>('SELECT forecast FROM batches WHERE id = $1', {
      bind: [batchId],
      type: QueryTypes.SELECT,
    });
    const rows = await this.database.sequelize.query<TimingRow>(
      'SELECT shot, position, state, seconds, foreseen, traits FROM frames WHERE batchId = $1 ORDER BY position',
      { bind: [batchId], type: QueryTypes.SELECT },
    );
    const counts = new Map<string, number>();
    for (const { shot } of rows) counts.set(shot, (counts.get(shot) ?? 0) + 1);
    const at = new Map<string, number>();
    const frames = new Map(
      rows.map(({ shot, position, state, seconds, foreseen, traits }): [number, TimedFrame] => {
        const i = at.get(shot) ?? 0;
        at.set(shot, i + 1);
        const place = counts.get(shot)! > 1 ? i / (counts.get(shot)! - 1) : 0;
        const seen = traits ? (JSON.parse(traits) as SeenTraits) : undefined;
        const left = isOpen(state) ? 1 : 0;
        return [position, { traits: { run: shot, place, ...(seen && { seen }) }, foreseen, measured: left > 0 ? null : seconds, left }];
      }),
    );
    return { frames, forecast: batch?.forecast ?? null };
  }

  private of(batchId: number): Promise<Timings> {
    const known = this.batches.get(batchId) ?? this.load(batchId);
    // The one asked for longest ago goes first.
    this.batches.delete(batchId);
    this.batches.set(batchId, known);
    if (this.batches.size > MAX_BATCHES) this.batches.delete(this.batches.keys().next().value!);
    known.catch(() => this.forget(batchId));
    return known;
  }

  /** Expected seconds to go with their range; null before anything is known. What was worked out a moment ago is told again. */
  async remaining(batchId: number, pace: Pace): Promise<Range | null> {
    const timings = await this.of(batchId);
    const { last } = timings;
    const started = performance.now();
    if (last && started < last.until) return last.range;
    const range = this.workOut(timings, pace);
    const ended = performance.now();
    timings.last = { range, until: ended + WORK_SHARE * (ended - started) };
    return range;
  }

  private workOut({ frames }: Timings, { shares, pace }: Pace): Range | null {
    const now = [...frames].map(([position, f]) => {
      const share = shares.get(position);
      return share === undefined || f.left === 0 ? f : { ...f, left: Math.max(0.01, 1 - share) };
    });
    return remainingTime(now, pace);
  }

  /** Foreseen seconds of each frame, by position; null where nobody foresaw them. */
  async foreseen(batchId: number): Promise<(number | null)[]> {
    return [...(await this.of(batchId)).frames.values()].map((f) => f.foreseen);
  }

  /** StoredForecast of a batch as JSON. A row that somebody has in hand may be older than that. */
  async forecast(batchId: number): Promise<string | null> {
    return (await this.of(batchId)).forecast;
  }

  changed({ batchId, position, state, seconds }: CountedRow): void {
    void this.batches.get(batchId)?.then(
      ({ frames }) => {
        const frame = frames.get(position);
        if (!frame) return;
        frame.left = isOpen(state) ? 1 : 0;
        frame.measured = frame.left > 0 ? null : (seconds ?? null);
      },
      () => undefined,
    );
  }

  forget(batchId: number): void {
    this.batches.delete(batchId);
  }

  forgetAll(): void {
    this.batches.clear();
  }
}
