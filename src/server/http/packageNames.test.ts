/** Names of a package's files, which of them go in, and what they tell of how they were made. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { beforeEach, describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { PackagesHere } from '../../../tests/support/packagesHere.js';
import type { BatchReply } from '../../contract/batches.js';
import type { SetReply } from '../../contract/contract.js';
import type { Manifest } from '../../core/handover/manifest.js';

const here = new BatchesHere();
const packages = new PackagesHere(here);
const call = () => here.server.call();
const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

describe('a package', () => {
  let set: SetReply;
  let batch: BatchReply;
  beforeEach(async () => {
    set = await here.addSet(packages.deliverable());
    batch = await here.rendered(set);
  });

  it('names files by a pattern, packs one type of them, and tells in each how it was made', async () => {
    const pack = await packages.made(set, batch, { names: '{revision}/{shot}-{frame:3}', types: ['png 16'] });
    expect([pack.state, pack.faults]).toEqual(['ready', []]);
    const whole = await packages.unpacked(pack.id);
    const { files } = JSON.parse(readFileSync(path.join(whole, 'manifest.json'), 'utf8')) as Manifest;
    const renders = files.filter((f) => f.kind === 'render');
    expect(renders.map((f) => f.path).toSorted()).toEqual([...[1, 2, 3, 4, 5, 6].map((n) => `A/spin-00${n}.png`), 'A/stills-001.png']);
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
    const alike = await ask('{frame:4}');
    expect([alike.status, (alike.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('Add to the names what tells them apart'),
    ]);
  });
});
