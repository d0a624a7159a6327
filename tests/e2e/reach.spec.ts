/** What the set file can say, said in the interface: each is driven, and read back from the set. */
import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '../support/browserTest.js';
import { tern } from '../../demo/tern.js';
import type { SetReply } from '../../src/contract/contract.js';
import type { SetFile } from '../../src/core/plan/set.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { choose, fill, keepSheetOpen, anotherTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let address: string;
let set: number;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

/** Each test has a project of its own, with one view. */
test.beforeEach(async () => {
  const made = await anotherTern(server, 'Tern');
  set = made.sets[0]!.id;
  address = `${server.url}/p/${made.id}/s/${set}`;
  const { file: plan, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { id: 'v', name: 'View', kind: 'perspective', eye: [0.9, 0.5, 1.2], target: [0, 0.2, 0], focalLength: 50 };
  await server.send('PUT', `/sets/${set}`, { file: { ...plan, views: [view] }, version });
});

const file = async (): Promise<SetFile> => (await server.get<SetReply>(`/sets/${set}`)).file;

async function open(page: Page, step: string): Promise<void> {
  await page.goto(`${address}/${step}`);
}

test('views: a margin of the fit that is stated and set', { tag: '@long' }, async ({ page }) => {
  await open(page, 'views');
  const distance = async (): Promise<number> => {
    const [view] = (await file()).views;
    return Math.hypot(...view!.eye.map((v, i) => v - view!.target[i]!));
  };
  const fitted = async (margin: string): Promise<number> => {
    await page.getByRole('button', { name: 'Frame', exact: true }).click();
    await fill(page, 'Fit margin', margin);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Fit', exact: true }).click();
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    return distance();
  };
  const near = await fitted('2');
  const far = await fitted('25');
  expect(far / near).toBeGreaterThan(1.5);
  await page.getByRole('button', { name: 'Frame', exact: true }).click();
  await fill(page, 'Fit margin', '60');
  await expect(page.getByText('From 0 to 40 %.')).toBeVisible();
});

test('model: what is context is said by part, by keyboard, and the pivot follows', async ({ page }) => {
  await open(page, 'model');
  const tree = page.getByRole('tree', { name: 'Parts' });
  await expect(tree.getByRole('treeitem').first()).toBeVisible();
  await tree.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(tree.locator('[aria-selected=true]')).toHaveCount(2);
  const names = await tree.locator('[aria-selected=true]').evaluateAll((all) => all.map((e) => e.getAttribute('title')));
  await page.keyboard.press('r');
  await expect.poll(async () => (await file()).materials?.parts.filter((p) => p.renderVisible === false).map((p) => p.path)).toEqual(names);
  await page.keyboard.press('r');
  await choose(page, 'Role in shots', 'Context');
  await expect
    .poll(async () =>
      (await file()).materials?.parts
        .filter((p) => p.isContext)
        .map((p) => p.path)
        .sort(),
    )
    .toEqual([...names].sort());
  // What the set refers to is the box of what is left as the subject: smaller than the model's.
  const [made] = (await server.get<{ revisions: { bounds: { min: number[]; max: number[] } }[] }[]>('/projects')).slice(-1);
  const { reference } = await file();
  const extent = (b: { min: number[]; max: number[] }): number => b.max.reduce((sum, v, i) => sum + v - b.min[i]!, 0);
  expect(extent(reference!)).toBeLessThanOrEqual(extent(made!.revisions[0]!.bounds) + 1e-9);
  expect(extent(reference!)).toBeGreaterThan(0);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await file()).materials?.parts.some((p) => p.isContext) ?? false).toBe(false);
});

