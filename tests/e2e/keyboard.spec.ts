/** The main job without a pointer: from an empty project to a turntable that is looked at. */
import { expect, type Locator, type Page, test } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternGlb } from '../support/box.js';
import { fill, plannedTern } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.end());

/** Goes on by Tab until the element has the focus. */
async function tabTo(page: Page, element: Locator): Promise<void> {
  await expect(element).toBeVisible();
  for (let i = 0; i < 200; i++) {
    if (await element.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`${String(element)} is not reached by Tab.`);
}

async function press(page: Page, element: Locator): Promise<void> {
  await tabTo(page, element);
  await page.keyboard.press('Enter');
}

async function type(page: Page, element: Locator, text: string): Promise<void> {
  await tabTo(page, element);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

test('a turntable is planned, rendered and reviewed by keyboard alone', async ({ page }) => {
  await page.goto(server.url);
  await type(page, page.getByPlaceholder('Project name'), 'Lamp');
  const chooser = page.waitForEvent('filechooser');
  await press(page, page.getByRole('button', { name: 'Choose files' }));
  await (await chooser).setFiles({ name: 'tern.glb', mimeType: 'model/gltf-binary', buffer: await ternGlb() });
  const tree = page.getByRole('tree', { name: 'Parts' });
  await expect(tree.getByRole('treeitem').first()).toBeVisible({ timeout: 60_000 });
  // A part is switched off by keys that act on the tree alone.
  await tabTo(page, tree);
  await page.keyboard.press('End');
  const last = tree.locator('[aria-selected=true]');
  await expect(last).toHaveCount(1);
  const renders = last.getByRole('switch', { name: /render$/ });
  const before = await renders.getAttribute('aria-checked');
  await page.keyboard.press('r');
  await expect(renders).not.toHaveAttribute('aria-checked', before!);
  await page.keyboard.press('r');
  await expect(renders).toHaveAttribute('aria-checked', before!);
  await page.keyboard.press('3');
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await page.keyboard.press('4');
  await press(page, page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: 'Turntable', exact: true }));
  await press(page, page.getByRole('button', { name: /^Format sheet/ }));
  await type(page, page.getByLabel('Width', { exact: true }), '96');
  const sheet = page.getByRole('region', { name: 'Format sheet' });
  await press(page, sheet.getByRole('combobox', { name: 'Quality' }));
  await expect(page.getByRole('option', { name: /^quick/ })).toBeVisible();
  await page.keyboard.press('Home');
  await expect(page.getByRole('option', { name: /^quick/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(sheet.getByRole('combobox', { name: 'Quality' })).toContainText('quick');
  await type(page, page.getByRole('complementary', { name: 'Shot' }).getByLabel('Frames', { exact: true }), '4');
  // `?` says what else there is.
  await page.keyboard.press('Escape');
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keyboard shortcuts' })).toContainText('Play or pause');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^Batch/ })).toBeVisible({ timeout: 30_000 });
  const [project] = await server.get<ProjectReply[]>('/projects');
  await expect
    .poll(async () => (await server.get<BatchReply[]>(`/batches?project=${project!.id}`)).map((b) => `${b.state} ${b.done}`), { timeout: 60_000 })
    .toEqual(['done 4']);
  await page.keyboard.press('7');
  const picture = page.getByTestId('easel-picture');
  await expect(picture).toHaveAttribute('alt', 'Turntable, frame 1');
  await page.keyboard.press('ArrowRight');
  await expect(picture).toHaveAttribute('alt', 'Turntable, frame 2');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(picture).toHaveAttribute('alt', 'Turntable, frame 4');
  await press(page, page.getByRole('button', { name: 'Make movie' }));
  await expect(page.getByRole('link', { name: 'Download movie' })).toBeVisible({ timeout: 60_000 });
});

test('a key is changed, and the old one does nothing any more', async ({ page }) => {
  const project = await plannedTern(server, 'Keys');
  const [set] = project.sets;
  const view = async () => (await server.get<SetReply>(`/sets/${set!.id}`)).file.views[0]!;
  await page.goto(`${server.url}/p/${project.id}/s/${set!.id}/views`);
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Search commands').fill('Change shortcuts');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Shortcut of Fit view' }).click();
  await page.keyboard.press('4');
  await expect(page.getByRole('alert').filter({ hasText: '4 is already the shortcut of "Go to Shots".' })).toBeVisible();
  await page.keyboard.press('g');
  await expect(page.getByRole('button', { name: 'Shortcut of Fit view' })).toHaveText('G');
  await page.getByRole('button', { name: 'Close' }).click();
  await fill(page, 'Eye y', '3.5');
  await expect.poll(async () => (await view()).eye[1]).toBe(3.5);
  await page.getByRole('heading', { name: 'Views' }).click();
  // Keys are taken one after the other: what the old one did would be there before the new one's.
  await page.keyboard.press('f');
  await expect(page.getByLabel('Eye y', { exact: true })).toHaveValue('3.5');
  await page.keyboard.press('g');
  await expect.poll(async () => (await view()).eye[1]).toBeLessThan(3.4);
});
