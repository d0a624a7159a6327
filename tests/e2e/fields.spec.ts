/** What is typed counts at once, in every window, and is not lost; keys belong to what has the focus. */
import { type BrowserContext, expect, type Page, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternProject } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(async () => {
  project = await ternProject(server, 'Fields');
});
test.afterAll(() => server.end());

/** A set of its own for each test: a still, and a turntable of six frames. */
async function newSet(name: string): Promise<{ id: number; url: string; file: () => Promise<SetReply['file']> }> {
  const first = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
  const view = { id: 'a', name: 'View', kind: 'perspective', eye: [0.8, 0.5, 1.1], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false };
  const file = {
    ...first.file,
    name,
    sheet: { ...first.file.sheet, size: { width: 32, height: 18 }, quality: { samples: 1 } },
    views: [view],
    shots: [
      { id: 'still', name: 'Still', kind: 'still', views: ['a'] },
      { id: 'spin', name: 'Spin', kind: 'turntable', view: 'a', frames: 6 },
    ],
  };
  const { id } = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file });
  return { id, url: `${server.url}/p/${project.id}/s/${id}`, file: async () => (await server.get<SetReply>(`/sets/${id}`)).file };
}

async function startedFrames(page: Page): Promise<string[]> {
  await page.waitForURL(/batch=/);
  const id = new URL(page.url()).searchParams.get('batch')!;
  const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
  return frames.map((f) => `${f.shot} ${f.number}`);
}

test('frames that are typed are rendered, though the start is pressed at once', async ({ page }) => {
  const { url } = await newSet('Typed');
  await page.goto(`${url}/shots`);
  await page.getByLabel('Render frames').fill('2-4');
  await page.getByRole('button', { name: 'Start batch' }).click();
  // The still has one frame, and the range means what is there.
  expect(await startedFrames(page)).toEqual(['spin 2', 'spin 3', 'spin 4']);
  await page.goto(`${url}/shots`);
  await page.getByLabel('Render frames').fill('1');
  await page.keyboard.press('Control+Enter');
  expect(await startedFrames(page)).toEqual(['still 1', 'spin 1']);
});

test('each shot has frames of its own, and what cannot be starts nothing', async ({ page }) => {
  const { id, url, file } = await newSet('By shot');
  await page.goto(`${url}/shots`);
  await page.getByRole('button', { name: 'Frames by shot' }).click();
  await page.getByLabel('Spin', { exact: true }).fill('last');
  await page.getByLabel('Spin', { exact: true }).press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Render frames: 2 of 7')).toHaveValue('spin: last');
  await page.getByRole('button', { name: 'Start batch' }).click();
  expect(await startedFrames(page)).toEqual(['still 1', 'spin 6']);

  // A field whose text cannot be taken holds the start, also once it is left.
  await page.goto(`${url}/shots`);
  const before = (await server.get<BatchReply[]>(`/batches?project=${project.id}`)).length;
  await page.getByRole('row', { name: /Spin/ }).click();
  await page.getByLabel('Frames', { exact: true }).fill('many');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByText(/^Frames: .*Correct it first\.$/)).toBeVisible();
  expect(await server.get<BatchReply[]>(`/batches?project=${project.id}`)).toHaveLength(before);
  // What can be taken is in the plan before it is frozen.
  await page.getByLabel('Frames', { exact: true }).fill('3');
  await page.getByRole('button', { name: 'Start batch' }).click();
  expect(await startedFrames(page)).toEqual(['still 1', 'spin 1', 'spin 2', 'spin 3']);
  expect((await file()).shots[1]).toMatchObject({ frames: 3 });
  expect(id).toBeGreaterThan(0);
});