test('shots: a pivot of its own, in the middle of a part, and paper by millimetres', { tag: '@long' }, async ({ page }) => {
  await keepSheetOpen(page);
  await open(page, 'shots');
  await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: 'Turntable', exact: true }).click();
  await choose(page, 'Pivot', 'Point');
  await fill(page, 'Pivot x', '12 cm');
  const pivot = async (): Promise<unknown> => (await file()).shots.flatMap((s) => (s.kind === 'turntable' ? [s.pivot] : []))[0];
  await expect.poll(async () => ((await pivot()) as number[])[0]).toBeCloseTo(0.12, 6);
  await page.getByRole('combobox', { name: 'Pivot at part' }).click();
  await page.getByRole('option').nth(3).click();
  await expect.poll(async () => ((await pivot()) as number[])[0]).not.toBeCloseTo(0.12, 6);
  // About a line through two points, which begins upright through the pivot.
  await choose(page, 'Axis', 'Through two points');
  await fill(page, 'Axis to x', '50 cm');
  const axis = async (): Promise<unknown> => (await file()).shots.flatMap((s) => (s.kind === 'turntable' ? [s.axis] : []))[0];
  await expect.poll(axis).toMatchObject({ to: [0.5, expect.any(Number), expect.any(Number)] });
  await expect(page.getByRole('combobox', { name: 'Pivot', exact: true })).toHaveCount(0);
  await choose(page, 'Axis', 'Upright');
  await expect.poll(axis).toBeUndefined();
  await page
    .getByTitle(/Named sizes/)
    .first()
    .click();
  await fill(page, 'Resolution', '200');
  await fill(page, 'Paper width', '254');
  await fill(page, 'Paper height', '127');
  await page.getByRole('button', { name: '2000 × 1000' }).click();
  await expect.poll(async () => (await file()).sheet.size).toEqual({ width: 2000, height: 1000 });
  // An odd size is said before anything renders, and made even.
  await page.keyboard.press('Escape');
  await fill(page, 'Width', '1281');
  await expect(page.getByRole('alert').filter({ hasText: 'Movies in H.264 need even sizes: Turntable 1281 ×' })).toBeVisible();
  await page.getByRole('button', { name: 'Make sizes even' }).click();
  await expect.poll(async () => (await file()).sheet.size.width).toBe(1282);
});

test('shots: what one shot has otherwise than the sheet, and lines drawn over all', { tag: '@long' }, async ({ page }) => {
  await keepSheetOpen(page);
  await open(page, 'shots');
  await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: 'Turntable', exact: true }).click();
  const own = page.getByRole('region', { name: 'Overrides' });
  const overrides = async (): Promise<unknown> => (await file()).shots[0]!.overrides;
  await own.getByRole('combobox', { name: 'Rate', exact: true }).click();
  await page.getByRole('option', { name: '30', exact: true }).click();
  await own.getByLabel('Size', { exact: true }).fill('320x200');
  await own.getByLabel('Size', { exact: true }).press('Enter');
  await own.getByLabel('Shutter angle').fill('90');
  await own.getByLabel('Shutter angle').press('Enter');
  await own.getByRole('button', { name: 'File types' }).click();
  await page.getByLabel('TIFF', { exact: true }).check();
  await page.keyboard.press('Escape');
  await own.locator('summary').click();
  await own.getByRole('checkbox', { name: 'depth', exact: true }).check();
  await own.getByLabel('Transparent backdrop').check();
  await expect.poll(overrides).toMatchObject({
    rate: '30',
    size: { width: 320, height: 200 },
    shutter: 90,
    files: [{ type: 'png' }, { type: 'tiff' }],
    passes: ['beauty', 'depth'],
    alpha: true,
  });
  // What is as in the sheet again is no override.
  await own.getByLabel('Transparent backdrop').uncheck();
  await expect.poll(overrides).not.toHaveProperty('alpha');
  await own.getByRole('button', { name: /^Clear/ }).click();
  await expect.poll(overrides).toBeUndefined();
  const sheet = page.getByRole('region', { name: 'Format sheet' });
  await sheet.locator('summary', { hasText: 'Passes' }).click();
  await sheet.getByLabel('Line overlay').check();
  await fill(page, 'Line width', '2.5');
  await expect.poll(async () => (await file()).sheet.lines).toMatchObject({ width: 2.5 });
});

