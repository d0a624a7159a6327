/** Frames that are there already: what is reused, what is not, and what is said of it. */
import { linkSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { customQualitySchema } from '../../core/frame/settings.js';

const here = new BatchesHere();

describe('frames that are there already', () => {
  it('are linked under their new names and marked, and only what changed is rendered', async () => {
    const set = await here.addSet(here.file(4));
    const first = await here.start(set);
    await here.whole(first.id);
    const two = {
      ...here.file(4),
      name: 'Second',
      shots: [
        { ...here.file(4).shots[0]!, id: 'other' },
        { id: 'still', kind: 'still' as const, views: ['v'] },
      ],
    };
    const other = await here.addSet(two);
    expect(await here.changes(other)).toMatchObject({ total: 5, counts: { missing: 1 } });
    const second = await here.rendered(other);
    expect(second).toMatchObject({ done: 5, takenOver: 4 });
    const frames = await here.frames(second.id);
    expect(frames.filter((f) => f.takenOver).map((f) => f.shot)).toEqual(['other', 'other', 'other', 'other']);
    for (const [i, f] of (await here.frames(first.id)).entries()) {
      const [from, to] = [path.join(first.folder, f.files[0]!), path.join(second.folder, frames[i]!.files[0]!)];
      expect(to).not.toBe(from);
      expect(statSync(to).ino).toBe(statSync(from).ino);
    }
  });

  it('leave nothing behind where their names are there from a run that was cut off', async () => {
    const set = await here.addSet(here.file(3));
    const first = await here.rendered(set);
    const second = await here.start(set, { startAt: new Date(Date.now() + 3_600_000).toISOString() });
    // As a kill leaves it between the file and its row.
    const [frame] = await here.frames(first.id);
    const to = path.join(second.folder, frame!.files[0]!);
    mkdirSync(path.dirname(to), { recursive: true });
    linkSync(path.join(first.folder, frame!.files[0]!), to);
    await here.move(second.id, { startAt: null });
    expect(await here.whole(second.id)).toMatchObject({ done: 3, takenOver: 3 });
    const files = readdirSync(second.folder, { recursive: true })
      .map(String)
      .filter((f) => statSync(path.join(second.folder, f)).isFile());
    expect(files.sort()).toEqual((await here.frames(second.id)).flatMap((f) => f.files).sort());
  });

  it('are rendered where the files are not as they were written, and where that is asked for', async () => {
    const set = await here.addSet(here.file(3));
    const first = await here.rendered(set);
    const [one] = await here.frames(first.id);
    const spoilt = path.join(first.folder, one!.files[0]!);
    const bytes = readFileSync(spoilt);
    writeFileSync(spoilt, Buffer.concat([bytes.subarray(0, -1), Buffer.from([bytes.at(-1)! ^ 1])]));
    const second = await here.rendered(set);
    expect(second).toMatchObject({ done: 3, takenOver: 2 });
    expect(readFileSync(path.join(second.folder, one!.files[0]!))).toEqual(bytes);
    expect(await here.rendered(set, { anew: true })).toMatchObject({ done: 3, takenOver: 0 });
  });

  it('count with the reason for what is stale, in words, and are chosen by a word', async () => {
    const set = await here.addSet(here.file(4));
    expect(await here.changes(set)).toMatchObject({ total: 4, toRender: 4, takenOver: 0, counts: { missing: 4, stale: 0 } });
    const first = await here.rendered(set, { select: '1-3' });
    expect(await here.changes(set)).toMatchObject({ toRender: 1, takenOver: 3, counts: { missing: 1, stale: 0, failed: 0, 'not accepted': 4 } });
    const [one] = await here.frames(first.id);
    await here.server.call().put(`/api/batches/${first.id}/frames/${one!.id}/decision`).send({ decision: 'accepted' });
    expect((await here.changes(set)).counts['not accepted']).toBe(3);
    const lower = here.file(4);
    await here.save(set, {
      ...lower,
      views: [{ ...here.view, focalLength: 60 }],
      sheet: { ...lower.sheet, quality: customQualitySchema.parse({ samples: 6, denoise: false }) },
    });
    expect(await here.changes(set)).toMatchObject({
      toRender: 4,
      takenOver: 0,
      counts: { missing: 1, stale: 3 },
      reasons: [{ grounds: ['camera', 'quality'], frames: 3 }],
      runs: [{ run: 'spin', words: { missing: '4', stale: '1-3' } }],
    });
    expect(await here.rendered(set, { select: 'stale' })).toMatchObject({ total: 3, done: 3 });
    expect(await here.rendered(set, { select: 'missing' })).toMatchObject({ total: 1 });
    const none = await here.server.call().post(`/api/sets/${set.id}/batches`).send({ revision: here.revision, select: 'missing' });
    expect([none.status, (none.body as { detail: string }).detail]).toEqual([422, '"missing" chooses no frame: there is none of that kind.']);
  });

  it('are none of a still that was ended early', async () => {
    here.instead(async (executor, ...asked) => ({ ...(await executor.render(...asked)), ended: 'hand' }));
    const set = await here.addSet(here.file(2));
    await here.rendered(set);
    here.instead((executor, ...asked) => executor.render(...asked));
    expect(await here.rendered(set)).toMatchObject({ done: 2, takenOver: 0 });
  });

  it('are kept apart from drafts, which are smaller and marked', async () => {
    const set = await here.addSet(here.file(3, 8));
    const draft = await here.rendered(set, { draft: { size: 0.5, samples: 0.5 } });
    expect(draft).toMatchObject({ size: { width: 32, height: 18 }, samples: 4, draft: { size: 0.5, samples: 0.5 }, name: 'Spin, draft' });
    expect(path.basename(draft.folder)).toMatch(/-draft$/);
    expect(await here.changes(set)).toMatchObject({ toRender: 3, counts: { missing: 3, stale: 0 } });
    const drafts = await here.server.call().get(`/api/sets/${set.id}/changes?revision=${here.revision}&size=0.5&samples=0.5`);
    expect(drafts.body).toMatchObject({ toRender: 0, takenOver: 3 });
    expect(await here.rendered(set)).toMatchObject({ done: 3, takenOver: 0, size: { width: 64, height: 36 } });
  });
});

describe('a failed frame', () => {
  it('is passed over with its reason, chosen by a word, and tried again in a batch that is over', async () => {
    let broken = true;
    here.before((name) => {
      if (broken && name.endsWith('0002')) throw new Error('the lamp went out');
    });
    const set = await here.addSet(here.file(3));
    const batch = await here.rendered(set);
    expect(batch).toMatchObject({ done: 2, failed: 1 });
    expect((await here.frames(batch.id))[1]).toMatchObject({ state: 'failed', message: 'the lamp went out' });
    expect((await here.changes(set)).runs).toMatchObject([{ words: { failed: '2', missing: '2' } }]);
    broken = false;
    expect((await here.server.call().post(`/api/batches/${batch.id}/retry`)).status).toBe(200);
    expect(await here.whole(batch.id)).toMatchObject({ done: 3, failed: 0 });
    const none = await here.server.call().post(`/api/batches/${batch.id}/retry`);
    expect([none.status, (none.body as { detail: string }).detail]).toEqual([409, `Batch ${batch.number} has no failed frame.`]);
  });
});