test('two windows edit one set: both changes are kept, and each undoes its own', async ({ context }: { context: BrowserContext }) => {
  const { id, url, file } = await newSet('Two windows');
  const [one, two] = [await context.newPage(), await context.newPage()];
  await one.goto(`${url}/views`);
  await two.goto(`${url}/views`);
  const put = async (page: Page, label: string, value: string): Promise<void> => {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.getByLabel(label, { exact: true }).press('Enter');
  };
  await put(one, 'Focal length', '60');
  await expect.poll(async () => (await file()).views[0]!.focalLength).toBe(60);
  // Seen over there without a reload.
  await expect(two.getByLabel('Focal length', { exact: true })).toHaveValue('60');
  await put(two, 'Eye y', '0.7');
  await expect.poll(async () => (await file()).views[0]!).toMatchObject({ focalLength: 60, eye: [0.8, 0.7, 1.1] });
  await expect(one.getByLabel('Eye y', { exact: true })).toHaveValue('0.7');
  // A change that this window has not heard of when it saves.
  await one.route('**/api/events*', (route) => route.abort());
  await put(one, 'Target y', '0.25');
  await expect.poll(async () => (await file()).views[0]!.target[1]).toBe(0.25);
  const { version, file: now } = await server.get<SetReply>(`/sets/${id}`);
  const saved = await server.send<SetReply>('PUT', `/sets/${id}`, { version, file: { ...now, name: 'Renamed elsewhere' } });
  expect(saved.version).toBe(version + 1);
  await put(one, 'Focal length', '70');
  await expect.poll(file).toMatchObject({ name: 'Renamed elsewhere', views: [{ focalLength: 70, target: [0, 0.25, 0] }] });
  await one.keyboard.press('Escape');
  await one.getByRole('heading', { name: 'Views' }).click();
  await one.keyboard.press('Control+z');
  await expect.poll(file).toMatchObject({ name: 'Renamed elsewhere', views: [{ focalLength: 60, target: [0, 0.25, 0], eye: [0.8, 0.7, 1.1] }] });
  // The same value in both: a person is asked, and may take the other.
  // This window hears of it by its save: its stream of events may still be open, and what is read before is no clash.
  let sent = false;
  await one.route(`**/api/sets/${id}`, (route) => {
    sent ||= route.request().method() === 'PUT';
    return sent ? route.continue() : route.abort();
  });
  const latest = await server.get<SetReply>(`/sets/${id}`);
  const theirs = { ...latest.file, views: latest.file.views.map((v) => ({ ...v, focalLength: 35 })) };
  await server.send<SetReply>('PUT', `/sets/${id}`, { version: latest.version, file: theirs });
  await put(one, 'Focal length', '80');
  const clash = one.getByTestId('clashes').locator('tbody tr');
  await expect(clash).toContainText('focalLength8035');
  await expect.poll(file).toMatchObject({ views: [{ focalLength: 80 }] });
  await clash.getByRole('button', { name: 'Take the other' }).click();
  await expect.poll(file).toMatchObject({ views: [{ focalLength: 35 }] });
  await expect(clash).toHaveCount(0);
});

test('an edit that could not be saved is there again when the page is', async ({ page }) => {
  const { url, file } = await newSet('Away');
  await page.goto(`${url}/views`);
  await expect(page.getByLabel('Focal length', { exact: true })).toHaveValue('50');
  const asked: string[] = [];
  page.on('dialog', (dialog) => {
    asked.push(dialog.type());
    void dialog.accept();
  });
  await server.kill();
  await expect(page.getByTestId('connection-banner')).toBeVisible();
  await page.getByLabel('Focal length', { exact: true }).fill('85');
  await page.getByLabel('Focal length', { exact: true }).press('Enter');
  await expect(page.getByText('Cold Easel does not answer')).toBeVisible();
  // The browser asks before it closes the page.
  await page.goto('about:blank');
  expect(asked).toEqual(['beforeunload']);
  await server.start();
  expect((await file()).views[0]!.focalLength).toBe(50);
  await page.goto(`${url}/views`);
  await expect(page.getByText('A change that had not been saved was restored.')).toBeVisible();
  await expect(page.getByLabel('Focal length', { exact: true })).toHaveValue('85');
  await expect.poll(async () => (await file()).views[0]!.focalLength).toBe(85);
});

test('keys belong to what has the focus', async ({ page }) => {
  const { url, file } = await newSet('Keys');
  await page.goto(`${url}/shots`);
  await page.getByRole('row', { name: /Spin/ }).click();
  const rule = page.getByTestId('rule-time');
  await page.getByLabel('There and back').focus();
  await page.keyboard.press('Space');
  await expect.poll(async () => (await file()).shots[1]).toMatchObject({ thereAndBack: true });
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  expect(await rule.textContent()).toContain('0001 00:00:00:00');
  // A digit in a closed select is the select's.
  await page.getByRole('combobox', { name: 'Direction' }).focus();
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'Shots' })).toBeVisible();
  // Undo reaches the plan from a field in which nothing is half typed.
  await page.getByLabel('Frames', { exact: true }).focus();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await file()).shots[1]).toMatchObject({ thereAndBack: false });
  await page.getByLabel('Frames', { exact: true }).fill('12');
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => (await file()).shots[1]).toMatchObject({ frames: 13 });
});

test('help stands beside its field on hover and on focus, and takes no click', async ({ page }) => {
  const { url } = await newSet('Help');
  await page.goto(`${url}/views`);
  const field = page.getByLabel('Focal length', { exact: true });
  await field.hover();
  const help = page.getByRole('tooltip').first();
  await expect(help).toBeAttached();
  const [tip, box] = [(await page.locator('[data-radix-popper-content-wrapper]').boundingBox())!, (await field.boundingBox())!];
  expect(tip.y + tip.height <= box.y + 1 || tip.y >= box.y + box.height - 1 || tip.x >= box.x + box.width || tip.x + tip.width <= box.x).toBe(true);
  const described = (await field.getAttribute('aria-describedby'))!.split(' ');
  const texts = await page.evaluate((ids) => ids.map((id) => document.getElementById(id)?.textContent ?? ''), described);
  expect(texts.join(' ')).toContain(await help.textContent());
  // A click there goes to what lies under it.
  const hit = await page.evaluate(
    ([x, y]) => document.elementFromPoint(x!, y!)?.closest('[data-radix-popper-content-wrapper]') ?? null,
    [tip.x + tip.width / 2, tip.y + tip.height / 2],
  );
  expect(hit).toBeNull();
});
