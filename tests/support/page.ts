/** What every test of the interface does with a page. */
import type { Page } from '@playwright/test';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
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

/** Makes a set's renders quick: what they look like is tested elsewhere. */
export async function makeQuick(server: TestServer, set: number): Promise<void> {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { file: { ...file, sheet: { ...file.sheet, quality: 'quick' } }, version });
}

/** A further project with the lamp in it, whose set renders in the quick quality. */
export async function anotherTern(server: TestServer, name: string): Promise<ProjectReply> {
  const created = await server.send<ProjectReply>('POST', '/projects', { name });
  const brought = await server.bring(created.id, await ternGlb());
  for (const { id } of brought.sets) await makeQuick(server, id);
  return brought;
}

/** Pages begin with the format sheet open, as they do for a person who opened it once. */
export async function keepSheetOpen(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const name = 'cold-easel preferences';
    localStorage.setItem(name, JSON.stringify({ sheetOpen: true, ...(JSON.parse(localStorage.getItem(name) ?? '{}') as object) }));
  });
}