test('shots: one segment of a walk, and the plan as JSON', { tag: '@long' }, async ({ page }) => {
  await open(page, 'shots');
  await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: 'Walkthrough', exact: true }).click();
  await page.getByRole('button', { name: 'Add station' }).click();
  await page.getByRole('button', { name: 'Render only this segment' }).last().click();
  await expect(
    page
      .getByLabel('Frames of each shot')
      .or(page.getByLabel(/^Render frames/))
      .first(),
  ).toHaveValue(/walkthrough: \d+-\d+; none/i);
  await page.getByRole('button', { name: 'Set file' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Plan frames (JSON)' }).click();
  const plan = JSON.parse(readFileSync((await (await download).path())!, 'utf8')) as { frames: { shot: string; camera: { eye: number[] } }[] };
  expect([...new Set(plan.frames.map((f) => f.shot))]).toEqual(['walkthrough']);
  expect(plan.frames.every((f) => f.camera.eye.every(Number.isFinite))).toBe(true);
});

test('stage: the lights of the model, one by one', { tag: '@long' }, async ({ page }) => {
  const lamp = tern();
  const part = lamp.parts.findIndex((p) => p.name === 'Glass shade');
  // Of a single one there is nothing to choose.
  for (const at of [part, 0]) lamp.lights.push({ part: at, kind: 'point', intensity: [20, 18, 15], inner: 0, outer: Math.PI });
  const [, project] = /\/p\/(\d+)\//.exec(address)!;
  await server.bring(Number(project), await writeGlb(lamp), 'lit.glb');
  await open(page, 'stage');
  await page.getByLabel('Model lights', { exact: true }).check();
  await expect.poll(async () => (await file()).stage.modelLights).toBe(true);
  const shade = page.getByLabel(/Glass shade/);
  await expect(shade).toBeChecked();
  await shade.uncheck();
  await expect.poll(async () => (await file()).stage.modelLightsOff).toEqual([lamp.parts[part]!.path]);
  await shade.check();
  await expect.poll(async () => (await file()).stage.modelLightsOff).toBeUndefined();
});

test('stage: a directional light in lux', { tag: '@long' }, async ({ page }) => {
  await open(page, 'stage');
  await page.getByRole('button', { name: 'Add light' }).click();
  await choose(page, 'Light type', 'directional');
  await fill(page, 'Illuminance', '2500');
  await fill(page, 'Spread', '4');
  await expect.poll(async () => (await file()).stage.lights?.[0]).toMatchObject({ kind: 'directional', lux: 2500, spread: 4 });
});

test('shots: a turntable in two variants, each a run of its own', { tag: '@long' }, async ({ page }) => {
  const { file: plan, version } = await server.get<SetReply>(`/sets/${set}`);
  const variants = [
    ['black', 'blackened steel'],
    ['white', 'white paint'],
  ].map(([id, to]) => ({ id, name: id, swaps: [{ from: 'Brass, brushed', to }] }));
  const shot = { id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 3 };
  const sheet = { ...plan.sheet, size: { width: 64, height: 36 }, quality: 'quick' };
  await server.send('PUT', `/sets/${set}`, { file: { ...plan, sheet, materials: { variants }, shots: [shot] }, version });
  await open(page, 'shots');
  const fields = page.getByRole('complementary', { name: 'Shot' });
  await fields.getByLabel('black', { exact: true }).check();
  await fields.getByLabel('white', { exact: true }).check();
  await expect.poll(async () => (await file()).shots[0]!.variants).toEqual(['black', 'white']);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByTestId('figures')).toContainText('6 of 6', { timeout: 60_000 });
  await expect(page.getByRole('heading', { name: /Spin black/ })).toBeVisible();
  await expect(page.getByRole('heading', { name: /Spin white/ })).toBeVisible();
});

test('stage: a gradient behind everything', { tag: '@long' }, async ({ page }) => {
  await open(page, 'stage');
  await page.getByRole('region', { name: 'Backdrop' }).getByRole('combobox').click();
  await page.getByRole('option', { name: 'Gradient' }).click();
  await fill(page, 'Overhead colour', '#204060');
  await expect.poll(async () => (await file()).stage.backdropGradient?.top).toBe('#204060');
  await fill(page, 'Overhead colour', 'blue');
  await expect(page.getByRole('alert').first()).toBeVisible();
  await page.keyboard.press('Escape');
  // A setting without effect says so.
  await choose(page, 'Lighting', 'Daylight');
  await choose(page, 'Sky', 'overcast');
  await expect(page.getByText('No effect: an overcast sky is grey.')).toBeVisible();
});
