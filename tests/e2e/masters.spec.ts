/** What is developed instead of rendered, and revisions that are taken away and brought back. */
import { readdirSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import { ternGlb } from '../support/box.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { SetReply } from '../../src/contract/contract.js';
import { anotherTern, fill, keepSheetOpen } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.end());

test('another exposure and another file type are developed of masters, and said so before and after', { tag: '@long' }, async ({ page }) => {
  const project = await anotherTern(server, 'Developed');
  const set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      sheet: { ...file.sheet, size: { width: 64, height: 36 }, quality: { samples: 9, denoise: true } },
      views: [{ id: 'v', name: 'Front', kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 40 }],
      shots: [{ id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 3 }],
      waivers: [],
    },
  });
  const latest = async (): Promise<BatchReply> => (await server.get<BatchReply[]>(`/batches?project=${project.id}`))[0]!;
  const address = (step: string): string => `${server.url}/p/${project.id}/s/${set}/${step}`;
  await keepSheetOpen(page);
  await page.goto(address('shots'));
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  await page.goto(address('stage'));
  await fill(page, 'Exposure (EV)', '-1');
  await expect.poll(async () => (await server.get<SetReply>(`/sets/${set}`)).file.grade.exposure).toBe(-1);
  await page.goto(address('shots'));
  await expect(page.getByTestId('changes')).toContainText('0 frames to render, 3 developed from masters.');
  await expect(page.getByTestId('changes')).toContainText('3 frames stale: grade.');
  await page.getByRole('region', { name: 'Format sheet' }).getByRole('button', { name: 'File types' }).click();
  await page.getByLabel('JPEG', { exact: true }).check();
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('changes')).toContainText('3 developed from masters.');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('figures')).toContainText('Developed3');
  await expect(page.locator('[data-developed=exact]')).toHaveCount(3);
  const batch = await latest();
  expect(batch).toMatchObject({ done: 3, developed: 3, takenOver: 0 });
  const files = readdirSync(batch.folder, { recursive: true }).map(String);
  expect([files.filter((f) => f.endsWith('.jpg')).length, files.filter((f) => f.endsWith('.png')).length]).toEqual([3, 3]);
  await page.goto(`${server.url}/queue`);
  await expect(page.getByTestId('masters')).toContainText(/Masters for developing again: \d/);
});

test('a revision is deleted with undo, and brought back from its report', { tag: '@long' }, async ({ page }) => {
  const project = await anotherTern(server, 'Revisions');
  const address = `${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`;
  await page.goto(address);
  await expect(page.getByRole('button', { name: 'Delete revision' })).toHaveCount(0);
  await server.bring(project.id, await ternGlb());
  await page.reload();
  const chosen = page.getByRole('combobox', { name: 'Revision' });
  await expect(chosen).toHaveText(/B/, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Delete revision' }).click();
  await expect(page.getByText('“Revision B” was deleted.')).toBeVisible();
  await expect(chosen).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(chosen).toBeVisible();
  await page.getByRole('button', { name: 'Delete revision' }).click();
  await page.reload();
  await page.getByRole('button', { name: 'Restore B' }).click();
  await expect(chosen).toBeVisible();
});
