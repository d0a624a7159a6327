/** The queue of all projects, what is reused and rendered again, and what becomes of batches that are over. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern, fill } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.end());

interface Planned {
  project: ProjectReply;
  set: number;
  revision: number;
}

/** A project with a turntable of tiny frames. @param samples tell its pictures from those of other tests. */
async function planned(name: string, samples: number, frames = 6, size = { width: 64, height: 36 }): Promise<Planned> {
  const project = await anotherTern(server, name);
  const set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { id: 'v', name: 'Front', kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 40 };
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      name,
      sheet: { ...file.sheet, size, quality: { samples, denoise: false } },
      views: [view],
      shots: [{ id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames }],
      waivers: [],
    },
  });
  return { project, set, revision: project.revisions[0]!.id };
}

const begin = ({ set, revision }: Planned, choice: object = {}): Promise<BatchReply> =>
  server.send<BatchReply>('POST', `/sets/${set}/batches`, { revision, firstFrames: 0, ...choice });
const state = async (id: number): Promise<string> => (await server.get<BatchReply>(`/batches/${id}`)).state;
const over = (id: number): Promise<void> => expect.poll(() => state(id), { timeout: 200_000 }).toBe('done');
const row = (page: Page, batch: BatchReply) => page.getByRole('listitem', { name: `Batch ${batch.number}`, exact: true });
const order = async (page: Page): Promise<string[]> =>
  page
    .getByRole('list', { name: 'Queue' })
    .getByRole('listitem')
    .evaluateAll((rows) => rows.map((r) => r.getAttribute('aria-label') ?? ''));

