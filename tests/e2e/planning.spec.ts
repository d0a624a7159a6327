import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { parseSet } from '../../src/core/plan/set.js';
import { anotherTern, choose, fill, keepSheetOpen, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const setId = (): number => project.sets[0]!.id;
const saved = (): Promise<SetReply> => server.get<SetReply>(`/sets/${setId()}`);

/** Two of the shots that a plan mostly has. */
const SHOTS = [
  { id: 'turntable', name: 'Turntable', kind: 'turntable', view: 'view', seconds: 0.5 },
  { id: 'still', name: 'Still', kind: 'still', views: ['view'] },
];

test('empty steps lead on, by keyboard too', async ({ page }) => {
  project = await anotherTern(server, 'Empty');
  await page.goto(`${server.url}/p/${project.id}`);
  await expect(page.getByText('A shot needs a view, and there is none yet.')).toBeVisible();
  await page.keyboard.press('5');
  await expect(page.getByText('There is nothing to check yet.')).toBeVisible();
  await page.keyboard.press('6');
  await expect(page.getByText('Nothing has been rendered yet.')).toBeVisible();
  await page.keyboard.press('7');
  await expect(page.getByText('No render is finished yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Plan shots' }).click();
  await page.getByRole('button', { name: 'Add view' }).click();
  await expect(page.getByTestId('viewport')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByLabel('Name')).toHaveValue('View');
  // The bounds that pivots and lamps refer to are frozen with the first view.
  await expect.poll(async () => (await saved()).file.reference?.max[1].toFixed(3)).toBe('0.441');
});

test('edits are saved as one goes, survive a reload, and can be taken back', async ({ page }) => {
  project = await plannedTern(server, 'Edits');
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/views`);
  await fill(page, 'Eye x', '1/4');
  await expect.poll(async () => (await saved()).file.views[0]!.eye[0]).toBe(0.25);
  await page.reload();
  await expect(page.getByLabel('Eye x')).toHaveValue('0.25');
  await fill(page, 'Eye x', '2 ft');
  await expect.poll(async () => (await saved()).file.views[0]!.eye[0]).toBeCloseTo(0.6096, 6);
  await page.getByRole('heading', { name: 'Views' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Eye x')).toHaveValue('0.25');
  await page.keyboard.press('Control+y');
  await expect(page.getByLabel('Eye x')).toHaveValue('0.61');
  // Arrow keys step; with shift ten times as far.
  await page.getByLabel('Focal length').focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Focal length')).toHaveValue('51');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByLabel('Focal length')).toHaveValue('41');
});

test('what cannot be is said in place and changes nothing', async ({ page }) => {
  project = await plannedTern(server, 'Limits');
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/views`);
  await fill(page, 'Focal length', '2');
  await expect(page.getByRole('alert').first()).toContainText('Give at least');
  await page.getByLabel('Focal length').press('Escape');
  await fill(page, 'Eye y', '90');
  await expect.poll(async () => (await saved()).file.views[0]!.eye[1]).toBe(90);
  await page.getByLabel('Keep verticals straight').click();
  await expect(page.getByText('Verticals cannot be kept straight')).toBeVisible();
  expect((await saved()).file.views[0]!.keepVerticals).toBe(false);
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await expect.poll(async () => (await saved()).file.views[0]!.eye[1]).toBeLessThan(3);
});

