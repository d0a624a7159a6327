/** The queue: who comes first, what is taken over, what is tried again, and what becomes of batches that are over. */
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { ChangesReply } from '../../contract/changes.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { BatchContents, BatchReport } from '../../contract/queue.js';
import { customQualitySchema } from '../../core/frame/settings.js';
import type { SetFile } from '../../core/plan/set.js';
import { DELETED_DAYS, purgeDeleted } from '../batches/history.js';
import type { Executor } from '../executor/executor.js';

const server = new ServerHere();
let project: ProjectReply;
beforeEach(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterEach(() => server.end());

const view = { ...spin(9).views[0]!, eye: [0.9, 0.5, 1.2] as [number, number, number], target: [0, 0.1, 0] as [number, number, number] };
const file = (frames: number, samples = 4): SetFile => {
  const plain = spin(frames);
  return {
    ...plain,
    views: [view],
    sheet: { ...plain.sheet, size: { width: 64, height: 36 }, quality: customQualitySchema.parse({ samples, denoise: false }) },
  };
};
const save = async (set: SetReply, to: SetFile): Promise<void> => {
  const { version } = (await server.call().get(`/api/sets/${set.id}`)).body as SetReply;
  const reply = await server.call().put(`/api/sets/${set.id}`).send({ file: to, version });
  expect(reply.status).toBe(200);
};
const start = async (set: SetReply, choice: object = {}): Promise<BatchReply> => {
  const reply = await server
    .call()
    .post(`/api/sets/${set.id}/batches`)
    .send({ revision: project.revisions[0]!.id, firstFrames: 0, ...choice });
  expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
  return reply.body as BatchReply;
};
const batchOf = async (id: number): Promise<BatchReply> => (await server.call().get(`/api/batches/${id}`)).body as BatchReply;
const framesOf = async (id: number): Promise<FrameReply[]> => (await server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[];
const changesOf = async (set: SetReply): Promise<ChangesReply> =>
  (await server.call().get(`/api/sets/${set.id}/changes?revision=${project.revisions[0]!.id}`)).body as ChangesReply;
async function until(id: number, is: (batch: BatchReply) => boolean): Promise<BatchReply> {
  for (let i = 0; i < 3000; i++) {
    const batch = await batchOf(id);
    if (is(batch)) return batch;
    await new Promise((r) => setTimeout(r, 10));
  }
  throw new Error(`Batch ${id} never came so far: ${JSON.stringify(await batchOf(id))}`);
}
const whole = (id: number): Promise<BatchReply> => until(id, (b) => b.state === 'done');
/** Puts another executor in the place of the server's; `act` comes before each frame is rendered. */
function before(act: (name: string) => Promise<void> | void): void {
  const { context } = server.running;
  const { executor } = context;
  context.executor = {
    workers: 1,
    render: async (...asked: Parameters<Executor['render']>) => {
      await act(asked[0].name);
      return executor.render(...asked);
    },
    decodeCheckpoint: (bytes) => executor.decodeCheckpoint(bytes),
    stats: () => executor.stats(),
    resetStats: () => executor.resetStats(),
  };
}
const move = async (id: number, place: object): Promise<void> => {
  const reply = await server.call().put(`/api/batches/${id}/place`).send(place);
  expect([reply.status, reply.body]).toEqual([200, expect.anything()]);
};

describe('the queue', () => {
  it('runs batches by priority and place, and lets one that is moved ahead go first', async () => {
    const begun: string[] = [];
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    before(async (name) => {
      begun.push(name.split('/')[0]!);
      await gate;
    });
    const named = async (name: string): Promise<SetReply> =>
      server.addSet(project, { ...file(3), name, shots: [{ ...file(3).shots[0]!, id: name }] });
    const [a, b, c, d] = [
      await start(await named('a')),
      await start(await named('b'), { anew: true }),
      await start(await named('c'), { anew: true }),
      await start(await named('d'), { anew: true, priority: 'last' }),
    ];
    // Ahead of all; before b; and the one that is last stays so.
    await move(c.id, { before: b.id });
    const e = await start(await named('e'), { anew: true, priority: 'ahead' });
    expect((await batchOf(e.id)).priority).toBe('ahead');
    open();
    for (const { id } of [a, b, c, d, e]) await whole(id);
    const order = begun.filter((name, i) => begun[i - 1] !== name);
    // The three frames of a are all in work by then.
    expect(order).toEqual(['a', 'e', 'c', 'b', 'd']);
    expect(begun).toHaveLength(15);
  });

  it('answers to stop, pause and move at once, whatever is in work', async () => {
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    before(() => gate);
    const first = await start(await server.addSet(project, file(3)));
    const second = await start(await server.addSet(project, file(3, 5)));
    await until(first.id, (b) => b.state === 'running');
    // The frame in work does not end before it is let: nothing waits for it.
    expect(((await server.call().post(`/api/batches/${first.id}/pause`)).body as BatchReply).state).toBe('paused');
    expect(((await server.call().post(`/api/batches/${second.id}/stop`)).body as BatchReply).state).toBe('stopped');
    await move(second.id, { priority: 'ahead' });
    expect(((await server.call().post(`/api/batches/${first.id}/resume`)).body as BatchReply).state).toBe('queued');
    open();
    expect((await whole(first.id)).done).toBe(3);
    expect((await batchOf(second.id)).state).toBe('stopped');
  });

  it('begins a batch at its hour, and at once where the hour is taken back', async () => {
    const set = await server.addSet(project, file(2));
    const later = await start(set, { startAt: new Date(Date.now() + 3_600_000).toISOString() });
    const soon = await start(await server.addSet(project, file(2, 5)), { startAt: new Date(Date.now() + 700).toISOString() });
    expect((await batchOf(soon.id)).state).toBe('queued');
    expect((await whole(soon.id)).done).toBe(2);
    expect(await batchOf(later.id)).toMatchObject({ state: 'queued', done: 0 });
    await move(later.id, { startAt: null });
    expect(await whole(later.id)).toMatchObject({ done: 2, startAt: null });
  });

  it('renders every n-th frame first, and then those between', async () => {
    const begun: number[] = [];
    before((name) => void begun.push(Number(/(\d+)$/.exec(name)![1])));
    const batch = await start(await server.addSet(project, file(8)), { spread: 4 });
    await whole(batch.id);
    // Three are in work at a time, so that single ones may come a little earlier or later.
    expect(new Set(begun.slice(0, 2))).toEqual(new Set([1, 5]));
    expect(new Set(begun.slice(2, 4))).toEqual(new Set([3, 7]));
    expect((await framesOf(batch.id)).map((f) => f.number)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
  });
});

describe('frames that are there already', () => {
  it('are linked under their new names and marked, and only what changed is rendered', async () => {
    const set = await server.addSet(project, file(4));
    const first = await start(set);
    await whole(first.id);
    const two = {
      ...file(4),
      name: 'Second',
      shots: [
        { ...file(4).shots[0]!, id: 'other' },
        { id: 'still', kind: 'still' as const, views: ['v'] },
      ],
    };
    const other = await server.addSet(project, two);
    expect(await changesOf(other)).toMatchObject({ total: 5, counts: { missing: 1 } });
    const second = await whole((await start(other)).id);
    expect(second).toMatchObject({ done: 5, takenOver: 4 });
    const frames = await framesOf(second.id);
    expect(frames.filter((f) => f.takenOver).map((f) => f.shot)).toEqual(['other', 'other', 'other', 'other']);
    for (const [i, f] of (await framesOf(first.id)).entries()) {
      const [from, to] = [path.join(first.folder, f.files[0]!), path.join(second.folder, frames[i]!.files[0]!)];
      expect(to).not.toBe(from);
      expect(statSync(to).ino).toBe(statSync(from).ino);
    }
  });

  it('are rendered where the files are not as they were written, and where that is asked for', async () => {
    const set = await server.addSet(project, file(3));
    const first = await whole((await start(set)).id);
    const [one] = await framesOf(first.id);
    const spoilt = path.join(first.folder, one!.files[0]!);
    const bytes = readFileSync(spoilt);
    writeFileSync(spoilt, Buffer.concat([bytes.subarray(0, -1), Buffer.from([bytes.at(-1)! ^ 1])]));
    const second = await whole((await start(set)).id);
    expect(second).toMatchObject({ done: 3, takenOver: 2 });
    expect(readFileSync(path.join(second.folder, one!.files[0]!))).toEqual(bytes);
    expect(await whole((await start(set, { anew: true })).id)).toMatchObject({ done: 3, takenOver: 0 });
  });

  it('count with the reason for what is stale, in words, and are chosen by a word', async () => {
    const set = await server.addSet(project, file(4));
    expect(await changesOf(set)).toMatchObject({ total: 4, toRender: 4, takenOver: 0, counts: { missing: 4, stale: 0 } });
    const first = await whole((await start(set, { select: '1-3' })).id);
    expect(await changesOf(set)).toMatchObject({ toRender: 1, takenOver: 3, counts: { missing: 1, stale: 0, failed: 0, 'not accepted': 4 } });
    const [one] = await framesOf(first.id);
    await server.call().put(`/api/batches/${first.id}/frames/${one!.id}/decision`).send({ decision: 'accepted' });
    expect((await changesOf(set)).counts['not accepted']).toBe(3);
    const lower = file(4);
    await save(set, {
      ...lower,
      views: [{ ...view, focalLength: 60 }],
      sheet: { ...lower.sheet, quality: customQualitySchema.parse({ samples: 6, denoise: false }) },
    });
    expect(await changesOf(set)).toMatchObject({
      toRender: 4,
      takenOver: 0,
      counts: { missing: 1, stale: 3 },
      reasons: [{ grounds: ['camera', 'quality'], frames: 3 }],
      runs: [{ run: 'spin', words: { missing: '4', stale: '1-3' } }],
    });
    expect(await whole((await start(set, { select: 'stale' })).id)).toMatchObject({ total: 3, done: 3 });
    expect(await whole((await start(set, { select: 'missing' })).id)).toMatchObject({ total: 1 });
    const none = await server.call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, select: 'missing' });
    expect([none.status, (none.body as { detail: string }).detail]).toEqual([422, '"missing" chooses no frame: there is none of that kind.']);
  });

  it('are none of a still that was ended early', async () => {
    const { context } = server.running;
    const { executor } = context;
    const ended: Executor = {
      workers: 1,
      render: async (...asked) => ({ ...(await executor.render(...asked)), ended: 'hand' }),
      decodeCheckpoint: (bytes) => executor.decodeCheckpoint(bytes),
      stats: () => executor.stats(),
      resetStats: () => executor.resetStats(),
    };
    context.executor = ended;
    const set = await server.addSet(project, file(2));
    await whole((await start(set)).id);
    context.executor = executor;
    expect(await whole((await start(set)).id)).toMatchObject({ done: 2, takenOver: 0 });
  });

  it('are kept apart from drafts, which are smaller and marked', async () => {
    const set = await server.addSet(project, file(3, 8));
    const draft = await whole((await start(set, { draft: { size: 0.5, samples: 0.5 } })).id);
    expect(draft).toMatchObject({ size: { width: 32, height: 18 }, samples: 4, draft: { size: 0.5, samples: 0.5 }, name: 'Spin, draft' });
    expect(path.basename(draft.folder)).toMatch(/-draft$/);
    expect(await changesOf(set)).toMatchObject({ toRender: 3, counts: { missing: 3, stale: 0 } });
    const drafts = await server.call().get(`/api/sets/${set.id}/changes?revision=${project.revisions[0]!.id}&size=0.5&samples=0.5`);
    expect(drafts.body).toMatchObject({ toRender: 0, takenOver: 3 });
    expect(await whole((await start(set)).id)).toMatchObject({ done: 3, takenOver: 0, size: { width: 64, height: 36 } });
  });
});

describe('a failed frame', () => {
  it('is passed over with its reason, chosen by a word, and tried again in a batch that is over', async () => {
    let broken = true;
    before((name) => {
      if (broken && name.endsWith('0002')) throw new Error('the lamp went out');
    });
    const set = await server.addSet(project, file(3));
    const batch = await whole((await start(set)).id);
    expect(batch).toMatchObject({ done: 2, failed: 1 });
    expect((await framesOf(batch.id))[1]).toMatchObject({ state: 'failed', message: 'the lamp went out' });
    expect((await changesOf(set)).runs).toMatchObject([{ words: { failed: '2', missing: '2' } }]);
    broken = false;
    expect((await server.call().post(`/api/batches/${batch.id}/retry`)).status).toBe(200);
    expect(await whole(batch.id)).toMatchObject({ done: 3, failed: 0 });
    const none = await server.call().post(`/api/batches/${batch.id}/retry`);
    expect([none.status, (none.body as { detail: string }).detail]).toEqual([409, `Batch ${batch.number} has no failed frame.`]);
  });
});

describe('a batch that is over', () => {
  it('has a report of what became of every frame, with checksums', async () => {
    const set = await server.addSet(project, file(2));
    const batch = await whole((await start(set)).id);
    const report = (await server.call().get(`/api/batches/${batch.id}/report`)).body as BatchReport;
    expect(report).toMatchObject({
      batch: { number: batch.number, state: 'done', revision: 'A' },
      counts: { total: 2, done: 2, failed: 0, takenOver: 0 },
    });
    expect((report.plan as SetFile).shots).toHaveLength(1);
    const [{ files }] = report.frames as [BatchReport['frames'][number]];
    expect(files).toEqual([
      {
        name: files[0]!.name,
        bytes: statSync(path.join(batch.folder, files[0]!.name)).size,
        sha256: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
      },
    ]);
    const page = await server.call().get(`/api/batches/${batch.id}/report.html`);
    expect(page.text).toContain(files[0]!.sha256);
    expect(page.text).toContain('2 of 2 done, 0 of them taken over; 0 failed; 0 accepted');
  });

  it('is planned again as it was, as a set of its own', async () => {
    const set = await server.addSet(project, file(2));
    const batch = await whole((await start(set)).id);
    await save(set, file(5));
    const again = (await server.call().post(`/api/batches/${batch.id}/set`)).body as SetReply;
    expect(again.id).not.toBe(set.id);
    expect(again.file).toMatchObject({ name: `Spin, batch ${batch.number}`, shots: [{ frames: 2 }] });
    expect(await changesOf(again)).toMatchObject({ total: 2, takenOver: 2 });
  });

  it('is deleted and brought back, and after some days its files go to the trash', async () => {
    const set = await server.addSet(project, file(2));
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    before(() => gate);
    const { id, number, folder } = await start(set);
    const refused = await server.call().delete(`/api/batches/${id}`);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      409,
      expect.stringMatching(/^Batch \d+ is (queued|running)\. Stop it first/),
    ]);
    open();
    await whole(id);
    expect((await server.call().get(`/api/batches/${id}/contents`)).body).toMatchObject({
      frames: 2,
      files: 2,
      accepted: 0,
      movies: 0,
      days: DELETED_DAYS,
    } satisfies Partial<BatchContents>);
    expect((await server.call().delete(`/api/batches/${id}`)).status).toBe(204);
    expect((await server.call().get(`/api/batches/${id}`)).status).toBe(404);
    expect((await server.call().get('/api/batches')).body).toEqual([]);
    expect((await server.call().get('/api/batches?deleted')).body).toMatchObject([{ id }]);
    expect((await changesOf(set)).counts.missing).toBe(2);
    await server.call().post(`/api/batches/${id}/restore`);
    expect(await batchOf(id)).toMatchObject({ id, done: 2 });
    await server.call().delete(`/api/batches/${id}`);
    const { context } = server.running;
    expect(await purgeDeleted(context)).toEqual([]);
    expect(await purgeDeleted(context, Date.now() + (DELETED_DAYS + 0.1) * 86_400_000)).toEqual([number]);
    expect(existsSync(folder)).toBe(false);
    expect(await context.store.trash.find(path.relative(context.store.root, folder))).not.toBeNull();
    expect((await server.call().post(`/api/batches/${id}/restore`)).status).toBe(404);
  });
});
