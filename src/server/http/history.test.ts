/** Batches that are over: their report, their plan, and how they are deleted. */
import { existsSync, mkdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { SetReply } from '../../contract/contract.js';
import type { BatchContents, BatchReport } from '../../contract/queue.js';
import type { SetFile } from '../../core/plan/set.js';
import { DELETED_DAYS, purgeDeleted } from '../batches/history.js';

const here = new BatchesHere();

describe('a batch that is over', () => {
  it('has a report of what became of every frame, with checksums', async () => {
    const set = await here.addSet(here.file(2));
    const batch = await here.rendered(set);
    const report = (await here.server.call().get(`/api/batches/${batch.id}/report`)).body as BatchReport;
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
    const page = await here.server.call().get(`/api/batches/${batch.id}/report.html`);
    expect(page.text).toContain(files[0]!.sha256);
    expect(page.text).toContain('2 of 2 done, 0 of them reused; 0 failed; 0 accepted');
  });

  it('is planned again as it was, as a set of its own', async () => {
    const set = await here.addSet(here.file(2));
    const batch = await here.rendered(set);
    await here.save(set, here.file(5));
    const again = (await here.server.call().post(`/api/batches/${batch.id}/set`)).body as SetReply;
    expect(again.id).not.toBe(set.id);
    expect(again.file).toMatchObject({ name: `Spin, batch ${batch.number}`, shots: [{ frames: 2 }] });
    expect(await here.changes(again)).toMatchObject({ total: 2, takenOver: 2 });
  });

  it('is deleted and brought back, and after some days its files go to the trash', async () => {
    const set = await here.addSet(here.file(2));
    let open = (): void => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    here.before(() => gate);
    const { id, number, folder } = await here.start(set);
    const refused = await here.server.call().delete(`/api/batches/${id}`);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      409,
      expect.stringMatching(/^Batch \d+ is (queued|running)\. Stop it first/),
    ]);
    open();
    await here.whole(id);
    expect((await here.server.call().get(`/api/batches/${id}/contents`)).body).toMatchObject({
      frames: 2,
      files: 2,
      accepted: 0,
      movies: 0,
      days: DELETED_DAYS,
    } satisfies Partial<BatchContents>);
    expect((await here.server.call().delete(`/api/batches/${id}`)).status).toBe(204);
    expect((await here.server.call().get(`/api/batches/${id}`)).status).toBe(404);
    expect((await here.server.call().get(`/api/batches?project=${here.project.id}`)).body).toEqual([]);
    expect((await here.server.call().get('/api/batches?deleted')).body).toMatchObject([{ id }]);
    expect((await here.changes(set)).counts.missing).toBe(2);
    await here.server.call().post(`/api/batches/${id}/restore`);
    expect(await here.batch(id)).toMatchObject({ id, done: 2 });
    await here.server.call().delete(`/api/batches/${id}`);
    const { context } = here.server.running;
    // As a frame in strips leaves it that was stopped; another batch's stays.
    const [own, others] = [context.store.strips(id, 0), context.store.strips(Number(`${id}1`), 0)];
    for (const film of [own, others]) mkdirSync(film, { recursive: true });
    expect(await purgeDeleted(context)).toEqual([]);
    expect(await purgeDeleted(context, Date.now() + (DELETED_DAYS + 0.1) * 86_400_000)).toEqual([number]);
    expect([existsSync(own), existsSync(others)]).toEqual([false, true]);
    expect(existsSync(folder)).toBe(false);
    expect(await context.store.trash.find(path.relative(context.store.root, folder))).not.toBeNull();
    expect((await here.server.call().post(`/api/batches/${id}/restore`)).status).toBe(404);
  });
});
