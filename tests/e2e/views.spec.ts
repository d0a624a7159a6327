/** Views are placed in plan, by angle sets and by numbers; copied, locked, put in order, listed. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { centreOf } from '../../src/core/math/bounds.js';
import { pixelsPerMetre } from '../../src/core/camera/angleSet.js';
import { angleOfView } from '../../src/core/camera/view.js';
import { choose, fill, ternProject } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer(4921);
let project: ProjectReply;

test.describe.configure({ mode: 'serial' });
test.beforeAll(async () => {
  project = await ternProject(server, 'Views');
});
test.afterAll(() => server.end());

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('an angle set makes views of one scale, and a parallel view takes a scale in print', async ({ page }) => {
  await page.goto(`${base()}/views`);
  await page.getByRole('button', { name: 'Angle set' }).click();
  await page.getByLabel('Isometric').click();
  await page.getByRole('button', { name: 'Add 7 views' }).click();
  await expect(page.getByLabel('Angles').getByRole('button')).toHaveCount(7);
  const set = await expect
    .poll(async () => (await file()).views.length)
    .toBe(7)
    .then(file);
  const middle = centreOf(set.reference!);
  const scales = set.views.map((v) => pixelsPerMetre(v, set.sheet.size, 1, middle)!);
  expect(Math.max(...scales) / Math.min(...scales)).toBeLessThan(1.001);
  await fill(page, 'Scale 1 :', '5');
  // 1920 pixels at 300 dpi are 162.56 mm.
  await expect.poll(async () => (await file()).views[0]!.width).toBeCloseTo(0.8128, 4);
  await choose(page, 'Match scale of', 'Back');
  await expect.poll(async () => (await file()).views[0]!.width).toBeCloseTo(set.views[1]!.width!, 4);
});

test('a view is dragged in plan, said by its angle, rolled and locked', async ({ page }) => {
  await page.goto(`${base()}/views`);
  await choose(page, 'Kind', 'perspective');
  const eye = page.getByRole('slider', { name: 'Eye in plan' });
  const [x, y] = (await file()).views[0]!.eye;
  const box = (await eye.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2 - 20, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await file()).views[0]!.eye[0]).toBeGreaterThan(x + 0.02);
  // The height stays.
  expect((await file()).views[0]!.eye[1]).toBe(y);
  const before = (await file()).views[0]!.target[2];
  await page.getByRole('slider', { name: 'Target in plan' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect.poll(async () => (await file()).views[0]!.target[2]).toBeGreaterThan(before);
  await fill(page, 'Field of view', '40');
  await expect.poll(async () => angleOfView((await file()).views[0]!.focalLength)).toBeCloseTo(40, 6);
  await fill(page, 'Roll', '5');
  await expect.poll(async () => (await file()).views[0]!.roll).toBe(5);
  await page.getByRole('button', { name: 'Lock' }).click();
  await expect.poll(async () => (await file()).views[0]!.locked).toBe(true);
  await fill(page, 'Roll', '9');
  await expect(page.getByRole('alert').filter({ hasText: 'is locked' })).toBeVisible();
  expect((await file()).views[0]!.roll).toBe(5);
  await page.getByRole('button', { name: 'Unlock' }).click();
  await expect.poll(async () => (await file()).views[0]!.locked).toBeUndefined();
});

test('views are copied, put in order, and listed as a table and as CSV', async ({ page }) => {
  await page.goto(`${base()}/views`);
  const names = async (): Promise<string[]> => (await file()).views.map((v) => v.name);
  const [first, second] = await names();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect.poll(names).toContain(`${first} 2`);
  await page.getByRole('button', { name: 'Move later' }).click();
  await expect.poll(async () => (await names()).slice(0, 3)).toEqual([first, second, `${first} 2`]);
  await page.getByRole('button', { name: 'Table' }).click();
  await expect(page.getByRole('row')).toHaveCount(9);
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export CSV' }).click()]);
  const lines = readFileSync(await csv.path(), 'utf8').split('\r\n');
  expect(lines).toHaveLength(10);
  expect(lines[1]).toContain(',perspective,');
  // One step back, and the copy stands where it was.
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await names())[1]).toBe(`${first} 2`);
});
