/** Sheets of a package: of every kind that its renders have something for, as PDF and as images, and audited with the rest. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, expect, it } from 'vitest';
import { asBuffer } from '../../../tests/support/asBuffer.js';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { until } from '../../../tests/support/until.js';
import type { PackageReply } from '../../contract/packages.js';

const here = new BatchesHere();
const call = () => here.server.call();
const folder = mkdtempSync(path.join(tmpdir(), 'easel-sheets-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('are made, opened, packed and found torn', async () => {
  const set = await here.addSet(here.file(6));
  const batch = await here.rendered(set);
  const made = await call()
    .post(`/api/sets/${set.id}/packages`)
    .send({
      name: 'Sheets',
      renders: [{ batch: batch.id, run: 'spin' }],
      sheet: { kinds: ['contact', 'sun', 'strips', 'views', 'variants'], types: ['pdf', 'png', 'html'] },
    });
  const pack = await until(
    async () => (await call().get(`/api/packages/${(made.body as PackageReply).id}`)).body as PackageReply,
    ({ state }) => state !== 'making',
  );
  // No sun study and no variants in this set.
  expect([pack.state, pack.faults, pack.sheets]).toEqual(['ready', [], ['contact-sheet.pdf', 'moving-shots.pdf', 'view-list.pdf']]);
  for (const name of pack.sheets) {
    const { body } = await call().get(`/api/packages/${pack.id}/sheets/${name}`).buffer(true).expect(200);
    expect((body as Buffer).subarray(0, 5).toString()).toBe('%PDF-');
  }
  await call().get(`/api/packages/${pack.id}/sheets/sun-study.pdf`).expect(404);
  const zip = await call().get(`/api/packages/${pack.id}/download`).buffer(true).parse(asBuffer).expect(200);
  for (const [name, bytes] of Object.entries(unzipSync(zip.body as Buffer))) {
    mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    writeFileSync(path.join(folder, name), bytes);
  }
  for (const name of ['contact-sheet', 'moving-shots', 'view-list']) {
    const { width, height } = await sharp(path.join(folder, `${name}-1.png`)).metadata();
    // A3 across at 150 pixels an inch.
    expect([width, height]).toEqual([2480, 1754]);
  }
  for (const name of ['contact-sheet', 'moving-shots', 'view-list'])
    expect(readFileSync(path.join(folder, `${name}.html`), 'utf8')).toMatch(/^<!doctype html>[^]*<img alt="" src="data:image\/jpeg[^]*<\/html>\n$/);
  for (const name of ['view-list-1.png', 'view-list.html']) truncateSync(path.join(folder, name), 2000);
  const { stdout } = spawnSync(process.execPath, ['bin/easel.mjs', 'audit', folder, '--json'], { encoding: 'utf8' });
  const { faults } = JSON.parse(stdout) as { faults: { rule: string; file: string }[] };
  expect(faults.flatMap(({ rule, file }) => (rule === 'torn' ? file : [])).sort()).toEqual(['view-list-1.png', 'view-list.html']);
});
