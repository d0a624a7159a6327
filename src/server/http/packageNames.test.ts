/** Names of a package's files, which of them go in, and what they tell of how they were made. */
import { createHash } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { readFileSync, truncateSync, writeFileSync } from 'node:fs';
import { open } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeEach, describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { longTest } from '../../../tests/support/long.js';
import { PackagesHere } from '../../../tests/support/packagesHere.js';
import type { BatchReply } from '../../contract/batches.js';
import type { SetReply } from '../../contract/contract.js';
import type { Manifest } from '../../core/handover/manifest.js';

const here = new BatchesHere();
const packages = new PackagesHere(here);
const call = () => here.server.call();
const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Writes what is streamed, but for whole pieces of zeros, over which it skips: the file takes no more room than what else is in it. */
async function writeSparse(stream: AsyncIterable<Uint8Array>, file: string): Promise<number> {
  const handle = await open(file, 'w');
  const zeros = Buffer.alloc(2 ** 20);
  let at = 0;
  for await (const piece of stream) {
    if (piece.length > zeros.length || !zeros.subarray(0, piece.length).equals(piece)) await handle.write(piece, 0, piece.length, at);
    at += piece.length;
  }
  await handle.truncate(at);
  await handle.close();
  return at;
}

describe('a package', () => {
  let set: SetReply;
  let batch: BatchReply;
  beforeEach(async () => {
    set = await here.addSet(packages.deliverable());
    batch = await here.rendered(set);
  });

  it('names files by a pattern, packs one type of them, and tells in each how it was made', async () => {
    const sheet = { types: ['html'], paper: 'A4', renderWidth: 60, caption: '{shot}, {size} · {timecode}' };
    const pack = await packages.made(set, batch, { names: '{revision}/{shot}-{frame:3}', types: ['png 16'], sheet });
    expect([pack.state, pack.faults]).toEqual(['ready', []]);
    const whole = await packages.unpacked(pack.id);
    const { files } = JSON.parse(readFileSync(path.join(whole, 'manifest.json'), 'utf8')) as Manifest;
    const renders = files.filter((f) => f.kind === 'render');
    expect(renders.map((f) => f.path).toSorted()).toEqual([...[1, 2, 3, 4, 5, 6].map((n) => `A/spin-00${n}.png`), 'A/stills-001.png']);
    const contact = readFileSync(path.join(whole, 'contact-sheet.html'), 'utf8');
    // At 25 frames a second the fourth frame begins three frames after the first; a still has no timecode.
    expect(contact).toContain('>spin, 64 × 36 · 00:00:00:03<');
    expect(contact).toContain('>stills, 64 × 36<');
    for (const { path: name, identity, number, source } of renders) {
      const file = readFileSync(path.join(whole, name));
      const xmp = (await sharp(file).metadata()).xmp!.toString();
      for (const fact of [`dc:identifier="${identity}"`, `render:frame="${number}"`, 'render:revision="A"', 'render:samples="'])
        expect(xmp).toContain(fact);
      expect(xmp).not.toContain(here.server.running.context.store.root);
      // The render as it lies in the batch's folder.
      expect(source).toMatch(/^[0-9a-f]{64}$/);
      expect(sha256(file)).not.toBe(source);
    }
    const plain = await packages.made(set, batch, { names: '{revision}/{shot}-{frame:3}', types: ['png 16'], tellHow: false });
    const at = await packages.unpacked(plain.id);
    for (const { path: name, source } of renders) expect(sha256(readFileSync(path.join(at, name)))).toBe(source);
    expect(plain.faults).toEqual([]);
    // That a file tells something else now is no change of the render.
    const later = await packages.made(set, batch, {
      names: '{revision}/{shot}-{frame:3}',
      types: ['png 16'],
      onlyChanged: true,
      plans: false,
      models: false,
      reports: false,
    });
    expect(later.files).toBe(0);
    const since = async ({ id }: { id: number }): Promise<unknown> => (await call().get(`/api/packages/${id}/changes`).expect(200)).body;
    expect([await since(pack), await since(plain)]).toEqual([null, { added: [], changed: [], removed: ['contact-sheet.html'] }]);
    expect(await since(later)).toMatchObject({ added: [], changed: [] });
  });

  it('refuses names that cannot be, or that do not tell files apart', async () => {
    const ask = (names: string) =>
      call()
        .post(`/api/sets/${set.id}/packages`)
        .send({
          name: 'x',
          renders: [
            { batch: batch.id, run: 'spin' },
            { batch: batch.id, run: 'stills' },
          ],
          names,
        });
    const wrong = await ask('{shot}/{view}');
    expect([wrong.status, JSON.stringify(wrong.body)]).toEqual([400, expect.stringContaining('A moving shot needs {frame} in its name')]);
    const caption = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'x', renders: [{ batch: batch.id, run: 'spin' }], sheet: { caption: '{lens}' } });
    expect([caption.status, JSON.stringify(caption.body)]).toEqual([400, expect.stringContaining('{lens} is no token; use {shot}')]);
    const alike = await ask('{frame:4}');
    expect([alike.status, (alike.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('Add to the names what tells them apart'),
    ]);
  });

  longTest(
    'of more than 4 GB is streamed as ZIP64 that another program opens, without growing in memory',
    async () => {
      const pack = await packages.made(set, batch, { movies: false });
      const { context, url } = here.server.running;
      // A file that takes no room on the disk, longer than ZIP without its 64-bit fields can say.
      const large = 2 ** 32 + 12_345;
      const file = path.join(context.store.package(pack.id), 'large.bin');
      writeFileSync(file, '');
      truncateSync(file, large);
      const before = process.memoryUsage().rss;
      const reply = await fetch(`${url}/api/packages/${pack.id}/download`);
      const zip = path.join(packages.folder(), 'package.zip');
      const bytes = await writeSparse(reply.body!, zip);
      expect(bytes).toBeGreaterThan(large);
      // The archive is never whole in memory: what is read ahead is a few pieces.
      expect(process.memoryUsage().rss - before).toBeLessThan(2 ** 28);
      // Info-ZIP, which reads every byte and its sum.
      const said = execFileSync('unzip', ['-tq', zip], { encoding: 'utf8' });
      expect(said).toContain('No errors detected in compressed data');
      const listed = execFileSync('unzip', ['-l', zip], { encoding: 'utf8' });
      expect(listed).toMatch(new RegExp(`\\b${large}\\b.*large\\.bin`));
      expect(Number(/(\d+) files\s*$/.exec(listed)![1])).toBe(pack.files + 3);
    },
    600_000,
  );
});
