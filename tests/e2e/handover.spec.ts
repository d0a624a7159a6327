/** Renders are packed, audited and handed over; what the client asked is held against them, and a fault waived. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { findFfmpeg } from '../../src/engine/node/ffmpeg.js';
import { startDropOff } from '../../src/engine/node/dropOffStand.js';
import { anotherTern, choose, fill } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';
import { tone } from '../support/tone.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-handover-'));
let project: ProjectReply;
let set: number;
const address = (): string => `${server.url}/p/${project.id}/s/${set}/hand-over`;

async function save(change: (file: SetReply['file']) => SetReply['file']): Promise<void> {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { version, file: change(file) });
}

test.beforeAll(async () => {
  await server.start();
  project = await anotherTern(server, 'Handed over');
  set = project.sets[0]!.id;
  await save((file) => ({
    ...file,
    name: 'Round two',
    sheet: {
      ...file.sheet,
      size: { width: 320, height: 180 },
      quality: { samples: 4, denoise: true } as never,
      passes: ['beauty'],
      files: [
        { type: 'png', bits: 8 },
        { type: 'jpeg', quality: 92 },
      ] as never,
    },
    views: [{ id: 'front', name: 'Front', kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 60 }] as never,
    shots: [
      { id: 'stills', name: 'Stills', kind: 'still', views: ['front'] },
      { id: 'spin', name: 'Spin', kind: 'turntable', view: 'front', frames: 6 },
    ] as never,
    waivers: [],
  }));
  const { id } = await server.send<BatchReply>('POST', `/sets/${set}/batches`, { firstFrames: 0, revision: project.revisions[0]!.id });
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 120_000 }).toBe('done');
});
test.afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await server.end();
});
test('a package is made with a movie and a contact sheet, is ready, and passes its audit elsewhere', async ({ page }) => {
  await page.goto(address());
  const table = page.getByTestId('handover-table');
  await expect(table.getByRole('row', { name: /Stills/ })).toContainText('done');
  await expect(page.getByRole('list', { name: 'Renders' }).getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: 'Make movie …' }).click();
  await expect(page.getByTestId('encoder')).toHaveText(/^Made by ffmpeg \d/);
  await fill(page, 'Rate', '30');
  await fill(page, 'Hold last', '0.5');
  await page.getByRole('checkbox', { name: 'Burnt-in line' }).check();
  await expect(page.getByLabel('Line', { exact: true })).toHaveValue('{project} {revision} · {timecode}');
  // Six frames at 30, and 15 that stand still.
  await expect(page.getByTestId('movie-length')).toHaveText('21 frames, 0.70 s instead of 0.25 s as planned');
  const mark = await sharp({ create: { width: 40, height: 20, channels: 3, background: '#a01030' } })
    .png()
    .toBuffer();
  await page.getByLabel('Logo file').setInputFiles({ name: 'harbour.png', mimeType: 'image/png', buffer: mark });
  await expect(page.getByText('harbour.png')).toBeVisible();
  await choose(page, 'Logo corner', 'bottom right');
  await fill(page, 'Logo width', '20');
  await page.getByLabel('Sound file').setInputFiles({ name: 'gulls.wav', mimeType: 'audio/wav', buffer: tone(0.4) });
  await expect(page.getByText('gulls.wav')).toBeVisible();
  await choose(page, 'Fit', 'repeat');
  await fill(page, 'Sound fade out', '0.2');
  await page.getByRole('button', { name: 'Make movie', exact: true }).click();
  const row = table.getByRole('row', { name: /Spin, movie/ });
  await expect(row).toHaveAttribute('data-state', 'ready', { timeout: 30_000 });
  // The logo is seen in the picture: 20 % of 320 pixels wide, 3 % from the edges.
  const [saved] = await Promise.all([page.waitForEvent('download'), row.getByRole('link', { name: 'Download' }).click()]);
  const still = test.info().outputPath('movie.png');
  spawnSync(findFfmpeg(), ['-loglevel', 'error', '-y', '-i', await saved.path(), '-frames:v', '1', still]);
  const { data } = await sharp(still).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const [r, g, b] = data.subarray((150 * 320 + 280) * 3, (150 * 320 + 280) * 3 + 3);
  expect([Math.abs(r! - 160) < 20, Math.abs(g! - 16) < 20, Math.abs(b! - 48) < 20]).toEqual([true, true, true]);
  // A movie that is made again is the same one.
  await page.getByRole('button', { name: 'Make movie …' }).click();
  await choose(page, 'Codec', 'ProRes 4444, MOV');
  await page.getByRole('checkbox', { name: 'Slate' }).check();
  await fill(page, 'Slate length', '1');
  // A second of slate at 24 frames a second before six frames.
  await expect(page.getByTestId('movie-length')).toHaveText('30 frames, 1.25 s instead of 0.25 s as planned');
  await page.getByRole('button', { name: 'Estimate size' }).click();
  await expect(page.getByTestId('movie-length')).toHaveText(/as planned · about [\d.]+ [KM]B$/);
  await page.getByRole('button', { name: 'Make movie', exact: true }).click();
  await expect(table.getByTestId('movie-row')).toHaveCount(2);
  await expect(table.getByTestId('movie-row').last()).toHaveAttribute('data-state', 'ready', { timeout: 30_000 });
  await page.getByTestId('sheet-layout').locator('summary').click();
  await fill(page, 'Columns', '3');
  await choose(page, 'Grid', 'by render width');
  await fill(page, 'Render width', '80');
  await fill(page, 'Caption', '{lens}');
  await expect(page.getByText('{lens} is no token; use {shot}', { exact: false })).toBeVisible();
  await fill(page, 'Caption', '{shot} at {timecode}');
  await expect(page.getByTestId('sheet-layout').locator('summary')).toHaveText('A3 landscape, renders 80 mm wide');
  for (const name of ['Moving shots', 'View list', 'Variant board', 'PNG']) await page.getByRole('checkbox', { name, exact: true }).check();
  await fill(page, 'File names', '{shot}/{view}');
  await expect(page.getByText('A moving shot needs {frame} in its name', { exact: false })).toBeVisible();
  await page.getByLabel('File names', { exact: true }).fill('{revision}/{shot}/{view}-{frame:3}');
  await page.getByRole('checkbox', { name: 'JPEG' }).uncheck();
  await page.getByRole('button', { name: 'Make package' }).click();
  const pack = page.getByTestId('package').first();
  await expect(pack).toHaveAttribute('data-state', 'ready', { timeout: 60_000 });
  await expect(page.getByTestId('audit-said')).toHaveText(/^\d+ files read at \d\d:\d\d; all are as planned and as asked\.$/);
  const [sheet] = await Promise.all([page.waitForEvent('popup'), pack.getByRole('link', { name: 'Contact sheet' }).click()]);
  await sheet.close();
  await expect(pack.getByRole('link', { name: 'Moving shots' })).toBeVisible();
  await expect(pack.getByRole('link', { name: 'View list' })).toBeVisible();
  // There are no variants to put side by side.
  await expect(pack.getByRole('link', { name: 'Variant board' })).toHaveCount(0);
  const [download] = await Promise.all([page.waitForEvent('download'), pack.getByRole('link', { name: 'Download ZIP' }).click()]);
  expect(download.suggestedFilename()).toBe('Round-two.zip');
  for (const [name, bytes] of Object.entries(unzipSync(readFileSync(await download.path())))) {
    mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    writeFileSync(path.join(folder, name), bytes);
  }
  expect(readdirSync(path.join(folder, 'A/Spin')).filter((n) => n.startsWith('Front'))).toEqual([1, 2, 3, 4, 5, 6].map((n) => `Front-00${n}.png`));
  const { xmp } = await sharp(path.join(folder, 'A/Stills/Front-001.png')).metadata();
  expect(xmp!.toString()).toContain('render:shot="Stills"');
  // Without server and model.
  const { status, stdout } = spawnSync(process.execPath, ['bin/easel.mjs', 'audit', folder, '--json'], { encoding: 'utf8' });
  expect([status, JSON.parse(stdout)]).toMatchObject([0, { ok: true, faults: [] }]);
  // To a client's drop-off that is away at first, and comes while it is sent.
  const client = path.join(folder, 'client');
  let stand = await startDropOff(client, 0);
  const { url } = stand;
  await stand.close();
  await pack.getByRole('button', { name: 'Deliver …' }).click();
  await fill(page, 'Address', url);
  await expect(pack.getByTestId('delivery')).toContainText(url);
  await expect(pack.getByTestId('delivery')).toHaveAttribute('data-state', 'sending');
  stand = await startDropOff(client, Number(new URL(url).port));
  await expect(pack.getByTestId('delivery')).toContainText('delivered', { timeout: 60_000 });
  await stand.close();
  const there = spawnSync(process.execPath, ['bin/easel.mjs', 'audit', path.join(client, 'Round-two'), '--json'], { encoding: 'utf8' });
  expect([there.status, JSON.parse(there.stdout)]).toMatchObject([0, { ok: true }]);
  // The sound is heard in Review while the frames play, and can be muted.
  const [clip] = (await server.get<BatchReply[]>(`/batches?project=${project.id}`)).flatMap((b) => b.clips);
  expect(clip!.sound).toMatchObject({ fit: 'loop' });
  await page.goto(address().replace(/hand-?over.*$/, 'review'));
  // It is fetched as soon as the shot is shown.
  const fetched = page.waitForRequest(/\/api\/sounds\//);
  await page.getByRole('gridcell', { name: /^Spin/ }).first().click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const played = await fetched;
  expect(played.url()).toContain(clip!.sound!.file);
  await page.getByRole('button', { name: 'Sound', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sound', exact: true })).toHaveAttribute('aria-pressed', 'false');
});

test('what is not as the client asked keeps a package back until it is waived', async ({ page }) => {
  await save((file) => ({ ...file, delivery: { name: 'Harbour office', sizes: [{ width: 1920, height: 1080 }] } }));
  await page.goto(address());
  await expect(page.getByTestId('handover-table').getByRole('row', { name: /Stills/ })).toContainText('1920 × 1080 asked');
  await page.getByRole('checkbox', { name: 'Pack Spin' }).uncheck();
  // Typed and made at once: a value that cannot be taken makes none, and one that can is in it.
  const packages = page.getByTestId('package');
  const before = await packages.count();
  await page.getByTestId('sheet-layout').locator('summary').click();
  const columns = page.getByLabel('Columns', { exact: true });
  await columns.fill('40');
  await columns.press('Control+Enter');
  await expect(page.getByText(/^Columns: /)).toBeVisible();
  expect(await packages.count()).toBe(before);
  await columns.fill('4');
  const name = page.getByLabel('Name', { exact: true });
  await name.fill('Stills alone');
  await name.press('Control+Enter');
  await expect(packages).toHaveCount(before + 1);
  const pack = packages.first();
  await expect(pack).toContainText('Stills alone');
  await expect(pack).toHaveAttribute('data-state', 'faults', { timeout: 60_000 });
  await expect(pack.getByRole('link', { name: 'Download ZIP' })).toHaveCount(0);
  const faults = page.getByTestId('audit-faults').locator('tbody tr');
  await expect(faults).toHaveText(/^Stills1920 × 1080320 × 180/);
  await faults.getByRole('button', { name: 'Waive …' }).click();
  await faults.getByLabel('Reason').fill('Preview, agreed by phone');
  await faults.getByLabel('Reason').press('Enter');
  await expect(pack).toHaveAttribute('data-state', 'ready');
  await expect(faults).toContainText('Preview, agreed by phone');
  const [audit] = await Promise.all([page.waitForEvent('popup'), pack.getByRole('link', { name: 'Audit page' }).click()]);
  await expect(audit.getByText('All files are as planned and as asked.')).toBeVisible();
  await expect(audit.locator('body')).toHaveCSS('max-width', '960px');
  await expect(audit.getByRole('cell', { name: 'Preview, agreed by phone' })).toBeVisible();
  await audit.close();
  // What is otherwise than in the packages before is told by name.
  await page.getByRole('checkbox', { name: 'HTML', exact: true }).check();
  await page.getByRole('button', { name: 'Make package' }).click();
  await expect(packages).toHaveCount(before + 2);
  const changes = page.getByTestId('package-changes');
  await expect(changes.locator('summary')).toHaveText(/^Since earlier packages: 1 new, /, { timeout: 60_000 });
  await changes.locator('summary').click();
  await expect(changes.getByRole('listitem').first()).toHaveText('newcontact-sheet.html');
});
