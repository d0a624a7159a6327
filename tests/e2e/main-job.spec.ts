import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply } from '../../src/contract/contract.js';
import { blockObj, ternGlb } from '../support/box.js';
import { TestServer } from '../support/server.js';
import { keepSheetOpen } from '../support/page.js';

test.use({ gl: true });

const server = new TestServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

/** Every file below a folder, with a hash of its bytes. */
function filesBelow(folder: string): Map<string, string> {
  const names = readdirSync(folder, { recursive: true })
    .map(String)
    .filter((f) => statSync(path.join(folder, f)).isFile());
  return new Map(
    names.sort().map((f) => [
      f,
      createHash('sha256')
        .update(readFileSync(path.join(folder, f)))
        .digest('hex'),
    ]),
  );
}

async function until<T>(what: () => Promise<T | false>, seconds = 120): Promise<T> {
  for (let i = 0; i < seconds * 10; i++) {
    const value = await what();
    if (value !== false) return value;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('waited too long');
}

test('a model goes in; stills, a turntable and a movie come out, through a crash', async ({ page }) => {
  // 1, 2: a project, and a model with it.
  await page.goto(server.url);
  await expect(page.getByText('No project yet.')).toBeVisible();
  await page.getByLabel('New project').fill('Tern lamp');
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByText('Drop a model here')).toBeVisible();
  // Dropped, as from a file manager.
  const dropped = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0))], 'tern.glb'));
      return transfer;
    },
    (await ternGlb()).toString('base64'),
  );
  await page.getByTestId('drop').dispatchEvent('drop', { dataTransfer: dropped });
  await expect(page.getByText('31 parts · 22,736 triangles · 0.552 × 0.441 × 0.300 m')).toBeVisible();
  await expect(page.getByRole('switch', { name: 'Reach envelope: render' })).not.toBeChecked();
  await expect(page.getByRole('switch', { name: 'Base plate: render' })).toBeChecked();
  await page.getByLabel('Search parts').fill('shade');
  await expect(page.getByLabel('Parts').getByRole('treeitem')).toHaveCount(1);

  // 3: orbit, keep a view, set it by numbers.
  await page.getByRole('button', { name: 'Set views' }).click();
  const viewport = page.getByTestId('viewport');
  await expect(viewport.locator('canvas')).toBeVisible();
  const eyeX = page.getByLabel('Eye x');
  const before = await eyeX.inputValue();
  const box = (await viewport.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 120, box.y + box.height / 2 - 20, { steps: 5 });
  await page.mouse.up();
  expect(await eyeX.inputValue()).not.toBe(before);
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await page.getByLabel('Name').fill('Three-quarter');
  await page.getByLabel('Name').press('Enter');
  await page.getByLabel('Focal length').fill('35*2');
  await page.getByLabel('Focal length').press('Enter');
  await expect(page.getByLabel('Field of view')).toHaveValue('28.8');
  await page.getByLabel('Eye y').fill('40 cm');
  await page.getByLabel('Eye y').press('Enter');
  await expect(page.getByLabel('Eye y')).toHaveValue('0.4');
  await page.getByLabel('Eye y').fill('4 apples');
  await page.getByLabel('Eye y').press('Enter');
  await expect(page.getByText('"apples" is not a unit here')).toBeVisible();
  await page.getByLabel('Eye y').press('Escape');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  // The frame over the viewport has the aspect of the output.
  const frame = (await page.getByTestId('output-frame').boundingBox())!;
  expect(frame.width / frame.height).toBeCloseTo(16 / 9, 1);

  // 4: the format sheet.
  await page.keyboard.press('4');
  await page.getByLabel('Width', { exact: true }).fill('32*2');
  await page.getByLabel('Width', { exact: true }).press('Enter');
  await expect(page.getByLabel('Height', { exact: true })).toHaveValue('36');
  await page.getByLabel('Quality', { exact: true }).click();
  await page.getByRole('option', { name: /draft/ }).click();
  await page.getByLabel('File names (moving)').fill('{shot}');
  await page.getByLabel('File names (moving)').press('Enter');
  await expect(page.getByText('A moving shot needs {frame}')).toBeVisible();
  await page.getByLabel('File names (moving)').fill('{shot}/{shot}_{pass}.{frame:4}');
  await page.getByLabel('File names (moving)').press('Enter');

  // 5: a still and a turntable.
  await page.getByRole('button', { name: 'Add still' }).click();
  await page.getByRole('button', { name: 'Turntable', exact: true }).click();
  await page.getByLabel('Frames', { exact: true }).fill('24');
  await page.getByLabel('Frames', { exact: true }).press('Enter');
  await expect(page.getByText('15° per frame').first()).toBeVisible();
  await expect(page.getByText('2 shots · 25 frames · 1 s moving')).toBeVisible();
  // Small frames are drawn by the kernel.
  await until(
    async () =>
      (await page.locator('table img').evaluateAll((list) => list.length > 3 && list.every((i) => (i as HTMLImageElement).naturalWidth > 0))) ||
      false,
    60,
  );

  // 6: the batch, with a pause, and a power cut in the middle.
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('heading', { name: 'Batch 1' })).toBeVisible();
  await expect(page.getByTestId('batch-line')).toContainText('/ 25 frames');
  await until(async () => (await page.locator('[data-state=done]').count()) >= 3 && true);
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect(page.getByRole('button', { name: 'Resume' })).toBeVisible();
  await page.getByRole('button', { name: 'Resume' }).click();
  // Who cuts the power before the server has heard of it finds a batch that is paused.
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await until(async () => (await page.locator('[data-state=done]').count()) >= 8 && true);
  await server.kill();
  const [batchFolder] = readdirSync(path.join(server.data, 'pictures'));
  const folder = path.join(server.data, 'pictures', batchFolder!);
  const kept = filesBelow(folder);
  await server.start();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 120_000 });
  const frames = await server.get<FrameReply[]>('/batches/1/frames');
  expect(frames.map((f) => f.state)).toEqual(Array.from({ length: 25 }, () => 'done'));
  const whole = filesBelow(folder);
  // None lost, doubled or torn; what was whole before is the same still.
  expect([...whole.keys()]).toEqual(frames.flatMap((f) => f.files).sort());
  for (const [name, hash] of kept) if (!name.endsWith('.part')) expect(whole.get(name)).toBe(hash);

  // A second batch has a folder of its own. Reused frames would be there before it can be stopped.
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Start options' }).click();
  await page.getByLabel('Render everything again').check();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('heading', { name: 'Batch 2' })).toBeVisible();
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByTestId('figures')).toContainText('stopped');
  expect(filesBelow(folder)).toEqual(whole);

  // 7: look, play, assemble, download.
  // By address: the wall shows the newest, and the second batch may have finished a frame before it was stopped.
  await page.goto(page.url().replace(/batch\?.*/, 'review?batch=1&shot=turntable'));
  await expect(page.getByRole('gridcell', { name: /Turntable/ }).first()).toBeVisible();
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  const time = page.getByTestId('rule-time');
  await expect(time).toContainText('0001');
  // Keys are heard once the shot's pictures are listed.
  await expect(page.getByRole('button', { name: 'Play' })).toBeEnabled();
  await page.keyboard.press('ArrowRight');
  await expect(time).toContainText('0002 00:00:00:01');
  await page.getByRole('button', { name: 'Play' }).click();
  await expect(time).not.toContainText('0002');
  await page.getByRole('button', { name: 'Pause' }).click();
  await page.getByRole('button', { name: 'Make movie' }).click();
  await expect(page.locator('video')).toBeVisible({ timeout: 60_000 });
  await until(
    async () =>
      (await page
        .locator('video')
        .evaluate((v) => (v as HTMLVideoElement).readyState >= 1 && Math.abs((v as HTMLVideoElement).duration - 1) < 0.01)) || false,
    20,
  );
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download movie' }).click()]);
  expect(download.suggestedFilename()).toBe('Turntable_beauty.mp4');
  await page.getByRole('button', { name: 'Files' }).click();
  const [zip] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /as ZIP/ }).click()]);
  execFileSync('python3', ['-m', 'zipfile', '-t', await zip.path()]);
  expect(readdirSync(path.join(folder, 'Turntable')).filter((f) => f.endsWith('.png'))).toHaveLength(24);

  // 8: exported and rendered by the command line, the same pixels.
  const out = mkdtempSync(path.join(tmpdir(), 'easel-out-'));
  const [project] = await server.get<ProjectReply[]>('/projects');
  writeFileSync(path.join(out, 'set.json'), await (await fetch(`${server.url}/api/sets/${project!.sets[0]!.id}/export`)).text());
  writeFileSync(path.join(out, 'tern.glb'), await ternGlb());
  const result = execFileSync(
    'node',
    [
      'bin/easel.mjs',
      'render',
      path.join(out, 'set.json'),
      '--model',
      path.join(out, 'tern.glb'),
      '--out',
      path.join(out, 'pictures'),
      '--shot',
      'turntable',
      '--select',
      '1, 13, last',
      '--json',
    ],
    { stdio: ['ignore', 'pipe', 'ignore'] },
  );
  const rendered = JSON.parse(result.toString()) as { frames: { number: number; file: string }[] };
  expect(rendered.frames.map((f) => f.number)).toEqual([1, 13, 24]);
  for (const f of rendered.frames)
    expect(readFileSync(f.file).equals(readFileSync(path.join(folder, path.relative(path.join(out, 'pictures'), f.file))))).toBe(true);
});

