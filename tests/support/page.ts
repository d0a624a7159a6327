/** What every test of the interface does with a page. */
import { expect, type Page } from '@playwright/test';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { tern } from '../../demo/tern.js';
import { defaultView } from '../../src/core/camera/defaultView.js';
import { modelBounds } from '../../src/core/model/model.js';
import { ternGlb } from './box.js';
import type { TestServer } from './server.js';

/** Fills the field of that label, the nth of them, and leaves it by Enter. */
export async function fill(page: Page, label: string, value: string, nth = 0): Promise<void> {
  const field = page.getByLabel(label, { exact: true }).nth(nth);
  await field.fill(value);
  await field.press('Enter');
}

/** Chooses an option of the select of that label. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).first().click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** Starts the server and gives it a project with the lamp in it. */
export async function ternProject(server: TestServer, name: string): Promise<ProjectReply> {
  await server.start();
  return anotherTern(server, name);
}

/** Changes a set as it is on the server, past the interface. */
export async function changeSet(server: TestServer, set: number, change: (file: SetReply['file']) => object): Promise<void> {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { file: change(file), version });
}

/** Makes a set's renders quick: what they look like is tested elsewhere. */
export const makeQuick = (server: TestServer, set: number): Promise<void> =>
  changeSet(server, set, (file) => ({ ...file, sheet: { ...file.sheet, quality: 'quick' } }));

/** A further project with the lamp in it, whose set renders in the quick quality. */
export async function anotherTern(server: TestServer, name: string): Promise<ProjectReply> {
  const created = await server.send<ProjectReply>('POST', '/projects', { name });
  const brought = await server.bring(created.id, await ternGlb());
  for (const { id } of brought.sets) await makeQuick(server, id);
  return brought;
}

/**
 * A further project with the lamp, and in its set what a test begins with: a view named View, as the button for a new view
 * makes it, and shots.
 * @param shots as set files have them; their view is "view".
 * @param sheet what differs from a new project's sheet.
 */
export async function plannedTern(server: TestServer, name: string, shots: object[] = [], sheet: object = {}): Promise<ProjectReply> {
  const project = await anotherTern(server, name);
  const bounds = modelBounds(tern());
  await changeSet(server, project.sets[0]!.id, (file) => {
    const changed = { ...file.sheet, ...sheet };
    const view = { ...defaultView(bounds, changed.size, changed.pixelAspect), id: 'view' };
    return { ...file, reference: bounds, views: [view], sheet: changed, shots };
  });
  return project;
}

/** Waits until the page has drawn what was done to it. */
export const drawn = (page: Page): Promise<void> =>
  page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(() => r()))));

/** Waits until a page grows no more: what it loads when it is opened is there. */
export async function settled(page: Page): Promise<void> {
  let before = -1;
  await expect
    .poll(async () => {
      const [last, now] = [before, await page.locator('*').count()];
      before = now;
      return now === last;
    })
    .toBe(true);
}

/** Pages begin with the format sheet open, as they do for a person who opened it once. */
export async function keepSheetOpen(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const name = 'cold-easel preferences';
    localStorage.setItem(name, JSON.stringify({ sheetOpen: true, ...(JSON.parse(localStorage.getItem(name) ?? '{}') as object) }));
  });
}
