/** The clock is set back or forth while batches run and wait. */
import { afterEach, describe, expect, it, vi } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { purgeDeleted } from './history.js';

const here = new BatchesHere();
const DAY = 86_400_000;
const RealDate = Date;
/** Sets the clock by so many milliseconds, and lets it run on. */
function setClock(by: number): void {
  vi.stubGlobal(
    'Date',
    class extends RealDate {
      constructor(...given: [] | [number | string]) {
        if (given.length === 0) super(RealDate.now() + by);
        else super(given[0]);
      }
      static override now(): number {
        return RealDate.now() + by;
      }
    },
  );
}
afterEach(() => void vi.unstubAllGlobals());

describe('a clock that is set', () => {
  it.each([
    ['back by a day', -DAY],
    ['forth by a day', DAY],
  ])('%s while a batch runs: it ends whole, and tells the time that it took', async (_, by) => {
    let frames = 0;
    here.before(() => {
      if (++frames === 2) setClock(by);
    });
    const batch = await here.rendered(await here.addSet(here.file(6)));
    expect(batch).toMatchObject({ done: 6, failed: 0, remaining: 0 });
    expect(batch.elapsed).toBeGreaterThan(0);
    expect(batch.elapsed).toBeLessThan(60);
  });

  it('back after a batch was given its hour: it waits for that hour, and begins at once where that is taken back', async () => {
    const set = await here.addSet(here.file(2));
    const batch = await here.start(set, { startAt: new Date(Date.now() + 400).toISOString() });
    setClock(-DAY);
    await here.server.running.runner.reconsider();
    await new Promise((r) => setTimeout(r, 900));
    expect(await here.batch(batch.id)).toMatchObject({ state: 'queued', done: 0 });
    await here.move(batch.id, { startAt: null });
    expect((await here.whole(batch.id)).done).toBe(2);
  });

  it('forth past a batch’s hour: it begins when the queue is looked at next', async () => {
    const batch = await here.start(await here.addSet(here.file(2)), { startAt: new Date(Date.now() + DAY / 2).toISOString() });
    setClock(DAY);
    await here.server.running.runner.reconsider();
    expect((await here.whole(batch.id)).done).toBe(2);
  });

  it('back does not shorten the time for which what was deleted can be brought back', async () => {
    const batch = await here.rendered(await here.addSet(here.file(1)));
    expect((await here.server.call().delete(`/api/batches/${batch.id}`)).status).toBe(204);
    setClock(-30 * DAY);
    expect(await purgeDeleted(here.server.running.context)).toEqual([]);
    vi.unstubAllGlobals();
    setClock(6 * DAY);
    expect(await purgeDeleted(here.server.running.context)).toEqual([]);
    expect((await here.server.call().post(`/api/batches/${batch.id}/restore`)).status).toBe(200);
  });
});
