import { expect, it, vi } from 'vitest';
import type { Database } from '../db/connection.js';
import type { BatchFrame } from '../db/models.js';
import { RowWriter } from './rowWriter.js';

/** A database that tells how many rows each of its transactions wrote, and fails for rows that say so. */
function fake(): { database: Database; sizes: number[]; row: (fails?: boolean) => BatchFrame } {
  const sizes: number[] = [];
  let count = 0;
  const write = async (work: (t: never) => Promise<unknown>): Promise<unknown> => {
    count = 0;
    await new Promise((r) => setTimeout(r, 5));
    try {
      return await work(undefined as never);
    } finally {
      sizes.push(count);
    }
  };
  const row = (fails = false): BatchFrame =>
    ({
      save: vi.fn(() => {
        count++;
        return fails ? Promise.reject(new Error('the disk is full')) : Promise.resolve();
      }),
    }) as unknown as BatchFrame;
  return { database: { write } as unknown as Database, sizes, row };
}

it('writes what comes meanwhile in one transaction, each row once', async () => {
  const { database, sizes, row } = fake();
  const writer = new RowWriter(database);
  const rows = Array.from({ length: 7 }, () => row());
  const first = writer.save(rows[0]!, ['state']);
  const rest = rows.slice(1).map((r) => writer.save(r, ['state']));
  await Promise.all([first, ...rest]);
  expect(sizes).toEqual([1, 6]);
  for (const r of rows) expect(r.save).toHaveBeenCalledTimes(1);
  await writer.save(row(), ['state']);
  expect(sizes).toEqual([1, 6, 1]);
});

it('tells all that were in a transaction that failed, and goes on with the next', async () => {
  const { database, row } = fake();
  const writer = new RowWriter(database);
  const ends = await Promise.allSettled([row(), row(true), row()].map((r) => writer.save(r, ['state'])));
  expect(ends.map((e) => e.status)).toEqual(['fulfilled', 'rejected', 'rejected']);
  await expect(writer.save(row(), ['state'])).resolves.toBeUndefined();
});
