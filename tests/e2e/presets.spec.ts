/** One plan made many of: choices of a still, sizes, overrides, deliveries, presets; stages, frames and parts of a view. */
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { LAMP_SHOTS } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { modelBounds } from '../../src/core/model/model.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parsePresetFile } from '../../src/core/edit/presets.js';
import { parseSet } from '../../src/core/plan/set.js';
import { exportPlanGlb } from '../../src/engine/output/planGlb.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { angleOfView } from '../../src/core/camera/view.js';
import { choose, fill, ternProject, keepSheetOpen } from '../support/page.js';
import { TestServer } from '../support/server.js';

test.use({ gl: true });

const server = new TestServer(4924);
let project: ProjectReply;

test.describe.configure({ mode: 'serial' });
test.beforeAll(async () => {
  project = await ternProject(server, 'Many plans');
});
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const home = (): string => `${server.url}/p/${project.id}/s`;
const base = (): string => `${home()}/${project.sets[0]!.id}`;
const fileOf = async (set: number): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${set}`)).file;
const file = (): Promise<SetReply['file']> => fileOf(project.sets[0]!.id);

test('a set is made by a template, to measure, and every shot of it in three sizes', async ({ page }) => {
  await page.goto(`${base()}/views`);
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await expect.poll(async () => (await file()).views.length).toBe(1);
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'New set' }).click();
  await expect(page.getByRole('dialog').getByRole('img', { includeHidden: true }).first()).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: /Turntable in three sizes/ }).click();
  await expect(page.getByRole('row', { name: /Turntable/ })).toContainText('72');
  await expect(page.getByText('216 frames')).toBeVisible();
});

test('a still is a grid of views, variants and sizes, and says how many pictures that is', async ({ page }) => {
  const set = await file();
  const variants = [
    { id: 'a', name: 'Plain', swaps: [] },
    { id: 'b', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] },
  ];
  const small = { ...set.sheet, size: { width: 96, height: 54 }, quality: { samples: 2 } };
  const { version } = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
  await server.send('PUT', `/sets/${project.sets[0]!.id}`, { version, file: { ...set, sheet: small, materials: { variants } } });
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Add still' }).click();
  await page.getByLabel('Plain', { exact: true }).click();
  await page.getByLabel('Black', { exact: true }).click();
  await page.getByTitle('Named sizes, half and double, paper sizes.').click();
  await fill(page, 'Add size', '64x64');
  await choose(page, 'Framing of 64x64', 'Same height');
  await page.keyboard.press('Escape');
  await expect(page.getByText('1 view × 2 variants × 2 sizes = 4 renders')).toBeVisible();
  await expect.poll(async () => (await file()).sheet.sizes).toEqual([{ id: '64x64', width: 64, height: 64, framing: 'keepHeight' }]);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await page.waitForURL(/batch=/);
  const id = Number(new URL(page.url()).searchParams.get('batch'));
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
  expect(frames.map((f) => f.name.split('/').at(-1))).toEqual([
    'View_a_96x54_beauty',
    'View_b_96x54_beauty',
    'View_a_64x64_beauty',
    'View_b_64x64_beauty',
  ]);
  const square = await sharp(
    Buffer.from(await (await fetch(`${server.url}/api/batches/${id}/frames/${frames[3]!.id}/picture`)).arrayBuffer()),
  ).metadata();
  expect([square.width, square.height]).toEqual([64, 64]);
});

test('a deviation is counted and taken back in one click; a delivery is recorded and checked; a sheet is kept', async ({ page }) => {
  await page.goto(`${base()}/shots`);
  const other = page.getByRole('region', { name: 'Overrides' });
  await other.getByLabel('Quality').click();
  await page.getByRole('option', { name: 'draft', exact: true }).click();
  await expect(page.getByRole('row', { name: /Still/ })).toContainText('± 1');
  await page.getByRole('button', { name: 'Clear all 1' }).click();
  await expect.poll(async () => (await file()).shots[0]!.overrides).toBeUndefined();

  await page.getByRole('button', { name: 'Client delivery: not set' }).click();
  await page.getByLabel('Check client delivery').click();
  await fill(page, 'Client', 'Harbour board');
  await fill(page, 'Sizes', '96x54');
  await fill(page, 'File names', 'NFL_*');
  const said = page.getByRole('list', { name: 'Not met' });
  await expect(said).toContainText('Still is 64 × 64, which is not accepted. Use 96 × 54.');
  await expect(said).toContainText('File names must match NFL_*.');
  await fill(page, 'File names', '');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: '1 do not meet Harbour board' })).toBeVisible();
  await expect.poll(async () => (await file()).delivery?.sizes).toEqual([{ width: 96, height: 54 }]);

  // Saved as a preset, exported, forgotten, brought back, and taken by a new project.
  await page.getByText('Saved format sheets:').getByRole('button', { name: 'Manage' }).click();
  await fill(page, 'Save format sheet as', 'Thumbnails');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'New projects use Thumbnails' }).click();
  await expect(page.getByRole('button', { name: 'New projects use Thumbnails' })).toHaveAttribute('aria-pressed', 'true');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export Thumbnails' }).click();
  const kept = parsePresetFile(JSON.parse(readFileSync(await (await download).path(), 'utf8')));
  expect(kept).toMatchObject({ kind: 'sheet', name: 'Thumbnails', body: { size: { width: 96, height: 54 } } });
  const begun = await server.send<ProjectReply>('POST', '/projects', { name: 'Begun' });
  expect((await fileOf(begun.sets[0]!.id)).sheet.size).toEqual({ width: 96, height: 54 });
  await page.getByRole('button', { name: 'Delete Thumbnails' }).click();
  await expect(page.getByText('None saved yet.')).toBeVisible();
  const brought = path.join(tmpdir(), 'thumbnails.preset.json');
  writeFileSync(brought, JSON.stringify({ format: 'cold-easel.recipe', version: 1, ...kept }));
  await page.getByLabel('Preset file: format sheet').setInputFiles(brought);
  await expect(page.getByRole('button', { name: 'Thumbnails', exact: true })).toBeVisible();
});

test('a quality of one’s own is made value by value, kept, and taken up again', async ({ page }) => {
  await page.goto(`${base()}/shots`);
  await page.locator('summary', { hasText: 'Quality' }).click();
  await fill(page, 'Samples', '5');
  await fill(page, 'Noise threshold', '0.02');
  await page.getByLabel('Caustics', { exact: true }).click();
  const own = { samples: 5, noise: 0.02, caustics: true, denoise: true };
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
  await expect(page.getByText(/5 samples · 6 bounces, refraction 12 · denoised · stops at noise 0.02/)).toBeVisible();
  // What cannot be is said, and nothing is changed.
  await fill(page, 'Samples', '0');
  await expect(page.getByText(/at least 1/i).first()).toBeVisible();
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
  await fill(page, 'Samples', '5');
  await page.getByText('Saved qualities:').getByRole('button', { name: 'Manage' }).click();
  await fill(page, 'Save quality as', 'Overnight');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Overnight', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await choose(page, 'Quality', 'quick, 4 samples');
  await expect.poll(async () => (await file()).sheet.quality).toBe('quick');
  await expect(page.getByText('Quick renders are shaded, not traced')).toBeVisible();
  await page.getByText('Saved qualities:').getByRole('button', { name: 'Manage' }).click();
  await page.getByRole('button', { name: 'Overnight', exact: true }).click();
  await expect.poll(async () => (await file()).sheet.quality).toMatchObject(own);
});

test('shots are dragged, marked together, grouped and found', async ({ page }) => {
  await page.goto(`${base()}/shots`);
  for (const kind of ['Turntable', 'Walkthrough']) await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: kind }).click();
  await expect.poll(async () => (await file()).shots.map((s) => s.kind)).toEqual(['still', 'turntable', 'walkthrough']);
  await page.getByRole('button', { name: 'Drag Walkthrough' }).focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect.poll(async () => (await file()).shots.map((s) => s.kind)).toEqual(['still', 'walkthrough', 'turntable']);
  await page.getByRole('row', { name: /Still/ }).getByText('still', { exact: true }).click();
  // The selection goes through the address: it is there before the next click counts from it.
  await expect(page.getByLabel('Shot name')).toHaveValue('Still');
  await page
    .getByRole('row', { name: /Turntable/ })
    .getByText('turntable', { exact: true })
    .click({ modifiers: ['Shift'] });
  const together = page.getByRole('toolbar', { name: 'Selected shots' });
  await expect(together).toContainText('3 shots selected');
  await together.getByLabel('Group').fill('Board');
  await together.getByLabel('Group').press('Enter');
  await expect.poll(async () => (await file()).shots.map((s) => s.group)).toEqual(['Board', 'Board', 'Board']);
  await together.getByRole('button', { name: 'Switch off' }).click();
  await expect.poll(async () => (await file()).shots.every((s) => s.off)).toBe(true);
  await together.getByRole('button', { name: 'Switch on' }).click();
  await together.getByRole('button', { name: 'Done' }).click();
  await page.getByLabel('Find shots').fill('walk');
  await expect(page.getByTestId('register').getByRole('row', { name: /Drag/ })).toHaveCount(1);
});

test('a further stage with a picture behind, a lamp moved by its handle, and a shot that names it', async ({ page }) => {
  await page.goto(`${base()}/stage`);
  await page.getByRole('button', { name: 'Duplicate stage' }).click();
  await fill(page, 'Stage name', 'Dusk');
  await page.getByRole('radio', { name: 'dark sweep' }).click();
  const room = path.join(tmpdir(), 'room.png');
  await sharp({ create: { width: 40, height: 30, channels: 3, background: '#c04020' } })
    .png()
    .toFile(room);
  await page.getByLabel('Backdrop image').setInputFiles(room);
  await expect(page.getByAltText('Backdrop image')).toBeVisible();
  await choose(page, 'Ground', 'Plane');
  await choose(page, 'Ground material', 'granite');
  await page.getByRole('button', { name: 'Add light' }).click();
  await fill(page, 'Position x', '0.2');
  await fill(page, 'Position y', '0.5');
  await fill(page, 'Position z', '0.1');
  await choose(page, 'Intensity unit', 'watts');
  await fill(page, 'Intensity', '10');
  await expect.poll(async () => (await file()).stages?.[0]?.stage.lights?.[0]?.lumens).toBe(1790);
  const handle = page.getByRole('button', { name: 'Light Light' });
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 - 60, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await file()).stages![0]!.stage.lights![0]!.at[1]).toBeGreaterThan(0.52);
  const stages = (await file()).stages!;
  expect(stages[0]).toMatchObject({ name: 'Dusk', stage: { preset: 'dark sweep', ground: { material: 'granite' } } });
  // The set's own stage is as it was.
  expect((await file()).stage.preset).toBe('bright sweep');

  await page.goto(`${base()}/shots?shot=still`);
  const other = page.getByRole('region', { name: 'Overrides' });
  await other.getByLabel('Stage').click();
  await page.getByRole('option', { name: 'Dusk' }).click();
  await expect.poll(async () => (await file()).shots[0]!.stage).toBe(stages[0]!.id);
  await page.goto(`${base()}/stage?stage=${stages[0]!.id}`);
  await page.getByRole('button', { name: 'Delete Dusk' }).click();
  await expect(page.getByText(/The stage is used by the shot/)).toBeVisible();
});

test('the frame is dragged narrower at the same scale, guides are drawn, a part is left out, the focus is picked', async ({ page }) => {
  await page.goto(`${base()}/views`);
  await expect(page.getByTestId('output-frame')).toBeVisible();
  await expect.poll(async () => page.getByTestId('viewport').locator('canvas').count()).toBe(1);
  const before = await file();
  await page.getByRole('button', { name: 'Frame', exact: true }).click();
  await page.getByLabel('Safe margins').click();
  await choose(page, 'Frame of set', 'Turntable in three sizes');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('other-frame')).toContainText('1920 × 1080');
  const edge = (await page.getByTestId('edge-right').boundingBox())!;
  await page.mouse.move(edge.x + edge.width / 2, edge.y + 40);
  await page.mouse.down();
  await page.mouse.move(edge.x + edge.width / 2 - 90, edge.y + 40, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await file()).sheet.size.width).toBeLessThan(before.sheet.size.width - 10);
  const after = await file();
  expect(after.sheet.size.height).toBe(before.sheet.size.height);
  // As many pixels to a degree in the middle: the tangent of half the angle goes with the long side.
  const scale = (f: typeof before): number =>
    Math.max(f.sheet.size.width, f.sheet.size.height) / Math.tan((angleOfView(f.views[0]!.focalLength) * Math.PI) / 360);
  expect(scale(after) / scale(before)).toBeCloseTo(1, 6);

  await page.getByLabel('Depth of field').click();
  await page.getByRole('button', { name: 'Pick focus' }).click();
  const frame = (await page.getByTestId('output-frame').boundingBox())!;
  // The foot of the lamp fills the lower middle; some point of it is met.
  for (const down of [0.8, 0.75, 0.7, 0.85]) {
    if ((await file()).views[0]!.focus !== undefined) break;
    await page.mouse.click(frame.x + frame.width * 0.45, frame.y + frame.height * down);
    await page.waitForTimeout(700);
  }
  const { eye, focus } = (await file()).views[0]!;
  expect(focus!).toBeGreaterThan(0.3 * Math.hypot(...eye));
  expect(focus!).toBeLessThan(1.5 * Math.hypot(...eye));
  await fill(page, 'Near clipping', '0.2');
  await expect.poll(async () => (await file()).views[0]!.nearClipping).toBe(0.2);
  await page.getByRole('button', { name: 'Fit full turn' }).click();
  await expect.poll(async () => Math.hypot(...(await file()).views[0]!.eye)).not.toBe(Math.hypot(...eye));
});

test('shots are joined to a reel, which a batch’s pictures make', async ({ page }) => {
  const set = project.sets[0]!.id;
  const { version, file: before } = await server.get<SetReply>(`/sets/${set}`);
  const shots = before.shots.map((s) =>
    s.kind === 'turntable' ? { ...s, frames: 6 } : s.kind === 'walkthrough' ? { ...s, off: true } : { ...s, stage: undefined },
  );
  const sheet = { ...before.sheet, size: { width: 96, height: 54 }, sizes: undefined, quality: { samples: 2 } };
  await server.send('PUT', `/sets/${set}`, { version, file: { ...before, shots, sheet, delivery: undefined } });
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Reels' }).click();
  await page.getByRole('button', { name: 'New reel' }).click();
  await page.getByRole('button', { name: 'Add clip' }).click();
  await fill(page, 'Duration', '0.25');
  await fill(page, 'Fade in', '2', 1);
  // 6 frames, and two pictures of 6 frames each, of which 2 lie over the turntable's end.
  await expect(page.getByTestId('reel-length')).toContainText('16 frames · 00:00:00:16');
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

test('a key is changed, and the old one does nothing any more', async ({ page }) => {
  await page.goto(`${base()}/views`);
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Search commands').fill('Change shortcuts');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Shortcut of Fit view' }).click();
  await page.keyboard.press('4');
  await expect(page.getByRole('alert').filter({ hasText: '4 is already the shortcut of "Go to Shots".' })).toBeVisible();
  await page.keyboard.press('g');
  await expect(page.getByRole('button', { name: 'Shortcut of Fit view' })).toHaveText('G');
  await page.getByRole('button', { name: 'Close' }).click();
  await fill(page, 'Eye y', '3.5');
  await expect.poll(async () => (await file()).views[0]!.eye[1]).toBe(3.5);
  await page.getByRole('heading', { name: 'Views' }).click();
  await page.keyboard.press('f');
  await page.waitForTimeout(500);
  expect((await file()).views[0]!.eye[1]).toBe(3.5);
  await page.keyboard.press('g');
  await expect.poll(async () => (await file()).views[0]!.eye[1]).toBeLessThan(3.4);
});

test('a walk takes its path from a glTF with a camera that moves', async ({ page }) => {
  const model = tern();
  const orbit = parseSet({
    ...LAMP_SHOTS,
    views: LAMP_SHOTS.views.slice(0, 1),
    shots: [{ id: 'orbit', kind: 'turntable', view: LAMP_SHOTS.views[0]!.id, frames: 5, degrees: 180, turns: ['camera'] }],
  });
  const frames = planFrames(orbit, { bounds: modelBounds(model), scene: 'tern' });
  const bytes = await exportPlanGlb(orbit, await writeGlb(model), frames, () => Promise.reject(new Error('no pictures')));
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Walkthrough', exact: true }).first().click();
  await expect(page.getByRole('button', { name: 'Import path' })).toBeVisible();
  const give = (name: string, buffer: Buffer) => page.getByLabel('Path file').setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await give('orbit.glb', Buffer.from(bytes));
  const stations = async () => {
    const shot = (await file()).shots.findLast((s) => s.kind === 'walkthrough');
    return shot?.kind === 'walkthrough' ? shot.stations : [];
  };
  await expect.poll(async () => (await stations()).length).toBe(frames.length);
  (await stations()).forEach((s, i) => s.eye!.forEach((c, k) => expect(c).toBeCloseTo(frames[i]!.camera.eye[k]!, 4)));
  await give('empty.glb', Buffer.from('nothing'));
  await expect(page.getByText(/"empty.glb" was not imported. It could not be read as glTF/)).toBeVisible();
});
