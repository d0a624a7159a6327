/** Sheets of a package: of every kind that its renders have something for, as PDF and as images, and audited with the rest. */
import { spawnSync } from 'node:child_process';
import { readFileSync, truncateSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { PackagesHere } from '../../../tests/support/packagesHere.js';

const here = new BatchesHere();
const call = () => here.server.call();
const packages = new PackagesHere(here);

it('are made, opened, packed and found torn', async () => {
  const set = await here.addSet(here.file(6));
  const batch = await here.rendered(set);
  const pack = await packages.made(set, batch, {
    renders: [{ batch: batch.id, run: 'spin' }],
    sheet: { kinds: ['contact', 'sun', 'strips', 'views', 'variants'], types: ['pdf', 'png', 'html'] },
  });
  // No sun study and no variants in this set.
  expect([pack.state, pack.faults, pack.sheets]).toEqual(['ready', [], ['contact-sheet.pdf', 'moving-shots.pdf', 'view-list.pdf']]);
  for (const name of pack.sheets) {
    const { body } = await call().get(`/api/packages/${pack.id}/sheets/${name}`).buffer(true).expect(200);
    expect((body as Buffer).subarray(0, 5).toString()).toBe('%PDF-');
  }
  await call().get(`/api/packages/${pack.id}/sheets/sun-study.pdf`).expect(404);
  const folder = await packages.unpacked(pack.id);
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
