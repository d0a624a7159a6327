/** A grade is found on a render, and given to a view, a shot and the set. */
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { Grade } from '../../src/core/image/grade.js';
import type { Shot } from '../../src/core/shots/kinds.js';
import { expect, test } from '../support/browserTest.js';
import { anotherTern, changeSet, choose, fill } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;
/** The batch whose renders are graded. */
let first: number;

test.beforeAll(async () => {
  await server.start();
  project = await anotherTern(server, 'Graded');
  set = project.sets[0]!.id;
  const view = { kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 60 };
  await changeSet(server, set, (file) => ({
    ...file,
    sheet: {
      ...file.sheet,
      size: { width: 192, height: 108 },
      quality: { samples: 8, denoise: true },
      passes: ['beauty', 'depth'],
      lines: { width: 0.6 },
    },
    views: [
      { id: 'front', name: 'Front', ...view },
      { id: 'side', name: 'Side', ...view, eye: [-1.4, 0.5, 1.1] },
    ],
    shots: [{ id: 'stills', name: 'Stills', kind: 'still', views: ['front', 'side'] }],
  }));
  first = (await server.send<BatchReply>('POST', `/sets/${set}/batches`, { firstFrames: 0, revision: project.revisions[0]!.id })).id;
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${first}`)).state, { timeout: 120_000 }).toBe('done');
});
test.afterAll(() => server.end());

test('a grade is tried on a render, applied to the set, and written again with the pixels that were seen', async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${set}/review`);
  await page.getByRole('gridcell', { name: 'Stills, Side' }).first().click();
  await page.getByRole('button', { name: 'Grade', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Grade' });
  const graded = page.getByTestId('graded');
  await expect(graded).toBeVisible();
  await fill(page, 'Exposure (EV)', '1.25');
  const pixels = (): Promise<number[]> =>
    graded.evaluate((c: HTMLCanvasElement) => Array.from(c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data).filter((_, i) => i % 4 < 3));
  const mean = (list: ArrayLike<number>): number => Array.from(list).reduce((a, b) => a + b, 0) / list.length;
  const written = async (id: number): Promise<Buffer> => {
    const batch = await server.get<BatchReply>(`/batches/${id}`);
    const frame = (await server.get<FrameReply[]>(`/batches/${id}/frames`)).find((f) => f.view === 'side')!;
    return sharp(`${batch.folder}/${frame.files.find((name) => !name.includes('depth'))!}`)
      .removeAlpha()
      .raw()
      .toBuffer();
  };
  await expect.poll(async () => mean(await pixels())).toBeGreaterThan(mean(await written(first)) + 10);
  await panel.getByRole('button', { name: 'Show before' }).click();
  await expect(graded).toHaveCount(0);
  await panel.getByRole('button', { name: 'Show after' }).click();
  const neutral = JSON.stringify(await pixels());
  // A table of colours comes in, does what it says, and goes again.
  const negative = [1, 0].flatMap((b) => [1, 0].flatMap((g) => [1, 0].map((r) => `${r} ${g} ${b}`)));
  const cube = Buffer.from(`TITLE "Negative"\nLUT_3D_SIZE 2\n${negative.join('\n')}\n`);
  const positive = await pixels();
  await panel.getByLabel('Import .cube …').setInputFiles({ name: 'negative.cube', mimeType: 'text/plain', buffer: cube });
  await expect(panel.getByText('Negative')).toBeVisible();
  await expect.poll(async () => mean(await pixels())).toBeLessThan(255 - mean(positive) + 2);
  expect((await pixels()).reduce((most, v, i) => Math.max(most, Math.abs(255 - v - positive[i]!)), 0)).toBeLessThanOrEqual(1);
  await panel.getByRole('button', { name: 'Remove table' }).click();
  await expect.poll(async () => mean(await pixels())).toBeCloseTo(mean(positive), 5);
  await expect(panel.getByTestId('clipped')).toHaveText(/^black \d+\.\d+ % · white \d+\.\d+ %$/);
  await fill(page, 'Contrast', '1.2');
  await page.getByLabel('White balance').fill('5600');
  const apply = panel.getByRole('button', { name: 'Apply', exact: true });
  const stills = async () => (await server.get<SetReply>(`/sets/${set}`)).file.shots[0]! as Shot & { viewGrades?: Record<string, Grade> };
  await apply.click();
  await expect.poll(async () => (await server.get<SetReply>(`/sets/${set}`)).file.grade.whiteBalance).toBe(5600);
  await expect.poll(async () => JSON.stringify(await pixels()) === neutral).toBe(false);
  expect((await server.get<SetReply>(`/sets/${set}`)).file.grade.exposure).toBe(1.25);
  await fill(page, 'Saturation', '0');
  await choose(page, 'Grade of', 'This shot');
  await apply.click();
  await expect.poll(async () => (await stills()).grade?.saturation).toBe(0);
  expect((await server.get<SetReply>(`/sets/${set}`)).file.grade).toMatchObject({ contrast: 1.2 });
  await panel.getByRole('button', { name: 'Remove separate grade' }).click();
  await expect.poll(async () => (await stills()).grade).toBeUndefined();
  // This view alone: its lines are drawn bolder, and its noise is shown as it was rendered.
  await fill(page, 'Line width', '6');
  const lined = await pixels();
  await panel.getByLabel('Denoise').uncheck();
  await expect.poll(async () => (await graded.count()) > 0 && JSON.stringify(await pixels()) !== JSON.stringify(lined)).toBe(true);
  await choose(page, 'Grade of', 'This view');
  await apply.click();
  await expect.poll(async () => (await stills()).viewGrades?.side).toMatchObject({ lines: { width: 6 }, denoise: false, exposure: 1.25 });
  await expect(panel).toContainText('This is a separate grade of this view.');
  const seen = await pixels();
  await panel.getByRole('button', { name: 'Write files again' }).click();
  await page.waitForURL(/batch\?batch=/);
  const id = Number(new URL(page.url()).searchParams.get('batch'));
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  expect(await server.get<BatchReply>(`/batches/${id}`)).toMatchObject({ total: 2, developed: 2, takenOver: 0 });
  const png = await written(id);
  expect(png.length).toBe(seen.length);
  expect(png.reduce((most, v, i) => Math.max(most, Math.abs(v - seen[i]!)), 0)).toBeLessThanOrEqual(1);
});
