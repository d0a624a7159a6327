/** Sets by template, stills as grids, overrides, deliveries, presets and qualities of one's own, and the order of shots. */
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { parsePresetFile } from '../../src/core/edit/presets.js';
import { changeSet, choose, fill, keepSheetOpen, plannedTern } from '../support/page.js';
import { TestServer } from '../support/server.js';

const STILL = { id: 'still', name: 'Still', kind: 'still', views: ['view'] };

const server = new TestServer();
let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const fileOf = async (set: number): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${set}`)).file;
const file = (): Promise<SetReply['file']> => fileOf(project.sets[0]!.id);

test('a set is made by a template, to measure, and every shot of it in three sizes', async ({ page }) => {
  project = await plannedTern(server, 'To measure');
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'New set' }).click();
  await expect(page.getByRole('dialog').getByRole('img', { includeHidden: true }).first()).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: /Turntable in three sizes/ }).click();
  await expect(page.getByRole('row', { name: /Turntable/ })).toContainText('72');
  await expect(page.getByText('216 frames')).toBeVisible();
});

test('a still is a grid of views, variants and sizes, and says how many pictures that is', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Grid', [], { size: { width: 96, height: 54 }, quality: { samples: 2 } });
  const variants = [
    { id: 'a', name: 'Plain', swaps: [] },
    { id: 'b', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] },
  ];
  await changeSet(server, project.sets[0]!.id, (set) => ({ ...set, materials: { variants } }));
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Add still' }).click();
  await page.getByLabel('Plain', { exact: true }).click();
  await page.getByLabel('Black', { exact: true }).click();
  await page.getByTitle('Named sizes, half and double, paper sizes.').click();
  await fill(page, 'Add size', '64x64');
  await choose(page, 'Framing of 64x64', 'Same height');
  await page.keyboard.press('Escape');
  await expect(page.getByText('1 view × 2 variants × 2 sizes = 4 renders')).toBeVisible();
  await expect.poll(async () => (await file()).sheet.sizes).toEqual([{ id: '64x64', width: 64, height: 64, framing: 'keepHeight' }]);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await page.waitForURL(/batch=/);
  const id = Number(new URL(page.url()).searchParams.get('batch'));
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
  expect(frames.map((f) => f.name.split('/').at(-1))).toEqual([
    'View_a_96x54_beauty',
    'View_b_96x54_beauty',
    'View_a_64x64_beauty',
    'View_b_64x64_beauty',
  ]);
  const square = await sharp(
    Buffer.from(await (await fetch(`${server.url}/api/batches/${id}/frames/${frames[3]!.id}/picture`)).arrayBuffer()),
  ).metadata();
  expect([square.width, square.height]).toEqual([64, 64]);
});

test(
  'a deviation is counted and taken back in one click; a delivery is recorded and checked; a sheet is kept',
  { tag: '@long' },
  async ({ page }) => {
    const sizes = [{ id: '64x64', width: 64, height: 64, framing: 'keepHeight' }];
    project = await plannedTern(server, 'Delivered', [STILL], { size: { width: 96, height: 54 }, sizes, quality: { samples: 2 } });
    await page.goto(`${base()}/shots`);
    const other = page.getByRole('region', { name: 'Overrides' });
    await other.getByLabel('Quality').click();
    await page.getByRole('option', { name: 'draft', exact: true }).click();
    await expect(page.getByRole('row', { name: /Still/ })).toContainText('± 1');
    await page.getByRole('button', { name: 'Clear all 1' }).click();
    await expect.poll(async () => (await file()).shots[0]!.overrides).toBeUndefined();

    await page.getByRole('button', { name: 'Client delivery: not set' }).click();
    await page.getByLabel('Check client delivery').click();
    await fill(page, 'Client', 'Harbour board');
    await fill(page, 'Sizes', '96x54');
    await fill(page, 'File names', 'NFL_*');
    const said = page.getByRole('list', { name: 'Not met' });
    await expect(said).toContainText('Still is 64 × 64, which is not accepted. Use 96 × 54.');
    await expect(said).toContainText('File names must match NFL_*.');
    await fill(page, 'File names', '');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: '1 do not meet Harbour board' })).toBeVisible();
    await expect.poll(async () => (await file()).delivery?.sizes).toEqual([{ width: 96, height: 54 }]);

    // Saved as a preset, exported, forgotten, brought back, and taken by a new project.
    await page.getByText('Saved format sheets:').getByRole('button', { name: 'Manage' }).click();
    await fill(page, 'Save format sheet as', 'Thumbnails');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('button', { name: 'New projects use Thumbnails' }).click();
    await expect(page.getByRole('button', { name: 'New projects use Thumbnails' })).toHaveAttribute('aria-pressed', 'true');
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Export Thumbnails' }).click();
    const kept = parsePresetFile(JSON.parse(readFileSync(await (await download).path(), 'utf8')));
    expect(kept).toMatchObject({ kind: 'sheet', name: 'Thumbnails', body: { size: { width: 96, height: 54 } } });
    const begun = await server.send<ProjectReply>('POST', '/projects', { name: 'Begun' });
    expect((await fileOf(begun.sets[0]!.id)).sheet.size).toEqual({ width: 96, height: 54 });
    await page.getByRole('button', { name: 'Delete Thumbnails' }).click();
    await expect(page.getByText('None saved yet.')).toBeVisible();
    const brought = path.join(tmpdir(), 'thumbnails.preset.json');
    writeFileSync(brought, JSON.stringify({ format: 'cold-easel.recipe', version: 1, ...kept }));
    await page.getByLabel('Preset file: format sheet').setInputFiles(brought);
    await expect(page.getByRole('button', { name: 'Thumbnails', exact: true })).toBeVisible();
  },
);

test('a quality of one’s own is made value by value, kept, and taken up again', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Value by value', [STILL], { quality: { samples: 2 } });
  await page.goto(`${base()}/shots`);
  await page.locator('summary', { hasText: 'Quality' }).click();
  await fill(page, 'Samples', '5');
  await fill(page, 'Noise threshold', '0.02');
  await page.getByLabel('Caustics', { exact: true }).click();
  const own = { samples: 5, noise: 0.02, caustics: true, denoise: true };
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
  await expect(page.getByText(/5 samples · 6 bounces, refraction 12 · denoised · stops at noise 0.02/)).toBeVisible();
  // What cannot be is said, and nothing is changed.
  await fill(page, 'Samples', '0');
  await expect(page.getByText(/at least 1/i).first()).toBeVisible();
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
  await fill(page, 'Samples', '5');
  await page.getByText('Saved qualities:').getByRole('button', { name: 'Manage' }).click();
  await fill(page, 'Save quality as', 'Overnight');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Overnight', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await choose(page, 'Quality', 'quick, 4 samples');
  await expect.poll(async () => (await file()).sheet.quality).toBe('quick');
  await expect(page.getByText('Quick renders are shaded, not traced')).toBeVisible();
  await page.getByText('Saved qualities:').getByRole('button', { name: 'Manage' }).click();
  await page.getByRole('button', { name: 'Overnight', exact: true }).click();
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
});

test('shots are dragged, marked together, grouped and found', async ({ page }) => {
  project = await plannedTern(server, 'Order', [STILL]);
  await page.goto(`${base()}/shots`);
  for (const kind of ['Turntable', 'Walkthrough']) await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: kind }).click();
  await expect.poll(async () => (await file()).shots.map((s) => s.kind)).toEqual(['still', 'turntable', 'walkthrough']);
  await page.getByRole('button', { name: 'Drag Walkthrough' }).focus();
  await page.keyboard.press('Space');
  // What is said to those who cannot see it is the state that the next key acts on.
  await expect(page.getByText('Walkthrough: place 3 of 3.')).toBeAttached();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText('Walkthrough: place 2 of 3.')).toBeAttached();
  await page.keyboard.press('Space');
  await expect.poll(async () => (await file()).shots.map((s) => s.kind)).toEqual(['still', 'walkthrough', 'turntable']);
  await page.getByRole('row', { name: /Still/ }).getByText('still', { exact: true }).click();
  // The selection goes through the address: it is there before the next click counts from it.
  await expect(page.getByLabel('Shot name')).toHaveValue('Still');
  await page
    .getByRole('row', { name: /Turntable/ })
    .getByText('turntable', { exact: true })
    .click({ modifiers: ['Shift'] });
  const together = page.getByRole('toolbar', { name: 'Selected shots' });
  await expect(together).toContainText('3 shots selected');
  await together.getByLabel('Group').fill('Board');
  await together.getByLabel('Group').press('Enter');
  await expect.poll(async () => (await file()).shots.map((s) => s.group)).toEqual(['Board', 'Board', 'Board']);
  await together.getByRole('button', { name: 'Switch off' }).click();
  await expect.poll(async () => (await file()).shots.every((s) => s.off)).toBe(true);
  await together.getByRole('button', { name: 'Switch on' }).click();
  await together.getByRole('button', { name: 'Done' }).click();
  await page.getByLabel('Find shots').fill('walk');
  await expect(page.getByTestId('register').getByRole('row', { name: /Drag/ })).toHaveCount(1);
});
