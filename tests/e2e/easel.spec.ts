/** A render is looked at: its pixels under the loupe, mattes by name, depth by metres, a panorama all round, a crop, a range that plays. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern, choose, fill } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.use({ gl: true });

let project: ProjectReply;
let set: number;
let batch: BatchReply;
const address = (): string => `${server.url}/p/${project.id}/s/${set}/review`;

test.beforeAll(async () => {
  await server.start();
  project = await anotherTern(server, 'Looked at');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      sheet: { ...file.sheet, size: { width: 320, height: 180 }, quality: { samples: 4, denoise: true }, passes: ['beauty', 'depth', 'parts'] },
      views: [
        { id: 'front', name: 'Front', kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 60 },
        { id: 'round', name: 'Round', kind: 'panorama', eye: [0.6, 0.4, 0.6], target: [0, 0.3, 0] },
      ],
      shots: [
        { id: 'stills', name: 'Stills', kind: 'still', views: ['front', 'round'] },
        { id: 'spin', name: 'Spin', kind: 'turntable', view: 'front', frames: 6 },
      ],
      waivers: [],
    },
  });
  batch = await server.send<BatchReply>('POST', `/sets/${set}/batches`, { firstFrames: 0, revision: project.revisions[0]!.id });
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${batch.id}`)).state, { timeout: 120_000 }).toBe('done');
  batch = await server.get<BatchReply>(`/batches/${batch.id}`);
});
test.afterAll(() => server.end());

test('pixels are enlarged by the loupe, mattes tell their names, and depth is shown between metres', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Front' }).click();
  const shown = page.getByTestId('easel-picture');
  await expect(shown).toBeVisible();
  await page.getByTestId('mount').click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('l');
  const box = (await shown.boundingBox())!;
  // The middle of a pixel, so that no rounding decides which.
  await page.mouse.move(box.x + (box.width * 160.5) / 320, box.y + (box.height * 45.5) / 180);
  await expect(page.getByTestId('loupe')).toHaveText('160, 45');
  await page.keyboard.press('l');
  await expect(page.getByTestId('loupe')).toHaveCount(0);
  await choose(page, 'Pass', 'part mattes');
  await expect(shown).toHaveAttribute('src', /pass=parts/);
  await expect(async () => {
    await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.81);
    await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.82);
    await expect(page.getByTestId('matte-name')).toHaveText(/^(.*\/)?Base (plate|ring)$/, { timeout: 500 });
  }).toPass();
  await choose(page, 'Pass', 'depth');
  const darkness = async (): Promise<number> => {
    const reply = await page.request.get(`${server.url}${(await shown.getAttribute('src'))!}`);
    expect(reply.status()).toBe(200);
    return (await sharp(await reply.body()).stats()).channels[0]!.mean;
  };
  await expect(shown).toHaveAttribute('src', /pass=depth&v/);
  await page.getByRole('button', { name: 'Set depth range' }).click();
  await fill(page, 'Near', '1.9');
  await fill(page, 'Far', '2');
  await expect(shown).toHaveAttribute('src', /near=1\.9&far=2&/);
  const narrow = await darkness();
  await fill(page, 'Far', '20');
  await expect(shown).toHaveAttribute('src', /far=20&/);
  // With a far end far away, all of the lamp is near, and white.
  expect(await darkness()).toBeGreaterThan(narrow);
  await page.getByRole('button', { name: 'Whole depth' }).click();
  await expect(shown).toHaveAttribute('src', /pass=depth&v/);
});

test('a panorama is looked around in', { tag: '@long' }, async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Round' }).click();
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Look around' }).click();
  await page.keyboard.press('Escape');
  const around = page.getByTestId('panorama');
  await expect(page.getByTestId('gaze')).toHaveText('0° round · 0° up · 75° wide');
  const pixels = (): Promise<string> => around.locator('canvas').evaluate((c: HTMLCanvasElement) => c.toDataURL());
  await expect.poll(async () => (await pixels()).length).toBeGreaterThan(3000);
  const before = await pixels();
  const box = (await around.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.4, box.y + box.height / 2, { steps: 3 });
  await page.mouse.up();
  // A fifth of 75°.
  await expect(page.getByTestId('gaze')).toHaveText('15° round · 0° up · 75° wide');
  expect(await pixels()).not.toBe(before);
});

test('a crop is drawn in its proportions, typed to the pixel, and saved', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Front' }).click();
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Crop' }).click();
  await page.keyboard.press('Escape');
  await fill(page, 'Proportion', '1:1');
  const sheet = (await page.getByTestId('crop-sheet').boundingBox())!;
  await page.mouse.move(sheet.x + sheet.width * 0.25, sheet.y + sheet.height * 0.25);
  await page.mouse.down();
  await page.mouse.move(sheet.x + sheet.width * 0.5, sheet.y + sheet.height * 0.9, { steps: 3 });
  await page.mouse.up();
  const side = await page.getByLabel('Width', { exact: true }).inputValue();
  await expect(page.getByLabel('Height', { exact: true })).toHaveValue(side);
  expect(Number(side)).toBeGreaterThan(60);
  await fill(page, 'Left', '40');
  await fill(page, 'Top', '30');
  await fill(page, 'Height', '100');
  await expect(page.getByLabel('Width', { exact: true })).toHaveValue('100');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save crop' }).click()]);
  const saved = await sharp(readFileSync(await download.path()))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([saved.info.width, saved.info.height]).toEqual([100, 100]);
  const frame = (await server.get<FrameReply[]>(`/batches/${batch.id}/frames`)).find((f) => f.view === 'front' && f.shot === 'stills')!;
  const whole = sharp(`${batch.folder}/${frame.files[0]!}`).removeAlpha().extract({ left: 40, top: 30, width: 100, height: 100 });
  expect(saved.data.equals(await whole.raw().toBuffer())).toBe(true);
});

test('a range plays, neighbours shine through, and a note stands on the timeline', { tag: '@long' }, async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Spin' }).click();
  const time = page.getByTestId('rule-time');
  await expect(time).toContainText('0001');
  await page.getByTestId('mount').click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('i');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('o');
  await expect(page.getByTestId('play-range')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await expect(time).toContainText('0005');
  // Outside of the range it begins at its start.
  const seen = new Set<string>();
  await page.keyboard.press('Space');
  const look = async (): Promise<string[]> => {
    seen.add((await time.textContent())!.slice(0, 4));
    return [...seen].filter((n) => n !== '0005').sort();
  };
  await expect.poll(look, { intervals: [25] }).toEqual(['0002', '0003', '0004']);
  // A round later there is still no other.
  for (let i = 0; i < 20; i++) await look();
  await page.keyboard.press('Space');
  expect(await look()).toEqual(['0002', '0003', '0004']);
  await page.keyboard.press('u');
  await expect(page.getByTestId('play-range')).toHaveCount(0);
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Neighbouring frames' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('neighbour')).toHaveCount(2);
  const frame = (await server.get<FrameReply[]>(`/batches/${batch.id}/frames`)).find((f) => f.shot === 'spin' && f.number === 3)!;
  await server.send('POST', `/batches/${batch.id}/frames/${frame.id}/notes`, {
    shape: { kind: 'pin', points: [[0.5, 0.5]] },
    text: 'Too fast here',
    author: 'Ana',
    to: 5,
  });
  await expect(page.getByTestId('timeline-mark')).toHaveAttribute('title', 'Too fast here');
});

test('a render is compared with an image of this machine', { tag: '@long' }, async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Front' }).click();
  const url = await page.getByTestId('easel-picture').getAttribute('src');
  const own = Buffer.from(await (await page.request.get(`${server.url}${url!}`)).body());
  // The same render with a black square in it.
  const square = await sharp({ create: { width: 32, height: 18, channels: 3, background: '#000000' } })
    .png()
    .toBuffer();
  const changed = await sharp(own)
    .composite([{ input: square, left: 40, top: 20 }])
    .png()
    .toBuffer();
  await page.getByLabel('Image file').setInputFiles({ name: 'by-hand.png', mimeType: 'image/png', buffer: changed });
  await expect(page.getByText('2 by-hand.png')).toBeVisible();
  await page.getByRole('button', { name: 'Difference', exact: true }).click();
  await expect(page.getByTestId('area')).toHaveText('1 area', { timeout: 30_000 });
  // 32 × 18 of 320 × 180 is 1 %; the mean over 3 × 3 pixels reaches one further.
  await expect(page.getByTestId('difference')).toHaveText(/^changed 1\.[0-3] % /);
  await page.getByRole('button', { name: 'Remove 2' }).click();
  await expect(page.getByTestId('difference')).toHaveCount(0);
});

test('passes are gone through by key, and the render is zoomed to its pixels', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Front' }).click();
  const shown = page.getByTestId('easel-picture');
  await expect(shown).toHaveAttribute('src', /\/picture\?/);
  await page.getByTestId('mount').click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('p');
  await expect(shown).toHaveAttribute('src', /shown\.png\?pass=depth/);
  await expect.poll(() => shown.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(320);
  await page.keyboard.press('p');
  await expect(shown).toHaveAttribute('src', /pass=parts/);
  await page.keyboard.press('p');
  await expect(shown).toHaveAttribute('src', /\/picture\?/);
  // About the pointer: what lies under it stays there.
  const box = (await shown.boundingBox())!;
  const [x, y] = [box.x + box.width * 0.25, box.y + box.height * 0.75];
  await page.mouse.move(x, y);
  for (let i = 0; i < 3; i++) await page.mouse.wheel(0, -400);
  await expect.poll(async () => (await shown.boundingBox())!.width).toBeGreaterThan(box.width * 2);
  const now = (await shown.boundingBox())!;
  expect((x - now.x) / now.width).toBeCloseTo(0.25, 1);
  expect((y - now.y) / now.height).toBeCloseTo(0.75, 1);
  await page.keyboard.press('f');
  await expect.poll(async () => (await shown.boundingBox())!.width).toBeCloseTo(box.width, 0);
});