test('the turntable is planned by its fields and its protractor', async ({ page }) => {
  project = await plannedTern(server, 'Turntable');
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/shots`);
  await page.getByRole('button', { name: 'Add turntable' }).click();
  await expect(page.getByText('5° per frame').first()).toBeVisible();
  await fill(page, 'Length', '1/2 s');
  await expect(page.getByLabel('Frames', { exact: true })).toHaveValue('12');
  await expect(page.getByText('30° per frame').first()).toBeVisible();
  await fill(page, 'Total angle', '90');
  await expect(page.getByRole('img', { name: 'Turntable dial: 12 frames' }).getByText('8.182° per frame')).toBeVisible();
  await fill(page, 'Total angle', '1 turn');
  await fill(page, 'Start angle', '45');
  await page.getByLabel('Direction').click();
  await page.getByRole('option', { name: 'clockwise', exact: true }).click();
  await page.getByLabel('Pivot').click();
  await page.getByRole('option', { name: 'Target of the view' }).click();
  await page.getByLabel('camera').check();
  await page.getByRole('checkbox', { name: 'subject', exact: true }).uncheck();
  await expect
    .poll(async () => (await saved()).file.shots[0])
    .toMatchObject({ kind: 'turntable', seconds: 0.5, degrees: 360, start: 45, direction: 'clockwise', pivot: 'target', turns: ['camera'] });
  // The rate changes the number of frames of a duration, and the length stays.
  await page.getByRole('region', { name: 'Format sheet' }).getByLabel('Rate', { exact: true }).click();
  await page.getByRole('option', { name: '30', exact: true }).click();
  await expect(page.getByLabel('Frames', { exact: true })).toHaveValue('15');
  // Scrub by the keyboard.
  await page.getByRole('heading', { name: 'Shots' }).click();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('rule-time')).toContainText('0003 00:00:00:02');
});

test('names that collide are said before anything renders', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Names', [SHOTS[1]!, { ...SHOTS[1], id: 'again', name: 'Again' }]);
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/shots`);
  await fill(page, 'File names (stills)', '{view}');
  await expect(page.getByRole('alert').filter({ hasText: 'Two frames would be named "View"' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Start batch' })).toBeDisabled();
  await fill(page, 'File names (stills)', '{shot}/{view}_{size}');
  await expect(page.getByRole('button', { name: 'Start batch' })).toBeEnabled();
  await expect.poll(async () => (await saved()).file.sheet.names.still).toBe('{shot}/{view}_{size}');
});

test('a set goes out as a file and comes in again, and JPEGs are rendered by it', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'By file', SHOTS);
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/shots`);
  await fill(page, 'Width', '96');
  // A further type is one more, and drops none of the others.
  await page.getByRole('region', { name: 'Format sheet' }).getByRole('button', { name: 'File types' }).click();
  await page.getByLabel('OpenEXR', { exact: true }).check();
  await page.getByLabel('JPEG', { exact: true }).check();
  await page.getByLabel('JPEG quality').fill('80');
  await page.getByLabel('JPEG quality').press('Enter');
  const files = async () => (await saved()).file.sheet.files;
  await expect.poll(files).toEqual([
    { type: 'png', bits: 8 },
    { type: 'jpeg', quality: 80 },
    { type: 'exr', bits: 16 },
  ]);
  await fill(page, 'PNG compression', '9');
  await page.getByRole('combobox', { name: 'OpenEXR compression' }).click();
  await page.getByRole('option', { name: 'ZIP by line' }).click();
  await choose(page, 'OpenEXR passes', 'one file each');
  for (const type of ['BMP', 'Radiance HDR']) await page.getByLabel(type, { exact: true }).check();
  await expect
    .poll(files)
    .toEqual([
      { type: 'png', bits: 8, compression: 9 },
      { type: 'jpeg', quality: 80 },
      { type: 'bmp' },
      { type: 'exr', bits: 16, compression: 'zips', split: 'files' },
      { type: 'hdr' },
    ]);
  for (const type of ['BMP', 'Radiance HDR']) await page.getByLabel(type, { exact: true }).uncheck();
  await page.getByLabel('PNG', { exact: true }).uncheck();
  await page.getByLabel('OpenEXR', { exact: true }).uncheck();
  await page.getByLabel('JPEG', { exact: true }).click();
  await expect(page.getByText('Choose at least one file type.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(files).toEqual([{ type: 'jpeg', quality: 80 }]);
  await page.getByRole('button', { name: 'Set file' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export set file' }).click()]);
  const text = readFileSync(await download.path(), 'utf8');
  expect(parseSet(JSON.parse(text))).toEqual((await saved()).file);
  const renamed = text.replace('"Review set"', '"Came back"');
  await page
    .getByLabel('Set file', { exact: true })
    .last()
    .setInputFiles({ name: 'back.json', mimeType: 'application/json', buffer: Buffer.from(renamed) });
  await expect(page.getByText('Came back').first()).toBeVisible();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 90_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  const frames = await server.get<FrameReply[]>(`/batches/${batch!.id}/frames`);
  expect(frames.length).toBe(batch!.total);
  expect(frames.every((f) => f.state === 'done' && f.files[0]!.endsWith('.jpg'))).toBe(true);
  expect(frames.filter((f) => f.kind === 'still').map((f) => f.name)).toEqual(['Came-back/Still/View_beauty']);
  // A broken set file says where it is wrong.
  await page.goto(`${server.url}/p/${project.id}/s/${setId()}/shots`);
  await page.getByRole('button', { name: 'Set file' }).click();
  await page
    .getByLabel('Set file', { exact: true })
    .last()
    .setInputFiles({ name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from(text.replace('"rate"', '"speed"')) });
  await expect(page.getByText('sheet.speed: this key is not known here')).toBeVisible();
});

test('a live picture of a view is traced in the browser, and a pixel leads to its part', async ({ page }) => {
  const own = await anotherTern(server, 'Live');
  await page.goto(`${server.url}/p/${own.id}/s/${own.sets[0]!.id}/views`);
  // The browser has no WebGL: the viewport says so, and the kernel's picture takes its place.
  const missing = page.getByTestId('viewport').getByText('WebGL is off or missing in this browser');
  await expect(missing).toBeVisible();
  await page.getByRole('button', { name: 'Live preview' }).click();
  const state = page.getByTestId('live-state');
  await expect(state).toContainText('samples', { timeout: 60_000 });
  await expect(missing).toHaveCount(0);
  // Refines by itself, and stands still while it is paused.
  await expect(state).toContainText(/^[2-9]\d* samples/, { timeout: 60_000 });
  await page.getByRole('button', { name: 'Pause' }).click();
  const canvas = page.getByTestId('live-picture');
  const shades = await canvas.evaluate((c) => {
    const { width, height } = c as HTMLCanvasElement;
    const { data } = (c as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
    return new Set(Array.from(data).filter((_, i) => i % 4 === 1)).size;
  });
  expect(shades).toBeGreaterThan(50);
  // The foot of the lamp stands below the middle.
  const box = (await canvas.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * 0.06);
  await expect(page.getByTestId('picked')).toBeVisible();
  const size = await canvas.evaluate((c) => ({ width: (c as HTMLCanvasElement).width, height: (c as HTMLCanvasElement).height }));
  let found = false;
  for (let y = 0.9; y > 0.5 && !found; y -= 0.05) {
    for (let x = 0.3; x < 0.75 && !found; x += 0.05) {
      const [column, row] = [Math.floor(x * size.width), Math.floor(y * size.height)];
      await page.mouse.click(box.x + (box.width * (column + 0.5)) / size.width, box.y + (box.height * (row + 0.5)) / size.height);
      const picked = page.getByTestId('picked');
      await expect(picked).toContainText(`Pixel${column}, ${row}Part`);
      found = (await picked.textContent())!.includes('Base plate');
    }
  }
  expect(found).toBe(true);
  await page
    .getByTestId('picked')
    .getByRole('link', { name: /Base plate/ })
    .click();
  await expect(page.getByLabel('Search parts')).toHaveValue('Base plate');
  await expect(page.getByLabel('Parts').getByRole('treeitem')).toHaveCount(1);
});

test('the live picture of a shot turns with the frame that is scrubbed to', { tag: '@long' }, async ({ page }) => {
  const own = await anotherTern(server, 'Scrubbed');
  await page.goto(`${server.url}/p/${own.id}/s/${own.sets[0]!.id}/views`);
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Add turntable' }).click();
  await page.getByRole('button', { name: 'Live preview' }).click();
  const state = page.getByTestId('live-state');
  const canvas = page.getByTestId('live-picture');
  /** Brightness of a coarse grid of the picture: where things stand, without the noise. */
  const look = (): Promise<number[]> =>
    canvas.evaluate((c) => {
      const small = document.createElement('canvas');
      [small.width, small.height] = [32, 18];
      const context = small.getContext('2d')!;
      context.drawImage(c as HTMLCanvasElement, 0, 0, 32, 18);
      return Array.from(context.getImageData(0, 0, 32, 18).data).filter((_, i) => i % 4 === 1);
    });
  const apart = (a: number[], b: number[]): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
  await expect(state).toContainText(/^([4-9]|\d\d+) samples/, { timeout: 60_000 });
  const first = await look();
  // Ten frames at once, and ten again, while a picture is still under way: turned, the lamp stands elsewhere.
  await page.getByRole('heading', { name: 'Shots' }).click();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText(/^0021/)).toBeVisible();
  await expect.poll(async () => apart(first, await look()), { timeout: 60_000 }).toBeGreaterThan(2);
  // Turned back it is the first picture again.
  await page.keyboard.press('Shift+ArrowLeft');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => apart(first, await look()), { timeout: 60_000 }).toBeLessThan(0.5);
});

test('passes and a clear backdrop are chosen on the sheet, and what does not go together is said', async ({ page }) => {
  const own = await anotherTern(server, 'Passes');
  await page.goto(`${server.url}/p/${own.id}/s/${own.sets[0]!.id}/views`);
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await page.keyboard.press('4');
  await fill(page, 'Width', '64');
  await page.getByRole('button', { name: 'Add still' }).click();
  const sheet = page.getByRole('region', { name: 'Format sheet' });
  await sheet.locator('summary', { hasText: 'Passes' }).click();
  await sheet.getByRole('checkbox', { name: 'depth', exact: true }).check();
  await sheet.getByLabel('part mattes').check();
  await sheet.getByLabel('clay').check();
  await sheet.getByLabel('lines', { exact: true }).check();
  await sheet.getByLabel('Transparent backdrop').check();
  await sheet.getByLabel('Quality', { exact: true }).click();
  await page.getByRole('option', { name: /draft/ }).click();
  await sheet.getByRole('group', { name: 'Layers' }).getByLabel('All of them').check();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('heading', { name: /^Batch/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${own.id}`);
  const [frame] = await server.get<FrameReply[]>(`/batches/${batch!.id}/frames`);
  const passes = frame!.files.map((f) => /_([\w-]+)\.png$/.exec(f)![1]);
  expect(passes.join(' ')).toBe('beauty depth parts clay lines subject ground-shadow ground backdrop');
  // Byte 25 of a PNG is its colour type: 6 has alpha, 2 has none.
  const fileOf = (pass: string): string => frame!.files.find((f) => f.endsWith(`_${pass}.png`))!;
  const colourType = (pass: string): number => readFileSync(path.join(batch!.folder, fileOf(pass)))[25]!;
  expect(['beauty', 'subject', 'backdrop'].map(colourType)).toEqual([6, 6, 2]);
  await page.keyboard.press('4');
  await page.getByRole('region', { name: 'Format sheet' }).getByRole('button', { name: 'File types' }).click();
  await page.getByLabel('JPEG', { exact: true }).check();
  await expect(page.getByText('JPEG has no alpha; choose another type, or remove the pass subject, ground.')).toBeVisible();
});