test('three batches of two projects are put in order, by keyboard and by priority, paused, stopped and given an hour', async ({ page }) => {
  const [lamp, other] = [await planned('Queue one', 4), await planned('Queue two', 5)];
  // The first one stays long enough at the front.
  const long = await planned('Queue long', 6, 400, { width: 160, height: 90 });
  const a = await begin(long);
  const [b, c] = [await begin(lamp), await begin(other)];
  const named = (...batches: BatchReply[]): string[] => batches.map((x) => `Batch ${x.number}`);
  await page.goto(`${server.url}/`);
  await page.getByRole('link', { name: 'Queue', exact: true }).click();
  await expect.poll(() => order(page)).toEqual(named(a, b, c));
  await expect(row(page, b)).toContainText('Queue one, revision A');
  // By keyboard: taken up, moved by one, put down.
  await page.getByRole('button', { name: `Move batch ${c.number}` }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(`Batch ${c.number}: place 3 of 3.`)).toBeAttached();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(`Batch ${c.number}: place 2 of 3.`)).toBeAttached();
  await page.keyboard.press('Space');
  await expect.poll(() => order(page)).toEqual(named(a, c, b));
  await row(page, b).getByRole('combobox', { name: 'Priority' }).click();
  await page.getByRole('option', { name: 'Ahead of others' }).click();
  await over(b.id);
  // It came before the one that was running, which goes on.
  expect(['running', 'queued']).toContain(await state(a.id));
  await expect(page.getByRole('list', { name: 'History' }).getByRole('listitem', { name: `Batch ${b.number}`, exact: true })).toBeVisible();
  await row(page, a).getByRole('button', { name: 'Pause' }).click();
  await expect(row(page, a).getByRole('button', { name: 'Resume' })).toBeVisible();
  // While one is paused the others go on.
  await over(c.id);
  await row(page, a).getByRole('button', { name: 'Start at: at once' }).click();
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
  await row(page, a).getByLabel('Start at').fill(`${tomorrow}T06:30`);
  await row(page, a).getByLabel('Start at').press('Enter');
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${a.id}`)).startAt).toContain(tomorrow);
  // The row has room for the hour now: its buttons stand elsewhere.
  await expect(row(page, a).getByRole('button', { name: 'Start at: at once' })).toHaveCount(0);
  await row(page, a).getByRole('button', { name: 'Resume' }).click();
  await expect(row(page, a)).toContainText('queued');
  await row(page, a).getByRole('button', { name: 'Stop' }).click();
  await expect.poll(() => state(a.id)).toBe('stopped');
});

test('sets of several projects are started from the queue', { tag: '@long' }, async ({ page }) => {
  const [one, two] = [await planned('Start one', 7, 2), await planned('Start two', 8, 2)];
  await page.goto(`${server.url}/queue`);
  await page.getByRole('button', { name: 'Start batches' }).click();
  const dialog = page.getByRole('dialog', { name: 'Start batches' });
  await dialog.getByLabel('Start Start one').check();
  await dialog.getByLabel('Start Start two').check();
  await dialog.getByRole('button', { name: 'Start 2 batches' }).click();
  await expect(page.getByText('2 batches queued.')).toBeVisible({ timeout: 60_000 });
  for (const { project } of [one, two]) {
    const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
    await over(batch!.id);
  }
});

test('what is missing is chosen by a word, what is there is reused, and a draft is kept apart', { tag: '@long' }, async ({ page }) => {
  const { project, set } = await planned('Reuse', 9, 5);
  const latest = async (): Promise<BatchReply> => (await server.get<BatchReply[]>(`/batches?project=${project.id}`))[0]!;
  const shots = `${server.url}/p/${project.id}/s/${set}/shots`;
  await page.goto(shots);
  await page.getByLabel('Render frames').fill('1-3');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  await page.goto(shots);
  await expect(page.getByTestId('changes')).toContainText('2 frames to render, 3 reused.');
  await page.getByRole('button', { name: 'Frames by shot' }).click();
  await page.getByRole('button', { name: 'Missing 2' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Render frames: 2 of 5')).toHaveValue('missing');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  expect(await latest()).toMatchObject({ total: 2, done: 2, takenOver: 0 });
  // All of it now: nothing is rendered, and each cell says so.
  await page.goto(shots);
  await expect(page.getByTestId('changes')).toContainText('0 frames to render, 5 reused.');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('figures')).toContainText('Reused5');
  await expect(page.locator('[data-taken-over]')).toHaveCount(5);
  // A draft of half the size has frames of its own.
  await page.goto(shots);
  await page.getByRole('button', { name: 'Start options' }).click();
  await page.getByLabel('Draft', { exact: true }).check();
  await fill(page, 'Samples, %', '50');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Start draft' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 60_000 });
  expect(await latest()).toMatchObject({ name: 'Reuse, draft', takenOver: 0, size: { width: 32, height: 18 }, draft: { size: 0.5, samples: 0.5 } });
  await page.goto(shots);
  await expect(page.getByTestId('changes')).toContainText('0 frames to render, 5 reused.');
});

test('a change says how many frames it touches and why; a render is accepted and left out of the next batch', async ({ page }) => {
  const plan = await planned('Stale', 10, 4);
  const { project, set } = plan;
  await over((await begin(plan)).id);
  await page.goto(`${server.url}/p/${project.id}/s/${set}/review`);
  await page.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Accepted' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('d');
  await expect(page.getByRole('button', { name: 'Redo asked' })).toBeVisible();
  await page.goto(`${server.url}/p/${project.id}/s/${set}/shots`);
  await page.getByRole('button', { name: 'Frames by shot' }).click();
  await expect(page.getByRole('button', { name: 'Not accepted 3' })).toBeVisible();
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, views: file.views.map((v) => ({ ...v, focalLength: 42 })) } });
  await page.reload();
  await page.getByRole('button', { name: 'Frames by shot' }).click();
  await expect(page.getByText('4 frames stale: camera.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Stale 4' })).toBeEnabled();
});

test('a failed frame says why and is tried again', async ({ page }) => {
  const plan = await planned('Failing', 11, 2);
  const { file, version } = await server.get<SetReply>(`/sets/${plan.set}`);
  // An eye that looks away from everything, before a clear backdrop: the frame is black.
  const views = [...file.views, { ...file.views[0]!, id: 'w', name: 'Away', eye: [5, 0.5, 5], target: [9, 0.6, 9] }];
  const shots = [...file.shots, { id: 'away', name: 'Away', kind: 'still', views: ['w'] }];
  await server.send('PUT', `/sets/${plan.set}`, { version, file: { ...file, sheet: { ...file.sheet, alpha: true }, views, shots } });
  const batch = await begin(plan);
  await over(batch.id);
  await page.goto(`${server.url}/p/${plan.project.id}/s/${plan.set}/batch?batch=${batch.id}`);
  await expect(page.getByTestId('grid')).toContainText(/Failed, frame 1: .*black/);
  const attempts = async (): Promise<FrameReply[]> => server.get<FrameReply[]>(`/batches/${batch.id}/frames`);
  expect((await attempts()).filter((f) => f.state === 'failed')).toHaveLength(1);
  const again = page.waitForResponse((r) => r.url().endsWith('/retry') && r.ok());
  await page.getByRole('button', { name: 'Try failed again' }).click();
  expect(((await (await again).json()) as BatchReply).state).toBe('queued');
  await over(batch.id);
  await expect(page.getByTestId('figures')).toContainText('Failed1');
});

test('a batch of the history is planned and rendered again, deleted, and brought back', { tag: '@long' }, async ({ page }) => {
  const plan = await planned('History', 12, 3);
  const batch = await begin(plan);
  await over(batch.id);
  const { file, version } = await server.get<SetReply>(`/sets/${plan.set}`);
  await server.send('PUT', `/sets/${plan.set}`, { version, file: { ...file, shots: [{ ...file.shots[0]!, frames: 9 }] } });
  await page.goto(`${server.url}/queue`);
  const own = row(page, batch);
  await own.getByRole('button', { name: 'Differences from today' }).click();
  await expect(own.getByText('Shot "Spin" changed: frames.')).toBeVisible();
  const act = async (name: string): Promise<void> => {
    await own.getByRole('button', { name: `Actions of batch ${batch.number}` }).click();
    await page.getByRole('menuitem', { name }).click();
  };
  await act('Render again');
  await expect
    .poll(async () => (await server.get<BatchReply[]>(`/batches?project=${plan.project.id}`)).map((b) => [b.state, b.done, b.takenOver]))
    .toEqual([
      ['done', 3, 0],
      ['done', 3, 0],
    ]);
  await act('Delete');
  const dialog = page.getByRole('dialog', { name: `Delete batch ${batch.number}?` });
  await expect(dialog).toContainText(/3 frames, 3 files and 0 movies, \d+ KB in all\./);
  await expect(dialog).toContainText('It can be restored for 7 days');
  await dialog.getByRole('button', { name: 'Delete' }).click();
  await expect(own).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(own).toBeVisible();
  await act('Plan as then');
  await expect(page).toHaveURL(/\/shots$/);
  await expect(page.getByText(`The plan is now the set "History, batch ${batch.number}".`)).toBeVisible();
  await expect(page.getByTestId('register')).toContainText('Spin');
});

test('the render in work comes up as its tiles come, and is looked at pixel by pixel', async ({ page }) => {
  const plan = await planned('In work', 400, 1, { width: 640, height: 360 });
  const batch = await begin(plan);
  await page.goto(`${server.url}/p/${plan.project.id}/s/${plan.set}/batch?batch=${batch.id}`);
  const shown = page.getByTestId('in-work');
  await expect(shown).toBeVisible({ timeout: 60_000 });
  // Between two looks the next one may still be on its way.
  await expect.poll(() => shown.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(640);
  await expect(page.getByText(/\d+ of 400/)).toBeVisible();
  await expect(page.getByTestId('tile').first()).toHaveAttribute('title', /^Worker [12]$/);
  await page.getByRole('button', { name: 'Show pixel by pixel' }).click();
  await expect(page.getByRole('button', { name: 'Fit render' })).toBeVisible();
  await server.send('POST', `/batches/${batch.id}/stop`);
});
