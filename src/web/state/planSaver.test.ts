import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SetFile } from '../../core/plan/set.js';
import { PlanSaver, type SavedSet } from './planSaver.js';

const set = (name: string): SetFile => ({ name }) as SetFile;

/** A server whose answers are given by hand. */
function host() {
  const sent: { name: string; version: number; last: boolean; answer: (ok: boolean) => void }[] = [];
  const told = { saved: [] as number[], problems: [] as string[], pending: [] as boolean[] };
  return {
    sent,
    told,
    save: (file: SetFile, version: number, last: boolean) =>
      new Promise<SavedSet>((resolve, reject) =>
        sent.push({
          name: file.name,
          version,
          last,
          answer: (ok) => (ok ? resolve({ version: version + 1, content: file.name }) : reject(new Error('no room'))),
        }),
      ),
    onSaved: ({ version }: SavedSet) => told.saved.push(version),
    onProblem: (e: Error) => told.problems.push(e.message),
    onPending: (pending: boolean) => told.pending.push(pending),
  };
}

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('saving the plan', () => {
  it('sends the last of several edits, a moment after it', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 7);
    saver.put(set('b'));
    saver.put(set('c'));
    await vi.advanceTimersByTimeAsync(299);
    expect(server.sent).toEqual([]);
    await vi.advanceTimersByTimeAsync(1);
    expect(server.sent).toMatchObject([{ name: 'c', version: 7, last: false }]);
    server.sent[0]!.answer(true);
    await vi.advanceTimersByTimeAsync(0);
    expect(server.told).toEqual({ saved: [8], problems: [], pending: [true, true, false] });
  });

  it('is over at once where nothing is pending, and else when the last edit is there', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    await saver.flush();
    expect(server.sent).toEqual([]);
    saver.put(set('b'));
    let done = false;
    const flushed = saver.flush().then(() => (done = true));
    await vi.advanceTimersByTimeAsync(0);
    // An edit on the way belongs to it.
    saver.put(set('c'));
    server.sent[0]!.answer(true);
    await vi.advanceTimersByTimeAsync(0);
    expect([done, server.sent.length]).toEqual([false, 2]);
    expect(server.sent[1]).toMatchObject({ name: 'c', version: 2 });
    server.sent[1]!.answer(true);
    await flushed;
    await vi.advanceTimersByTimeAsync(10_000);
    expect(server.sent.length).toBe(2);
  });

  it('says why it could not be saved, and is tried again', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    saver.put(set('b'));
    const flushed = expect(saver.flush()).rejects.toThrow('no room');
    await vi.advanceTimersByTimeAsync(0);
    server.sent[0]!.answer(false);
    await flushed;
    expect(server.told.problems).toEqual(['no room']);
    await vi.advanceTimersByTimeAsync(3000);
    expect(server.sent[1]).toMatchObject({ name: 'b', version: 1 });
    server.sent[1]!.answer(true);
    await vi.advanceTimersByTimeAsync(0);
    await saver.flush();
    expect([server.sent.length, server.told.saved]).toEqual([2, [2]]);
  });

  it('never has two requests on the way, and the one of a page that goes outlives it', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    saver.put(set('b'));
    await vi.advanceTimersByTimeAsync(300);
    saver.put(set('c'));
    const flushed = saver.flush(true);
    await vi.advanceTimersByTimeAsync(1000);
    expect(server.sent.length).toBe(1);
    server.sent[0]!.answer(true);
    await vi.advanceTimersByTimeAsync(0);
    expect(server.sent[1]).toMatchObject({ name: 'c', version: 2, last: true });
    server.sent[1]!.answer(true);
    await flushed;
  });
});
