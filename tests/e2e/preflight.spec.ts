/** Checks before the run: a fault is seen on its frame, mended, undone and accepted; a start asks about what is open. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { SetFile } from '../../src/core/plan/set.js';
import { anotherTern, ternProject } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;

/** A turntable that leaves the frame where the lamp's cable comes to the front, and a still. */
const VIEW = { id: 'v', name: 'Front', kind: 'perspective', eye: [0.93, 0.49, 1.22], target: [-0.02, 0.215, -0.02], focalLength: 62 };
const PLAN = {
  views: [VIEW, { ...VIEW, id: 'w', name: 'Far', focalLength: 40 }],
  shots: [
    { id: 'still', name: 'Still', kind: 'still', views: ['w'] },
    { id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 16 },
  ],
};

test.beforeAll(async () => {
  await ternProject(server, 'First');
});
test.beforeEach(async () => {
  project = await anotherTern(server, 'Lamp');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const sheet = { ...file.sheet, size: { width: 160, height: 90 }, quality: 'quick', shutter: 180 };
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, ...PLAN, sheet } });
});
test.afterAll(() => server.end());

const open = async (page: Page, step: string): Promise<void> => void (await page.goto(`${server.url}/p/${project.id}/s/${set}/${step}`));
const saved = async (): Promise<SetFile> => (await server.get<SetReply>(`/sets/${set}`)).file;
const finding = (page: Page) => page.getByRole('region', { name: 'Subject cut by the frame' });

test('a planted fault is seen on its frame, mended by its fix, and undone', async ({ page }) => {
  await open(page, 'preflight');
  await expect(page.getByText(/17 frames checked in \d+\.\d s · 1 fault · 0 doubts/)).toBeVisible();
  await expect(page.getByRole('link', { name: /Preflight/ })).toContainText('1');
  const cell = page.getByRole('button', { name: 'Spin, Image: 1 fault' });
  await expect(cell).toHaveAttribute('aria-pressed', 'true');
  await expect(finding(page)).toContainText(/The subject leaves the frame at the bottom in frames \d+-\d+, by at most \d\.\d % of its outline\./);
  await expect(page.getByTestId('finding-frame').getByRole('img')).toBeVisible();
  await expect(page.getByTestId('overlay')).toBeVisible();
  await finding(page)
    .getByRole('button', { name: /^Fit: 62 mm to \d+ mm$/ })
    .click();
  await expect(page.getByText(/17 frames checked .* 0 faults · 0 doubts/)).toBeVisible();
  await expect(page.getByText('No findings. All frames are as planned.')).toBeVisible();
  expect((await saved()).views[0]!.focalLength).toBeLessThan(62);
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/1 fault · 0 doubts/)).toBeVisible();
  expect((await saved()).views[0]!.focalLength).toBe(62);
});

test('a fault is accepted with a reason, which ends when the view moves', { tag: '@long' }, async ({ page }) => {
  await open(page, 'preflight');
  await finding(page).getByRole('button', { name: 'Waive' }).click();
  const form = page.getByRole('form', { name: 'Waive this finding' });
  await expect(form.getByRole('button', { name: 'Waive' })).toBeDisabled();
  await form.getByLabel('Reason').fill('The cable may run out of the frame.');
  await form.getByRole('button', { name: 'Waive' }).click();
  await expect(page.getByText(/0 faults · 0 doubts · 1 waived/)).toBeVisible();
  expect((await saved()).waivers).toMatchObject([{ finding: 'subject-cut', shot: 'spin', reason: 'The cable may run out of the frame.' }]);
  await page.getByRole('checkbox', { name: 'Waived' }).check();
  const waivers = page.getByRole('region', { name: 'Waivers' });
  await expect(waivers).toContainText('Subject cut by the frame, Spin');
  await expect(waivers).not.toContainText('Ended');
  // The same finding about another camera is another matter.
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: { ...file, views: file.views.map((v) => (v.id === 'v' ? { ...v, focalLength: 63 } : v)) },
  });
  await expect(page.getByText(/1 fault · 0 doubts/)).toBeVisible();
  await expect(waivers).toContainText('Ended');
  await waivers.getByRole('button', { name: 'Withdraw waiver' }).click();
  await expect.poll(async () => (await saved()).waivers).toEqual([]);
});

test('a waiver is withdrawn on the finding itself', { tag: '@long' }, async ({ page }) => {
  await open(page, 'preflight');
  await finding(page).getByRole('button', { name: 'Waive' }).click();
  const form = page.getByRole('form', { name: 'Waive this finding' });
  await form.getByLabel('Reason').fill('Wanted so.');
  await form.getByRole('button', { name: 'Waive' }).click();
  await expect(page.getByText(/0 faults · 0 doubts · 1 waived/)).toBeVisible();
  await page.getByRole('checkbox', { name: 'Waived' }).check();
  await finding(page).getByRole('button', { name: 'Withdraw waiver' }).click();
  await expect(page.getByText(/1 fault · 0 doubts/)).toBeVisible();
  await expect.poll(async () => (await saved()).waivers ?? []).toEqual([]);
  await expect(finding(page).getByRole('button', { name: 'Waive' })).toBeVisible();
});