test('an OBJ in millimetres with Z up comes in at its size', async ({ page }) => {
  await page.goto(server.url);
  await page.getByLabel('New project').fill('Block');
  await page.getByRole('button', { name: 'Create' }).click();
  const { obj, mtl } = blockObj();
  await page.getByLabel('Model files').setInputFiles([
    { name: 'block.obj', mimeType: 'text/plain', buffer: Buffer.from(obj) },
    { name: 'block.mtl', mimeType: 'text/plain', buffer: Buffer.from(mtl) },
  ]);
  await page.getByLabel('Unit').click();
  await page.getByRole('option', { name: 'mm' }).click();
  await page.getByLabel('Up axis').click();
  await page.getByRole('option', { name: '+Z is up' }).click();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByText('2 parts · 24 triangles · 0.400 × 0.200 × 0.300 m')).toBeVisible();
  await expect(page.getByRole('tree', { name: 'Parts' })).toContainText('red');
});

test('a file that is no model gets a clear sentence and leaves nothing', async ({ page }) => {
  await page.goto(server.url);
  await page.getByLabel('New project').fill('Broken');
  await page.getByRole('button', { name: 'Create' }).click();
  await page
    .getByLabel('Model files')
    .setInputFiles({ name: 'chair.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 0]) });
  await expect(page.getByRole('alert')).toContainText('"chair.glb" is a PNG image, not a GLB model');
  const project = (await server.get<ProjectReply[]>('/projects')).at(-1)!;
  expect(project.revisions).toEqual([]);
  expect(readdirSync(path.join(server.data, 'uploads'))).toEqual([]);
  expect(await server.get<BatchReply[]>(`/batches?project=${project.id}`)).toEqual([]);
});
