/** Time and room before a run: shown by shot and set, changed to be done by an hour, and beside what is measured. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { SetFile } from '../../src/core/plan/set.js';
import { anotherTern, keepSheetOpen, ternProject } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
let project: ProjectReply;
let set: number;

const VIEW = { id: 'v', name: 'Front', kind: 'perspective', eye: [0.93, 0.49, 1.22], target: [-0.02, 0.215, -0.02], focalLength: 50 };
const SHOTS = [
  { id: 'still', name: 'Still', kind: 'still', views: ['v'] },
  { id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 8 },
];

async function planned(sheet: object, frames = 8): Promise<void> {
  project = await anotherTern(server, 'Lamp');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      views: [VIEW],
      shots: SHOTS.map((s) => (s.id === 'spin' ? { ...s, frames } : s)),
      sheet: { ...file.sheet, shutter: 180, ...sheet },
    },
  });
}

test.beforeAll(() => ternProject(server, 'First'));
test.beforeEach(({ page }) => keepSheetOpen(page));
test.afterAll(() => server.end());

const open = async (page: Page, step: string): Promise<void> => void (await page.goto(`${server.url}/p/${project.id}/s/${set}/${step}`));
const saved = async (): Promise<SetFile> => (await server.get<SetReply>(`/sets/${set}`)).file;
const TIME = /\d+ (s|min|h)/;

test('time and room are shown for the set and each shot, with what more would cost', async ({ page }) => {
  await planned({ size: { width: 320, height: 180 }, quality: 'draft' });
  await open(page, 'shots');
  const line = page.getByTestId('forecast');
  await expect(line).toHaveText(/^Forecast \d.* \(\d.* to \d.*\) · \d.*[KM]B$/, { timeout: 60_000 });
  for (const shot of ['Still', 'Spin'])
    await expect(
      page
        .getByRole('row', { name: new RegExp(shot) })
        .getByRole('cell')
        .nth(6),
    ).toHaveText(TIME);
  await page.getByRole('row', { name: /Spin/ }).click();
  await expect(page.getByTestId('shot-cost')).toHaveText(/^Forecast .* Twice the frames: .* more\.$/);
  await page
    .getByText('Quality', { exact: false })
    .locator('summary')
    .or(page.locator('summary', { hasText: 'draft' }))
    .first()
    .click();
  await expect(page.getByTestId('set-cost')).toHaveText(/^Twice the samples: \d.* more\. Twice the width and height: \d.* more\.$/);
  await line.click();
  const details = page.getByRole('dialog', { name: 'Forecast in detail' });
  await expect(details).toContainText('From test renders of 7 of 9 frames.');
  await expect(details.getByRole('region', { name: 'Files' })).toContainText('png beauty');
});

test('to be done by an hour, a change is chosen by its picture, applied and undone', { tag: '@long' }, async ({ page }) => {
  await planned({ size: { width: 1920, height: 1080 }, quality: 'review' }, 72);
  await open(page, 'shots');
  await page.getByTestId('forecast').click();
  const details = page.getByRole('dialog', { name: 'Forecast in detail' });
  const soon = new Date(Date.now() + 2.5 * 60_000);
  await details.getByLabel('Be done by').fill('25:00');
  await details.getByLabel('Be done by').press('Enter');
  await expect(details).toContainText('Enter an hour of the day, such as 17:30.');
  await details.getByLabel('Be done by').fill(`${soon.getHours()}:${String(soon.getMinutes()).padStart(2, '0')}`);
  await details.getByLabel('Be done by').press('Enter');
  const choices = details.getByRole('region', { name: 'Be done by' });
  await expect(choices).toContainText('as planned. To be done earlier:');
  await expect(choices.getByRole('listitem')).toHaveCount(4);
  const samples = choices.getByRole('listitem').filter({ hasText: 'samples instead of 64' });
  await expect
    .poll(() => samples.getByRole('img', { name: 'With this change' }).evaluate((i: HTMLImageElement) => i.naturalWidth), { timeout: 60_000 })
    .toBe(240);
  await samples.getByRole('button', { name: /^Apply/ }).click();
  await expect.poll(async () => JSON.stringify((await saved()).sheet.quality)).not.toBe('"review"');
  await expect(page.getByText(/^Changed: \d+ samples instead of 64\.$/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await saved()).sheet.quality).toBe('review');
  // Fewer frames are no edit of the set: the next batch renders them.
  await page.getByTestId('forecast').click();
  await details.getByRole('button', { name: /^Apply: Every \d+(nd|rd|th) frame/ }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel(/^Render frames/)).toHaveValue(/^spin: first every \d/);
  expect((await saved()).sheet.quality).toBe('review');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel(/^Render frames/)).toHaveValue('all');
});

test('a batch shows its forecast beside what is measured', { tag: '@long' }, async ({ page }) => {
  await planned({ size: { width: 320, height: 180 }, quality: 'draft' });
  await open(page, 'shots');
  await expect(page.getByTestId('forecast')).toBeVisible();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page).toHaveURL(/\/batch\?batch=\d+/);
  await expect(page.getByTestId('times')).toContainText('dashed: forecast');
  await expect(page.getByTestId('times').locator('.recharts-line')).toHaveCount(2);
  await expect(page.getByTestId('figures')).toContainText('9 of 9', { timeout: 60_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  expect(batch!.forecast!.seconds.likely).toBeGreaterThan(0);
  expect(batch!.remaining).toBe(0);
});
