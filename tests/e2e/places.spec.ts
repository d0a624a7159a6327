/** Projects and sets are gone to, renamed, duplicated and deleted, and brought back; what is not there says so. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternProject } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
let project: ProjectReply;

test.beforeAll(async () => {
  project = await ternProject(server, 'Lamp');
});
test.afterAll(() => server.end());

async function act(page: Page, menu: string | RegExp, action: string): Promise<void> {
  await page.getByRole('button', { name: menu }).click();
  await page.getByRole('menuitem', { name: action, exact: true }).click();
}

const projects = async (): Promise<string[]> => (await server.get<ProjectReply[]>('/projects')).map((p) => p.name);

test('a set is renamed, duplicated, left for another, deleted and brought back in the top line', async ({ page }) => {
  const sets = async (): Promise<string[]> => (await server.get<ProjectReply>(`/projects/${project.id}`)).sets.map((s) => s.name);
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/stage`);
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
  await expect(page).toHaveTitle('Stage · Lamp · Cold Easel');
  await act(page, /^Set:/, 'Rename');
  await page.getByLabel('Set', { exact: true }).fill('Review of March');
  await page.getByLabel('Set', { exact: true }).press('Enter');
  await expect.poll(sets).toEqual(['Review of March']);
  // Escape keeps the name.
  await act(page, /^Set:/, 'Rename');
  await page.getByLabel('Set', { exact: true }).fill('Another');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Set: Review of March' })).toBeVisible();
  expect(await sets()).toEqual(['Review of March']);
  // The only one stays.
  await act(page, /^Set:/, 'Delete');
  await expect(page.getByText('"Review of March" is the only set of its project')).toBeVisible();
  await act(page, /^Set:/, 'Duplicate');
  await expect(page.getByRole('button', { name: 'Set: Review of March copy' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Stage' })).toBeVisible();
  await act(page, /^Set:/, 'Review of March 0 frames');
  await expect(page.getByRole('button', { name: 'Set: Review of March', exact: true })).toBeVisible();
  await act(page, /^Set:/, 'Review of March copy 0 frames');
  await act(page, /^Set:/, 'Delete');
  await expect.poll(sets).toEqual(['Review of March']);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(sets).toEqual(['Review of March', 'Review of March copy']);
});

test('a project is renamed, duplicated with its model, deleted and restored', async ({ page }) => {
  await page.goto(server.url);
  await act(page, 'Actions of Lamp', 'Rename');
  await page.getByLabel('Project name', { exact: true }).last().fill('Desk lamp');
  await page.getByLabel('Project name', { exact: true }).last().press('Enter');
  await expect(page.getByRole('link', { name: /Desk lamp/ })).toBeVisible();
  await act(page, 'Actions of Desk lamp', 'Duplicate');
  await expect(page.getByRole('link', { name: /Desk lamp copy/ })).toContainText('31 parts');
  await act(page, 'Actions of Desk lamp copy', 'Delete');
  await expect.poll(projects).toEqual(['Desk lamp']);
  await page.reload();
  await page.getByText('Deleted projects (1)').click();
  await page.getByRole('button', { name: 'Restore Desk lamp copy' }).click();
  await expect.poll(projects).toEqual(['Desk lamp', 'Desk lamp copy']);
  await expect(page.getByText(/Deleted projects/)).toHaveCount(0);
});

test('a set of another project, one that is not there and a number that is none say so', async ({ page }) => {
  const other = await server.send<ProjectReply>('POST', '/projects', { name: 'Other' });
  await page.goto(`${server.url}/p/${project.id}/s/${other.sets[0]!.id}/views`);
  await expect(page.getByText('This set belongs to another project.')).toBeVisible();
  await page.goto(`${server.url}/p/${project.id}/s/9999/views`);
  await expect(page.getByText('There is no Set 9999').or(page.getByText(/Set 9999/))).toBeVisible();
  await page.goto(`${server.url}/p/${project.id}/s/abc/views`);
  await expect(page.getByText('There is no set of that number.')).toBeVisible();
  await page.goto(`${server.url}/p/abc`);
  await expect(page.getByText('is not the number of a project')).toBeVisible();
  const asked = await fetch(`${server.url}/api/projects/abc`);
  expect([asked.status, ((await asked.json()) as { detail: string }).detail]).toEqual([400, '"abc" is not the number of a project.']);
});

for (const width of [1024, 640]) {
  test(`at ${width} pixels the step index folds and nothing that is pressed is cut`, async ({ page }) => {
    await page.setViewportSize({ width, height: 768 });
    const { id, version, file } = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
    const view = { id: 'a', name: 'View', kind: 'perspective', eye: [0.8, 0.5, 1.1], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false };
    if (file.views.length === 0)
      await server.send('PUT', `/sets/${id}`, {
        version,
        file: { ...file, views: [view], shots: [{ id: 's', kind: 'turntable', view: 'a', frames: 6 }] },
      });
    for (const [step, button] of [
      ['views', 'Save as new view'],
      ['shots', 'Start batch'],
      ['stage', 'Live preview'],
      ['model', 'Set views'],
    ] as const) {
      await page.goto(`${server.url}/p/${project.id}/s/${id}/${step}`);
      const pressed = page.getByRole('button', { name: button }).first();
      await pressed.scrollIntoViewIfNeeded();
      const box = (await pressed.boundingBox())!;
      expect(box.x, step).toBeGreaterThanOrEqual(0);
      expect(box.x + box.width, step).toBeLessThanOrEqual(width);
      // It is on top where its middle is.
      const top = await pressed.evaluate((el) => {
        const { x, y, width: w, height: h } = el.getBoundingClientRect();
        const hit = document.elementFromPoint(x + w / 2, y + h / 2);
        return el.contains(hit);
      });
      expect(top, step).toBe(true);
    }
    const index = (await page.getByRole('navigation', { name: 'Steps' }).boundingBox())!;
    expect(index.width).toBeLessThan(60);
    await page.getByRole('link', { name: /Views/ }).click();
    await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  });
}
