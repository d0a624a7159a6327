/** Counts of a batch's frames, when rows are saved while they are being counted. */
import { describe, expect, it } from 'vitest';
import type { Database } from '../db/connection.js';
import { BatchCounts } from './progress.js';

/** A database of which the counting is answered by hand. */
class Counted {
  private readonly waiting: ((rows: unknown[]) => void)[] = [];
  queries = 0;
  readonly database = {
    sequelize: {
      query: (sql: string): Promise<unknown[]> => {
        if (!sql.includes("total(state = 'done')")) return Promise.resolve([]);
        this.queries++;
        return new Promise((resolve) => this.waiting.push(resolve));
      },
    },
  } as unknown as Database;

  answer(done: number): void {
    this.waiting.shift()!([{ done, failed: 0, damaged: 0, takenOver: 0, developed: 0 }]);
  }
}

const row = (state: string) => ({ batchId: 1, position: 3, state, seconds: state === 'done' ? 1 : null });
const saved = { before: row('waiting'), after: row('done') };

describe('counts of frames', () => {
  it('count a row once that was saved while they were asked for, whichever the database saw', async () => {
    for (const seen of [16, 17]) {
      const counted = new Counted();
      const counts = new BatchCounts(counted.database);
      const asked = counts.totals(1);
      await counts.saving(1, () => Promise.resolve(saved));
      counted.answer(seen);
      await asked;
      // The next one asks again, and is right.
      const again = counts.totals(1);
      counted.answer(17);
      expect((await again).done).toBe(17);
      expect((await counts.totals(1)).done).toBe(17);
      expect(counted.queries).toBe(2);
    }
  });

  it('count a row once that was on its way when they were asked for', async () => {
    const counted = new Counted();
    const counts = new BatchCounts(counted.database);
    let end: (of: typeof saved) => void = () => {};
    const saving = counts.saving(1, () => new Promise((resolve) => (end = resolve)));
    const asked = counts.totals(1);
    // It is written already, and its writer does not know yet.
    counted.answer(17);
    await asked;
    end(saved);
    await saving;
    const again = counts.totals(1);
    counted.answer(17);
    expect((await again).done).toBe(17);
  });

  it('are kept and follow what is saved afterwards, and are asked anew once they are forgotten', async () => {
    const counted = new Counted();
    const counts = new BatchCounts(counted.database);
    const asked = counts.totals(1);
    counted.answer(5);
    expect((await asked).done).toBe(5);
    await counts.saving(1, () => Promise.resolve(saved));
    expect(await counts.totals(1)).toMatchObject({ done: 6, lastSeconds: 1 });
    expect(counted.queries).toBe(1);
    counts.forget(1);
    const again = counts.totals(1);
    counted.answer(9);
    expect((await again).done).toBe(9);
  });

  it('do not keep what was being counted when they were forgotten, also while they are counted again', async () => {
    const counted = new Counted();
    const counts = new BatchCounts(counted.database);
    const old = counts.totals(1);
    counts.forget(1);
    const fresh = counts.totals(1);
    counted.answer(3);
    await old;
    counted.answer(8);
    expect((await fresh).done).toBe(8);
    expect((await counts.totals(1)).done).toBe(8);
    expect(counted.queries).toBe(2);
  });

  it('are those after the last save, where one fails', async () => {
    const counted = new Counted();
    const counts = new BatchCounts(counted.database);
    await expect(counts.saving(1, () => Promise.reject(new Error('locked')))).rejects.toThrow('locked');
    const asked = counts.totals(1);
    counted.answer(2);
    expect((await asked).done).toBe(2);
    expect((await counts.totals(1)).done).toBe(2);
    expect(counted.queries).toBe(1);
  });
});
