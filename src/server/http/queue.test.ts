/** The queue: who comes first, who is told, and how frames follow each other. */
import { createServer } from 'node:http';
import { existsSync, readFileSync, statSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { text } from 'node:stream/consumers';
import { describe, expect, it, vi } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { BatchReply } from '../../contract/batches.js';
import type { SetReply } from '../../contract/contract.js';
import type { BatchReport } from '../../contract/queue.js';

const here = new BatchesHere();

describe('the queue', () => {
  it('runs batches by priority and place, and lets one that is moved ahead go first', async () => {
    const begun: string[] = [];
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    here.before(async (name) => {
      begun.push(name.split('/')[0]!);
      await gate;
    });
    const named = async (name: string): Promise<SetReply> => here.addSet({ ...here.file(3), name, shots: [{ ...here.file(3).shots[0]!, id: name }] });
    const [a, b, c, d] = [
      await here.start(await named('a')),
      await here.start(await named('b'), { anew: true }),
      await here.start(await named('c'), { anew: true }),
      await here.start(await named('d'), { anew: true, priority: 'last' }),
    ];
    // Ahead of all; before b; and the one that is last stays so.
    await here.move(c.id, { before: b.id });
    const e = await here.start(await named('e'), { anew: true, priority: 'ahead' });
    expect((await here.batch(e.id)).priority).toBe('ahead');
    open();
    for (const { id } of [a, b, c, d, e]) await here.whole(id);
    const order = begun.filter((name, i) => begun[i - 1] !== name);
    // The three frames of a are all in work by then.
    expect(order).toEqual(['a', 'e', 'c', 'b', 'd']);
    expect(begun).toHaveLength(15);
  });

  it('answers to stop, pause and move at once, whatever is in work', async () => {
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    here.before(() => gate);
    const first = await here.start(await here.addSet(here.file(3)));
    const second = await here.start(await here.addSet(here.file(3, 5)));
    await here.until(first.id, (b) => b.state === 'running');
    // The frame in work does not end before it is let: nothing waits for it.
    expect(((await here.server.call().post(`/api/batches/${first.id}/pause`)).body as BatchReply).state).toBe('paused');
    expect(((await here.server.call().post(`/api/batches/${second.id}/stop`)).body as BatchReply).state).toBe('stopped');
    await here.move(second.id, { priority: 'ahead' });
    expect(((await here.server.call().post(`/api/batches/${first.id}/resume`)).body as BatchReply).state).toBe('queued');
    open();
    expect((await here.whole(first.id)).done).toBe(3);
    expect((await here.batch(second.id)).state).toBe('stopped');
  });

  it('leaves a batch stopped that is stopped between being chosen and running', async () => {
    const set = await here.addSet(here.file(2));
    const { id } = await here.start(set, { startAt: new Date(Date.now() + 3_600_000).toISOString() });
    const { planner } = here.server.running.context;
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    const opened = vi.spyOn(planner, 'open').mockImplementationOnce(async (plan) => {
      await gate;
      return planner.open(plan);
    });
    await here.move(id, { startAt: null });
    await expect.poll(() => opened.mock.calls.length).toBe(1);
    await here.server.call().post(`/api/batches/${id}/stop`);
    open();
    // The next batch runs once that one is over.
    expect(await here.rendered(set, { anew: true })).toMatchObject({ done: 2 });
    expect(await here.batch(id)).toMatchObject({ state: 'stopped', done: 0 });
    opened.mockRestore();
  });

  it('leaves a batch stopped that is stopped at any moment of its start', async () => {
    const set = await here.addSet(here.file(2));
    const stopped: number[] = [];
    for (let wait = 0; wait < 24; wait += 2) {
      const { id } = await here.start(set, { anew: true });
      await new Promise((r) => setTimeout(r, wait));
      const reply = await here.server.call().post(`/api/batches/${id}/stop`);
      // It may have been done by then.
      if (reply.status === 200) stopped.push(id);
    }
    const last = await here.start(set, { anew: true });
    await here.whole(last.id);
    for (const id of stopped) expect([id, (await here.batch(id)).state]).toEqual([id, 'stopped']);
    expect(stopped.length).toBeGreaterThan(3);
  });

  it('is done where frames end just when their rows say that they are rendered', async () => {
    let frame = 0;
    // A row says so after 400 ms: frames end around then.
    here.before(() => new Promise((r) => setTimeout(r, 380 + 3 * (frame++ % 12))));
    const batch = await here.rendered(await here.addSet(here.file(24)));
    expect(batch).toMatchObject({ done: 24, failed: 0 });
    expect((await here.frames(batch.id)).map((f) => f.state)).toEqual(Array.from({ length: 24 }, () => 'done'));
  });

  it('begins a batch at its hour, and at once where the hour is taken back', async () => {
    const set = await here.addSet(here.file(2));
    const later = await here.start(set, { startAt: new Date(Date.now() + 3_600_000).toISOString() });
    const soon = await here.start(await here.addSet(here.file(2, 5)), { startAt: new Date(Date.now() + 700).toISOString() });
    expect((await here.batch(soon.id)).state).toBe('queued');
    expect((await here.whole(soon.id)).done).toBe(2);
    expect(await here.batch(later.id)).toMatchObject({ state: 'queued', done: 0 });
    await here.move(later.id, { startAt: null });
    expect(await here.whole(later.id)).toMatchObject({ done: 2, startAt: null });
  });

  it('renders every n-th frame first, and then those between', async () => {
    const lanes = 6;
    const begun: number[] = [];
    let release: () => void = () => undefined;
    let round = new Promise<void>((r) => (release = r));
    // All lanes have a frame before the first of them goes on, so that it does not count which of them is the fastest.
    here.before(async (name) => {
      begun.push(Number(/(\d+)$/.exec(name)![1]));
      const own = round;
      if (begun.length % lanes === 0) {
        release();
        round = new Promise<void>((r) => (release = r));
      }
      await own;
    });
    const batch = await here.start(await here.addSet(here.file(12)), { spread: 4 });
    await here.whole(batch.id);
    const sorted = (list: number[]): number[] => list.sort((a, b) => a - b);
    // 1, 5, 9, then 3, 7, 11, then those between.
    expect(sorted(begun.slice(0, lanes))).toEqual([1, 3, 5, 7, 9, 11]);
    expect(sorted(begun.slice(lanes))).toEqual([2, 4, 6, 8, 10, 12]);
    expect((await here.frames(batch.id)).map((f) => f.number)).toEqual(Array.from({ length: 12 }, (_, i) => i + 1));
  });
});

describe('whoever is to hear of the end of a batch', () => {
  it('is sent its report, or finds it on its standard input', async () => {
    const heard: BatchReport[] = [];
    const listener = createServer((request, response) => {
      void (async () => {
        heard.push(JSON.parse(await text(request)) as BatchReport);
        response.end();
      })();
    });
    await new Promise<void>((resolve) => listener.listen(0, '127.0.0.1', resolve));
    const { config } = here.server.running.context;
    const set = await here.addSet(here.file(2));
    config.hook = `http://127.0.0.1:${(listener.address() as AddressInfo).port}/done`;
    const first = await here.rendered(set);
    await expect.poll(() => heard.length).toBe(1);
    expect(heard[0]).toMatchObject({ batch: { number: first.number, state: 'done' }, counts: { done: 2 } });
    const out = path.join(here.server.running.context.store.root, 'heard.json');
    config.hook = `cat > '${out}' && test "$COLD_EASEL_STATE" = done`;
    const second = await here.rendered(set);
    await expect.poll(() => existsSync(out) && statSync(out).size > 0).toBe(true);
    expect(JSON.parse(readFileSync(out, 'utf8'))).toMatchObject({ batch: { number: second.number }, counts: { takenOver: 2 } });
    // One that cannot be told keeps nothing from its end.
    config.hook = 'http://127.0.0.1:9/';
    expect(await here.rendered(set)).toMatchObject({ done: 2 });
    await new Promise((resolve) => listener.close(resolve));
  });
});
