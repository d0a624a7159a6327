/** Views are placed in plan, by angle sets and by numbers; copied, locked, put in order, listed. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { centreOf } from '../../src/core/math/bounds.js';
import { pixelsPerMetre } from '../../src/core/camera/angleSet.js';
import { angleOfView } from '../../src/core/camera/view.js';
import { anotherTern, choose, fill, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('an angle set makes views of one scale, and a parallel view takes a scale in print', { tag: '@long' }, async ({ page }) => {
  project = await anotherTern(server, 'Angles');
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

test('a view is dragged in plan, said by its angle, rolled and locked', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'In plan');
  await page.goto(`${base()}/views`);
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
  project = await plannedTern(server, 'List');
  await page.goto(`${base()}/views`);
  await page.getByRole('button', { name: 'Angle set' }).click();
  await page.getByRole('button', { name: /^Add 6 views/ }).click();
  const names = async (): Promise<string[]> => (await file()).views.map((v) => v.name);
  await expect.poll(async () => (await names()).length).toBe(7);
  // The first of the new ones is chosen.
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect.poll(names).toContain('Front 2');
  await page.getByRole('button', { name: 'Move later' }).click();
  await expect.poll(async () => (await names()).slice(0, 4)).toEqual(['View', 'Front', 'Right', 'Front 2']);
  await page.getByRole('button', { name: 'Table' }).click();
  await expect(page.getByRole('row')).toHaveCount(9);
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export CSV' }).click()]);
  const lines = readFileSync(await csv.path(), 'utf8').split('\r\n');
  expect(lines).toHaveLength(10);
  expect(lines[1]).toContain(',perspective,');
  // One step back, and the copy stands where it was.
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await names())[2]).toBe('Front 2');
});

test.describe('in the viewport', () => {
  test.use({ gl: true });

  test(
    'the frame is dragged narrower at the same scale, guides are drawn, a part is left out, the focus is picked',
    { tag: '@long' },
    async ({ page }) => {
      project = await plannedTern(server, 'Framed', [], { size: { width: 96, height: 54 } });
      await server.send('POST', `/projects/${project.id}/sets/from-template`, {
        template: 'turntable-sizes',
        revision: project.revisions[0]!.id,
      });
      await page.goto(`${base()}/views`);
      await expect(page.getByTestId('output-frame')).toBeVisible();
      await expect.poll(async () => page.getByTestId('viewport').locator('canvas').count()).toBe(1);
      const before = await file();
      await page.getByRole('button', { name: 'Frame', exact: true }).click();
      await page.getByLabel('Safe margins').click();
      await choose(page, 'Frame of set', 'Turntable in three sizes');
      await page.keyboard.press('Escape');
      await expect(page.getByTestId('other-frame')).toContainText('1920 × 1080');
      const edge = (await page.getByTestId('edge-right').boundingBox())!;
      await page.mouse.move(edge.x + edge.width / 2, edge.y + 40);
      await page.mouse.down();
      await page.mouse.move(edge.x + edge.width / 2 - 90, edge.y + 40, { steps: 6 });
      await page.mouse.up();
      await expect.poll(async () => (await file()).sheet.size.width).toBeLessThan(before.sheet.size.width - 10);
      const after = await file();
      expect(after.sheet.size.height).toBe(before.sheet.size.height);
      // As many pixels to a degree in the middle: the tangent of half the angle goes with the long side.
      const scale = (f: typeof before): number =>
        Math.max(f.sheet.size.width, f.sheet.size.height) / Math.tan((angleOfView(f.views[0]!.focalLength) * Math.PI) / 360);
      expect(scale(after) / scale(before)).toBeCloseTo(1, 6);

      await page.getByLabel('Depth of field').click();
      const pick = page.getByRole('button', { name: 'Pick focus' });
      await pick.click();
      const frame = (await page.getByTestId('output-frame').boundingBox())!;
      // The foot of the lamp fills the lower middle; some point of it is met.
      for (const down of [0.8, 0.75, 0.7, 0.85]) {
        await page.mouse.click(frame.x + frame.width * 0.45, frame.y + frame.height * down);
        // Where something is met, picking is over.
        if (await pick.isVisible()) break;
      }
      await expect.poll(async () => (await file()).views[0]!.focus).toBeGreaterThan(0);
      const { eye, focus } = (await file()).views[0]!;
      expect(focus!).toBeGreaterThan(0.3 * Math.hypot(...eye));
      expect(focus!).toBeLessThan(1.5 * Math.hypot(...eye));
      await fill(page, 'Near clipping', '0.2');
      await expect.poll(async () => (await file()).views[0]!.nearClipping).toBe(0.2);
      await page.getByRole('button', { name: 'Fit full turn' }).click();
      await expect.poll(async () => Math.hypot(...(await file()).views[0]!.eye)).not.toBe(Math.hypot(...eye));
    },
  );
});
