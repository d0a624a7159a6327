import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { mergeEdits } from '../../core/edit/mergeEdits.js';
import type { SetFile } from '../../core/plan/set.js';
import { type FetchedSet, PlanSaver, type SavedSet } from './planSaver.js';

const set = (name: string): SetFile => ({ name }) as SetFile;

/** A server whose answers are given by hand. */
function host() {
  const theirs: { now: FetchedSet | null } = { now: null };
  const merged: [string, boolean][] = [];
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
          answer: (ok) => (ok ? resolve({ version: version + 1, content: file.name }) : reject(new Error(theirs.now ? 'conflict' : 'no room'))),
        }),
      ),
    theirs,
    merged,
    fetch: () => Promise.resolve(theirs.now!),
    isConflict: (e: Error) => e.message === 'conflict',
    merge: (base: SetFile, ours: SetFile, other: SetFile) => set(`${ours.name} on ${base.name} with ${other.name}`),
    onMerged: (file: SetFile, _base: SetFile, _theirs: FetchedSet, edited: boolean) => void merged.push([file.name, edited]),
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

  it('sends a single edit at once, and what follows it in one', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    saver.put(set('b'));
    await vi.advanceTimersByTimeAsync(0);
    expect(server.sent).toMatchObject([{ name: 'b' }]);
    for (const name of ['c', 'd', 'e']) {
      await vi.advanceTimersByTimeAsync(100);
      saver.put(set(name));
    }
    // The first is saved; the others are not sent one after another meanwhile.
    server.sent[0]!.answer(true);
    await vi.advanceTimersByTimeAsync(299);
    expect(server.sent.length).toBe(1);
    await vi.advanceTimersByTimeAsync(1);
    expect(server.sent[1]).toMatchObject({ name: 'e', version: 2 });
    server.sent[1]!.answer(true);
    await vi.advanceTimersByTimeAsync(1000);
    saver.put(set('f'));
    await vi.advanceTimersByTimeAsync(0);
    expect(server.sent[2]).toMatchObject({ name: 'f', version: 3 });
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

  it('joins what was saved elsewhere meanwhile with the edit that was refused, and saves both', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    saver.put(set('mine'));
    const flushed = saver.flush();
    server.theirs.now = { file: set('theirs'), version: 2, content: 'theirs' };
    server.sent[0]!.answer(false);
    await vi.advanceTimersByTimeAsync(0);
    server.theirs.now = null;
    expect(server.sent).toMatchObject([{ version: 1 }, { name: 'mine on a with theirs', version: 2 }]);
    server.sent[1]!.answer(true);
    await flushed;
    expect(server.merged).toEqual([['mine on a with theirs', true]]);
    // Nothing is told as a fault, and nothing is tried again.
    expect(server.told).toMatchObject({ saved: [3], problems: [] });
    await vi.advanceTimersByTimeAsync(10_000);
    expect(server.sent).toHaveLength(2);
    expect(saver.unsaved()).toBeNull();
  });

  it('takes what it hears was saved elsewhere, and not what it saved itself', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    server.theirs.now = { file: set('theirs'), version: 2, content: 'theirs' };
    saver.hear(2);
    await vi.advanceTimersByTimeAsync(0);
    expect(server.merged).toEqual([['theirs', false]]);
    server.theirs.now = null;
    saver.put(set('mine'));
    const flushed = saver.flush();
    expect(server.sent).toMatchObject([{ name: 'mine', version: 2 }]);
    // The event comes before the answer.
    saver.hear(3);
    server.sent[0]!.answer(true);
    await flushed;
    await vi.advanceTimersByTimeAsync(10_000);
    expect(server.merged).toHaveLength(1);
    expect(server.sent).toHaveLength(1);
  });

  it('has what is not saved, with what it was made from, for as long as it is not', async () => {
    const server = host();
    const saver = new PlanSaver(server);
    saver.load(set('a'), 1);
    expect(saver.unsaved()).toBeNull();
    saver.put(set('b'));
    expect(saver.unsaved()).toMatchObject({ base: { name: 'a' }, file: { name: 'b' } });
    const flushed = saver.flush();
    expect(saver.unsaved()).toMatchObject({ base: { name: 'a' }, file: { name: 'b' } });
    server.sent[0]!.answer(true);
    await flushed;
    expect(saver.unsaved()).toBeNull();
  });
});

/** Park and Miller, "Random number generators: good ones are hard to find", 1988. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

describe('two windows that edit at once, over a slow line', () => {
  /** A server that answers and tells late, as `roll` has it, and windows that each have a value of their own in the set. */
  function office(roll: () => number) {
    type Own = SetFile & Record<string, unknown>;
    const server = { file: { name: '', a: 0, b: 0 } as unknown as Own, version: 1 };
    const late = <T>(value: () => T): Promise<T> => new Promise((resolve, reject) => setTimeout(() => attempt(resolve, reject, value), roll() * 400));
    const attempt = <T>(resolve: (value: T) => void, reject: (e: Error) => void, value: () => T): void => {
      try {
        const answer = value();
        setTimeout(() => resolve(answer), roll() * 400);
      } catch (e) {
        setTimeout(() => reject(e as Error), roll() * 400);
      }
    };
    const savers: PlanSaver[] = [];
    const open = (key: string) => {
      let file = server.file;
      const saver = new PlanSaver({
        save: (next, version) =>
          late(() => {
            if (version !== server.version) throw new Error('conflict');
            server.file = next as Own;
            server.version++;
            const told = server.version;
            for (const other of savers) setTimeout(() => other.hear(told), roll() * 600);
            return { version: told, content: '' };
          }),
        fetch: () => late(() => ({ ...server, content: '' })),
        isConflict: (e) => e.message === 'conflict',
        merge: mergeEdits,
        onSaved: () => undefined,
        onMerged: (merged) => (file = merged as Own),
        onProblem: (e) => {
          throw e;
        },
        onPending: () => undefined,
      });
      saver.load(file, server.version);
      savers.push(saver);
      return {
        saver,
        shown: () => file,
        edit: (value: number) => {
          file = { ...file, [key]: value };
          saver.put(file);
        },
      };
    };
    return { server, open };
  }

  it.each(Array.from({ length: 40 }, (_, i) => i + 1))('lose nothing of either (seed %i)', async (seed) => {
    const roll = dice(seed * 7919);
    const { server, open } = office(roll);
    const windows = { a: open('a'), b: open('b') };
    const last = { a: 0, b: 0 };
    for (let k = 1; k <= 30; k++) {
      const key = roll() < 0.5 ? 'a' : 'b';
      last[key] = k;
      windows[key].edit(k);
      await vi.advanceTimersByTimeAsync(roll() * 700);
      // What is shown is never older than what was typed.
      expect(windows[key].shown()[key]).toBe(k);
    }
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.file).toMatchObject(last);
    expect(windows.a.shown()).toMatchObject(last);
    expect(windows.b.shown()).toMatchObject(last);
    expect([windows.a.saver.unsaved(), windows.b.saver.unsaved()]).toEqual([null, null]);
  });
});
