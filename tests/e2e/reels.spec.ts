/** Shots are joined to a reel, cut elsewhere, and made into a movie of what a batch rendered. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { changeSet, fill, keepSheetOpen, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('shots are joined to a reel, which a batch’s pictures make', { tag: '@long' }, async ({ page }) => {
  const shots = [
    { id: 'still', name: 'Still', kind: 'still', views: ['view'], variants: ['a', 'b'] },
    { id: 'walkthrough', name: 'Walkthrough', kind: 'walkthrough', stations: [{ eye: [1, 0.5, 1] }, { eye: [0, 0.5, 1.5] }], off: true },
    { id: 'turntable', name: 'Turntable', kind: 'turntable', view: 'view', frames: 6 },
  ];
  project = await plannedTern(server, 'Reel', [], { size: { width: 96, height: 54 }, quality: { samples: 2 } });
  const variants = [
    { id: 'a', name: 'Plain', swaps: [] },
    { id: 'b', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] },
  ];
  await changeSet(server, project.sets[0]!.id, (set) => ({ ...set, materials: { variants }, shots }));
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Reels' }).click();
  await page.getByRole('button', { name: 'New reel' }).click();
  await page.getByRole('button', { name: 'Add clip' }).click();
  await fill(page, 'Duration', '0.25');
  await fill(page, 'Fade in', '2', 1);
  // 6 frames, and two pictures of 6 frames each, of which 2 lie over the turntable's end.
  await expect(page.getByTestId('reel-length')).toContainText('16 frames · 00:00:00:16');
  // Of one variant alone it is one picture; the batch has both.
  const worn = page.getByRole('combobox', { name: 'Variant', exact: true }).nth(1);
  for (const [variant, length] of [
    ['Black', '10 frames'],
    ['Same as batch', '16 frames'],
  ] as const) {
    await worn.click();
    await page.getByRole('option', { name: variant, exact: true }).click();
    await expect(page.getByTestId('reel-length')).toContainText(length);
  }
  await fill(page, 'Speed', '2');
  await expect(page.getByText('at 2 times its pace: 0.13 s instead of 0.25 s')).toBeVisible();
  await fill(page, 'Fade in', '9', 1);
  await expect(page.getByRole('alert').filter({ hasText: 'longer than the 3 frames there are' })).toBeVisible();
  await fill(page, 'Fade in', '1', 1);
  await expect
    .poll(async () => (await file()).reels?.[0]?.parts.map((p) => [p.shot, p.speed, p.fade]))
    .toEqual([
      ['turntable', 2, 0],
      ['still', 1, 1],
    ]);
  // The cut goes out and comes back as another reel of the same length; one of other pictures is refused.
  for (const [link, n] of [
    ['Export OpenTimelineIO', 2],
    ['Export edit list', 3],
  ] as const) {
    const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: link }).click()]);
    await page
      .getByLabel('Edit file', { exact: true })
      .setInputFiles({ name: saved.suggestedFilename(), mimeType: 'text/plain', buffer: readFileSync(await saved.path()) });
    await expect.poll(async () => (await file()).reels?.length).toBe(n);
    await expect(page.getByTestId('reel-length')).toContainText('14 frames');
  }
  const foreign = 'TITLE: X\n001  A  V  C  00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n* FROM CLIP NAME: Harbour\n';
  await page.getByLabel('Edit file', { exact: true }).setInputFiles({ name: 'x.edl', mimeType: 'text/plain', buffer: Buffer.from(foreign) });
  await expect(page.getByText('The clip "Harbour" is not a moving shot of this set')).toBeVisible();
  // What is left is the one that came back from the timeline: it makes the movie below.
  for (const n of [2, 1]) {
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await expect.poll(async () => (await file()).reels?.length).toBe(n);
  }
  await page.getByRole('button', { name: 'Close' }).click();
  // The list of shots comes back from a table program in another order.
  await page.getByRole('button', { name: 'Set file', exact: true }).click();
  const [list] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Shot list (CSV)' }).click()]);
  const [head, ...rows] = readFileSync(await list.path(), 'utf8')
    .trimEnd()
    .split('\r\n');
  const order = (await file()).shots.map((s) => s.id);
  // What is off makes no frames and stands in no row: it comes last.
  const on = (await file()).shots.filter((s) => !s.off);
  await page
    .getByLabel('Changed CSV')
    .setInputFiles({ name: 'list.csv', mimeType: 'text/csv', buffer: Buffer.from([head, ...rows.reverse()].join('\n')) });
  await expect(page.getByText('The shots are in the order of the list.')).toBeVisible();
  await expect
    .poll(async () => (await file()).shots.map((s) => s.id))
    .toEqual([...on.map((s) => s.id).reverse(), ...order.filter((id) => !on.some((s) => s.id === id))]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await file()).shots.map((s) => s.id)).toEqual(order);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await page.waitForURL(/batch=/);
  const id = Number(new URL(page.url()).searchParams.get('batch'));
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  await page.goto(`${base()}/review?batch=${id}`);
  await page.getByRole('button', { name: 'Reel 2', exact: true }).click();
  await page.getByRole('button', { name: 'Make reel' }).click();
  await expect(page.getByTestId('reel-movie')).toBeVisible({ timeout: 60_000 });
  const duration = await page.getByTestId('reel-movie').evaluate(async (video: HTMLVideoElement) => {
    if (video.readyState < 1) await new Promise((r) => video.addEventListener('loadedmetadata', r, { once: true }));
    return video.duration;
  });
  // 3 frames and 12, of which 1 lies over another, at 24 a second.
  expect(duration).toBeCloseTo(14 / 24, 2);
});