test('findings are gone through by key, filtered and linked', async ({ page }) => {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, sheet: { ...file.sheet, size: { width: 161, height: 90 } } } });
  await open(page, 'preflight');
  await expect(page.getByText(/1 fault · 1 doubt/)).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.getByRole('region', { name: 'Odd size' })).toContainText('161 × 90 is odd');
  await page.reload();
  await expect(page.getByRole('region', { name: 'Odd size' })).toBeVisible();
  await page.getByRole('checkbox', { name: 'Doubts' }).uncheck();
  await expect(page.getByRole('list', { name: 'Findings' }).getByRole('listitem')).toHaveCount(1);
  await page.getByRole('checkbox', { name: 'Doubts' }).check();
  await page.getByRole('button', { name: 'Apply 2 fixes' }).click();
  await expect(page.getByText(/0 faults · 0 doubts/)).toBeVisible();
  expect((await saved()).sheet.size).toEqual({ width: 162, height: 90 });
});

test('a start with an open fault asks, and the decision is kept with the batch', async ({ page }) => {
  await open(page, 'shots');
  await page.getByRole('button', { name: 'Start batch' }).click();
  const dialog = page.getByRole('dialog', { name: 'Start with open faults?' });
  await expect(dialog).toContainText('The set has 1 fault.');
  await expect(dialog.getByRole('listitem')).toContainText('Spin: The subject leaves the frame');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  expect(await server.get<BatchReply[]>(`/batches?project=${project.id}`)).toEqual([]);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await dialog.getByRole('button', { name: 'Show findings' }).click();
  await expect(page.getByRole('heading', { name: 'Preflight' })).toBeVisible();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await dialog.getByRole('button', { name: 'Start anyway' }).click();
  await page.getByText('Started with 1 open fault, accepted before the run.').click();
  await expect(page.getByText('Spin: The subject leaves the frame')).toBeVisible();
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  expect(batch!.acceptedFaults).toHaveLength(1);
});

test('frames that are not chosen are not asked about', { tag: '@long' }, async ({ page }) => {
  await open(page, 'shots');
  await page.getByLabel('Render frames').fill('1');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('heading', { name: /Batch/ })).toBeVisible();
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  expect(batch).toMatchObject({ total: 2 });
  expect(batch!.acceptedFaults).toBeUndefined();
});

test('the first frames come before the rest, and the batch waits for a word', { tag: '@long' }, async ({ page }) => {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, views: file.views.map((v) => ({ ...v, focalLength: 40 })) } });
  await open(page, 'preflight');
  await expect(page.getByText(/0 faults/)).toBeVisible();
  const first = page.getByRole('region', { name: 'First frames' });
  await first.getByLabel('First frames per shot').fill('2');
  await first.getByLabel('First frames per shot').press('Enter');
  await first.getByLabel('Hold after first frames').check();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('alert')).toContainText('The first frames are done and as planned.', { timeout: 60_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  // The still and two of the turntable.
  expect(batch).toMatchObject({ state: 'held', atGate: true, done: 3, total: 17 });
  await expect(page.getByRole('button', { name: 'Approve and continue' })).toBeVisible();
  await page.getByRole('button', { name: 'Stop and change' }).click();
  await expect(page).toHaveURL(/\/shots$/);
  expect((await server.get<BatchReply[]>(`/batches?project=${project.id}`))[0]).toMatchObject({ state: 'stopped', done: 3 });
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('alert')).toContainText('Look at them in Review, then approve them, or stop.', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Approve and continue' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  expect((await server.get<BatchReply[]>(`/batches?project=${project.id}`))[0]).toMatchObject({ state: 'done', done: 17 });
});

test('a set that cannot be checked can be started all the same, knowingly', { tag: '@long' }, async ({ page }) => {
  await page.route(/\/preflight\?/, (route) =>
    route.fulfill({ status: 503, contentType: 'application/problem+json', body: JSON.stringify({ detail: 'The plan could not be checked.' }) }),
  );
  await open(page, 'shots');
  await page.getByLabel('Render frames').fill('1');
  await page.getByRole('button', { name: 'Start batch' }).click();
  const dialog = page.getByRole('dialog', { name: 'Start with open faults?' });
  await expect(dialog).toContainText('The set could not be checked: The plan could not be checked.');
  await dialog.getByRole('button', { name: 'Start anyway' }).click();
  await expect(page.getByRole('heading', { name: /Batch/ })).toBeVisible();
  expect((await server.get<BatchReply[]>(`/batches?project=${project.id}`))[0]!.acceptedFaults).toHaveLength(1);
});
