/** Menus of a right click, and of the keys that do the same. */
import { expect, type Locator, type Page, test } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let address: string;

test.beforeAll(() => server.start());
test.beforeEach(async () => {
  project = await anotherTern(server, `Menus ${test.info().title.slice(0, 20)}`);
  const set = project.sets[0]!.id;
  address = `${server.url}/p/${project.id}/s/${set}`;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { id: 'v', name: 'Front', kind: 'perspective', eye: [0.9, 0.5, 1.2], target: [0, 0.2, 0], focalLength: 50 };
  const shots = [
    { id: 'a', name: 'Alpha', kind: 'still', views: ['v'] },
    { id: 'b', name: 'Beta', kind: 'still', views: ['v'] },
  ];
  await server.send('PUT', `/sets/${set}`, { file: { ...file, views: [view, { ...view, id: 'w', name: 'Side' }], shots }, version });
});
test.afterAll(() => server.end());

const file = async () => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

/** Opens the menu of something by a right click, and chooses of it. */
async function choose(page: Page, what: Locator, action: string): Promise<void> {
  await what.click({ button: 'right' });
  await page.getByRole('menu').getByRole('menuitem', { name: action, exact: true }).click();
  await expect(page.getByRole('menu')).toHaveCount(0);
}

test('views and shots are duplicated, moved, locked and deleted where they stand', async ({ page }) => {
  await page.goto(`${address}/views`);
  const names = async () => (await file()).views.map((v) => v.name);
  const row = (name: string): Locator => page.getByRole('button', { name }).filter({ has: page.locator('img') });
  // Of the row under the pointer, not of the one that is chosen.
  await choose(page, row('Side'), 'Lock');
  await expect.poll(async () => (await file()).views.map((v) => v.locked ?? false)).toEqual([false, true]);
  await choose(page, row('Side'), 'Move earlier');
  await expect.poll(names).toEqual(['Side', 'Front']);
  await choose(page, row('Front'), 'Duplicate');
  await expect.poll(names).toHaveLength(3);
  await page.goto(`${address}/shots`);
  const shot = (name: string): Locator => page.getByTestId('register').getByRole('row', { name: new RegExp(name) });
  const shots = async () => (await file()).shots.map((s) => [s.name, s.off ?? false]);
  await choose(page, shot('Beta'), 'Switch off');
  await expect.poll(shots).toEqual([
    ['Alpha', false],
    ['Beta', true],
  ]);
  await choose(page, shot('Beta'), 'Move up');
  await choose(page, shot('Alpha'), 'Delete');
  await expect.poll(shots).toEqual([['Beta', true]]);
  await page.getByRole('heading', { name: 'Shots' }).click();
  await page.keyboard.press('Control+z');
  await expect.poll(shots).toHaveLength(2);
});

test('parts are hidden and selected by the menu, by keyboard too, and fields keep the browser’s own', async ({ page }) => {
  await page.goto(`${address}/model`);
  const tree = page.getByRole('tree', { name: 'Parts' });
  const parts = async () => (await file()).materials?.parts ?? [];
  await choose(page, tree.getByRole('treeitem').nth(2), 'Hide in viewport');
  await expect.poll(async () => (await parts()).map((p) => p.viewportVisible)).toEqual([false]);
  await choose(page, tree.getByRole('treeitem').first(), 'Select with parts below');
  await expect(tree.getByRole('treeitem', { selected: true })).not.toHaveCount(0);
  await expect(tree.getByRole('treeitem', { selected: false })).toHaveCount(0);
  await tree.focus();
  // What lies under a menu is hidden from readers, so the row is found before.
  const row = (await page.locator(`[id="${await tree.getAttribute('aria-activedescendant')}"]`).boundingBox())!;
  await page.keyboard.press('Shift+F10');
  const menu = page.getByRole('menu', { name: 'Parts' });
  await expect(menu).toBeVisible();
  // Below the row that keys act on.
  const top = (await menu.boundingBox())!.y - (row.y + row.height);
  expect(Math.abs(top)).toBeLessThan(8);
  await page.keyboard.press('Escape');
  await expect(menu).toHaveCount(0);
  await expect(tree).toBeFocused();
  await page.getByLabel('Search parts').click({ button: 'right' });
  await expect(page.getByRole('menu')).toHaveCount(0);
});

test('a project is renamed and deleted by a right click on it', { tag: '@long' }, async ({ page }) => {
  await page.goto(server.url);
  const { name } = project;
  await choose(page, page.getByRole('link', { name: new RegExp(name) }), 'Rename');
  await page.getByLabel('Project name').fill('Renamed');
  await page.getByLabel('Project name').press('Enter');
  await choose(page, page.getByRole('link', { name: /Renamed/ }), 'Delete');
  await expect(page.getByRole('link', { name: /Renamed/ })).toHaveCount(0);
});
