/** Frames that are too large for the memory that they may have: rendered in strips, paused and gone on with. */
import { longTest } from '../../../tests/support/long.js';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { BatchReply } from '../../contract/batches.js';
import { customQualitySchema } from '../../core/frame/settings.js';
import type { SetFile } from '../../core/plan/set.js';

const here = new BatchesHere();
const SMALL = '1';

/** Two stills of 96 × 400, which need nine megabytes in one piece. */
function stills(samples: number): SetFile {
  const file = here.file(1);
  const quality = customQualitySchema.parse({ samples });
  return {
    ...file,
    sheet: { ...file.sheet, size: { width: 96, height: 400 }, quality },
    views: [here.view, { ...here.view, id: 'w', name: 'Other', focalLength: 70 }],
    shots: [{ id: 'still', kind: 'still', views: ['v', 'w'] }],
  };
}
const bytesOf = async (batch: BatchReply): Promise<Buffer[]> =>
  (await here.frames(batch.id)).flatMap((f) => f.files.map((name) => readFileSync(path.join(batch.folder, name))));
const stripFolders = (): string[] =>
  readdirSync(path.join(here.server.running.context.store.root, 'checkpoints')).filter((name) => name.endsWith('.strips'));

describe('a frame that needs more memory than it may have', () => {
  afterEach(() => void delete process.env.COLD_EASEL_FRAMES_MB);

  it('comes out with the same bytes, keeps no master, and leaves no film behind', async () => {
    const set = await here.addSet(stills(12));
    const whole = await here.rendered(set);
    const masters = (await here.server.running.context.masters.use()).count;
    process.env.COLD_EASEL_FRAMES_MB = SMALL;
    const strips = await here.rendered(set, { anew: true });
    const [a, b] = [await bytesOf(whole), await bytesOf(strips)];
    expect(a.length).toBe(2);
    a.forEach((bytes, i) => expect(bytes.equals(b[i]!)).toBe(true));
    expect([stripFolders(), (await here.server.running.context.masters.use()).count]).toEqual([[], masters]);
  });

  longTest('keeps what is done of it when it is paused, and goes on to the same bytes', async () => {
    process.env.COLD_EASEL_FRAMES_MB = SMALL;
    const set = await here.addSet(stills(24));
    const batch = await here.start(set);
    // Some of its work is done by then, and some is not.
    await here.until(batch.id, (b) => (b.current?.share ?? 0) > 0.2);
    expect((await here.server.call().post(`/api/batches/${batch.id}/pause`)).status).toBe(200);
    await here.until(batch.id, (b) => b.state === 'paused' && b.current === null);
    expect(stripFolders()).toHaveLength(1);
    const { data } = { data: path.join(here.server.running.context.store.root, 'checkpoints', stripFolders()[0]!) };
    expect(existsSync(path.join(data, 'progress.json'))).toBe(true);
    expect((await here.server.call().post(`/api/batches/${batch.id}/resume`)).status).toBe(200);
    const done = await here.whole(batch.id);
    delete process.env.COLD_EASEL_FRAMES_MB;
    const whole = await here.rendered(set, { anew: true });
    const [a, b] = [await bytesOf(whole), await bytesOf(done)];
    a.forEach((bytes, i) => expect(bytes.equals(b[i]!)).toBe(true));
    expect(stripFolders()).toEqual([]);
  });

  it('is held where its film has no room on the disk', async () => {
    process.env.COLD_EASEL_FRAMES_MB = SMALL;
    const { config } = here.server.running.context;
    const reserve = config.reserveBytes;
    const batch = await here.start(await here.addSet(stills(4)), { startAt: new Date(Date.now() + 3_600_000).toISOString() });
    const { bavail, bsize } = await import('node:fs/promises').then((fs) => fs.statfs(here.server.running.context.store.root));
    // Room for the reserve, and not for the film of three megabytes beside it.
    config.reserveBytes = bavail * bsize - 2 ** 20;
    try {
      await here.move(batch.id, { startAt: null });
      const held = await here.until(batch.id, (b) => b.state === 'held');
      expect(held.reason).toMatch(/are free on the disk/);
    } finally {
      config.reserveBytes = reserve;
    }
    expect((await here.whole(batch.id)).done).toBe(2);
  });
});
