/** The stage, what a view looks through, and the section, set by hand and rendered as they are said. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternGlb } from '../support/box.js';
import { radiance } from '../support/radiance.js';
import { anotherTern, choose, drawn, fill, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.use({ gl: true });

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('a ready stage is chosen by its picture; ground and backdrop are changed, and faults are said', async ({ page }) => {
  project = await anotherTern(server, 'Stage preset');
  await page.goto(`${base()}/stage`);
  const stages = page.getByRole('radiogroup', { name: 'Stage presets' });
  await expect(stages.getByRole('radio')).toHaveCount(6);
  // Each is drawn by the kernel, before there is any view.
  await expect
    .poll(() => stages.locator('img').evaluateAll((list) => list.every((i) => (i as HTMLImageElement).naturalWidth > 0)), { timeout: 60_000 })
    .toBe(true);
  await stages.getByRole('radio', { name: 'overcast court' }).click();
  await fill(page, 'Height', '2 cm');
  await expect(page.getByText('0.020 m above the lowest point and cuts through the subject')).toBeVisible();
  await fill(page, 'Height', '-0.1');
  await expect(page.getByText('The subject floats 0.100 m above the ground.')).toBeVisible();
  await choose(page, 'Ground', 'Shadow catcher');
  await choose(page, 'Backdrop', 'Colour');
  await fill(page, 'Backdrop colour', '#224466');
  await fill(page, 'Backdrop colour', 'blue');
  await expect(page.getByText('Write a colour as #rrggbb').first()).toBeVisible();
  await page.getByLabel('Model lights').click();
  await expect(page.getByText('No effect: this model has no lights.')).toBeVisible();
  await expect
    .poll(async () => (await file()).stage)
    .toEqual({
      preset: 'overcast court',
      backdrop: '#224466',
      ground: { kind: 'shadow', height: -0.1 },
      modelLights: true,
    });
});

test('exposure is measured, the live picture follows it in a window of its own, and renders have it', { tag: '@long' }, async ({ page, context }) => {
  project = await plannedTern(server, 'Exposure');
  await page.goto(`${base()}/stage`);
  await page.getByRole('button', { name: 'Auto exposure' }).click();
  await expect.poll(async () => (await file()).grade.exposure).not.toBe(0);
  const opened = context.waitForEvent('page');
  await page.getByRole('button', { name: 'Open in window' }).click();
  const own = await opened;
  const brightness = (): Promise<number> =>
    own.getByTestId('live-picture').evaluate((c: HTMLCanvasElement) => {
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
      return data.reduce((sum, v, i) => (i % 4 === 3 ? sum : sum + v), 0) / (c.width * c.height * 3);
    });
  await expect.poll(brightness, { timeout: 60_000 }).toBeGreaterThan(5);
  await expect(own.getByTestId('live-state')).toContainText('samples');
  const before = await brightness();
  await fill(page, 'Exposure (EV)', '-6');
  await expect(page.getByText(/Exposure is far off: about \d+ times too dark/)).toBeVisible();
  // Graded again, in the other window, without waiting for a new trace.
  await expect.poll(brightness).toBeLessThan(before * 0.6);
  // The ground in front of the lamp: it has a distance, a finish and no part.
  const box = (await own.getByTestId('live-picture').boundingBox())!;
  await own.getByTestId('live-picture').click({ position: { x: box.width / 2, y: box.height * 0.95 } });
  await expect(own.getByTestId('picked')).toContainText('m ·');
  await own.close();
  await choose(page, 'Tone curve', 'straight');
  await fill(page, 'Exposure (EV)', '0');
  await expect.poll(async () => (await file()).grade).toEqual({ exposure: 0, whiteBalance: 6500, curve: 'straight' });
  await choose(page, 'Tone curve', 'soft shoulder · Reinhard 2002');
  await expect.poll(async () => (await file()).grade.curve).toBe('shoulder');
});

test('a view is made parallel, fitted, and the subject cut', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Cut');
  await page.goto(`${base()}/views`);
  await choose(page, 'Kind', 'parallel');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByLabel('Cut subject').click();
  await choose(page, 'Cut away', 'Front (+Z)');
  await fill(page, 'At Z', '10 mm');
  await expect.poll(async () => (await file()).section).toEqual({ planes: [{ normal: [0, 0, 1], offset: 0.01 }] });
  const [view] = (await file()).views;
  expect(view!.kind).toBe('parallel');
  // The lamp is about half a metre high: what is fitted is not much more.
  expect(view!.width).toBeGreaterThan(0.5);
  expect(view!.width).toBeLessThan(1.6);
  await choose(page, 'Kind', 'perspective');
  await page.getByLabel('Depth of field').click();
  await fill(page, 'f-number', '2.8');
  await fill(page, 'Focus distance', '90 cm');
  await expect.poll(async () => (await file()).views[0]).toMatchObject({ kind: 'perspective', aperture: 2.8, focus: 0.9 });
  // Each kind keeps what only it has, for the way back.
  await choose(page, 'Kind', 'parallel');
  await expect.poll(async () => (await file()).views[0]).toMatchObject({ kind: 'parallel', width: view!.width });
  await choose(page, 'Kind', 'perspective');
  await expect.poll(async () => (await file()).views[0]).toMatchObject({ kind: 'perspective', aperture: 2.8, focus: 0.9 });
  await page.getByLabel('Depth of field').click();
  // The plane goes to the end of a part's box, then through what is clicked: once keeping its way, then through three points.
  const offset = async (): Promise<number> => (await file()).section!.planes[0]!.offset;
  await page.getByLabel('Align with part', { exact: true }).click();
  await page
    .getByRole('option', { name: /^high of .*shade/i })
    .first()
    .click();
  await expect.poll(offset).toBeGreaterThan(0.03);
  const shade = await offset();
  await fill(page, 'At Z', '10 mm');
  const frame = (await page.getByTestId('output-frame').boundingBox())!;
  const prompt = page.getByText(/^Click .* for the plane\.$/);
  /** Clicks over the picture until so many points of the subject were met; of each row one, from its one end or the other, so that they lie on no line. */
  const pick = async (): Promise<void> => {
    for (let row = 0; row < 20; row++)
      for (let column = 0; column < 12; column++) {
        const said = (await prompt.isVisible()) ? await prompt.textContent() : null;
        if (said === null) return;
        const x = row % 2 === 0 ? 0.2 + 0.05 * column : 0.8 - 0.05 * column;
        await page.mouse.click(frame.x + frame.width * x, frame.y + frame.height * (0.95 - 0.042 * row));
        await drawn(page);
        if (!(await prompt.isVisible()) || (await prompt.textContent()) !== said) break;
      }
  };
  await page.getByRole('button', { name: 'Through a point', exact: true }).click();
  await expect(prompt).toHaveText('Click a point for the plane.');
  await pick();
  await expect.poll(offset).not.toBe(0.01);
  expect(Math.abs(await offset())).toBeLessThan(2 * shade + 0.2);
  // The whole lamp stands again, so that there is enough of it to click on.
  await fill(page, 'At Z', '1');
  await expect.poll(offset).toBe(1);
  await page.getByRole('button', { name: 'Through three points', exact: true }).click();
  await expect(prompt).toHaveText('Click 3 points for the plane.');
  await pick();
  await expect.poll(async () => (await file()).section!.planes[0]!.normal).not.toEqual([0, 0, 1]);
  const { normal } = (await file()).section!.planes[0]!;
  expect(Math.hypot(...normal)).toBeCloseTo(1, 6);
  await fill(page, 'Distance', '0.05');
  await expect.poll(async () => (await file()).section!.planes[0]).toMatchObject({ normal, offset: 0.05 });
  await page.getByRole('button', { name: 'Make axis-aligned', exact: true }).click();
  await expect.poll(async () => (await file()).section!.planes[0]!.normal).toEqual([0, 1, 0]);
  await page.getByLabel('Cut subject').click();
  await expect.poll(async () => (await file()).section).toBeUndefined();
});

test('a picture of light lights the stage, in the browser, in a batch and from the command line alike', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Environment');
  await page.goto(`${base()}/stage`);
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-light-'));
  // Green light from all sides: nothing of the lamp can be red.
  const light = radiance(32, 16, () => [0.01, 1, 0.01]);
  await page
    .getByLabel('Environment image')
    .setInputFiles({ name: 'notes.hdr', mimeType: 'application/octet-stream', buffer: Buffer.from('no picture') });
  await expect(page.getByText('"notes.hdr" cannot be read as Radiance HDR')).toBeVisible();
  await page.getByLabel('Environment image').setInputFiles({ name: 'green.hdr', mimeType: 'application/octet-stream', buffer: Buffer.from(light) });
  await fill(page, 'Strength', '0.8');
  await expect.poll(async () => (await file()).stage.environment?.strength).toBe(0.8);
  await page.getByRole('button', { name: 'Live preview' }).click();
  await expect(page.getByTestId('live-state')).toContainText(/^[2-9]\d* samples/, { timeout: 60_000 });
  const green = await page.getByTestId('live-picture').evaluate((c) => {
    const { width, height } = c as HTMLCanvasElement;
    const { data } = (c as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
    return [0, 1].map((k) => data.reduce((s, v, i) => (i % 4 === k ? s + v : s), 0));
  });
  expect(green[1]).toBeGreaterThan(3 * green[0]!);

  // The same through the server and the command line.
  const planned = await file();
  const set = {
    ...planned,
    name: 'Green',
    sheet: { ...planned.sheet, size: { width: 96, height: 54 }, quality: 'draft' as const },
    shots: [{ id: 's', kind: 'still' as const, views: [planned.views[0]!.id] }],
  };
  const own = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: set });
  const batch = await server.send<BatchReply>('POST', `/sets/${own.id}/batches`, { revision: project.revisions[0]!.id });
  await expect
    .poll(async () => (await server.get<FrameReply[]>(`/batches/${batch.id}/frames`)).every((f) => f.state === 'done'), { timeout: 60_000 })
    .toBe(true);
  const [frame] = await server.get<FrameReply[]>(`/batches/${batch.id}/frames`);
  const theirs = readFileSync(path.join(batch.folder, frame!.files[0]!));
  writeFileSync(path.join(folder, 'light.hdr'), light);
  writeFileSync(
    path.join(folder, 'set.json'),
    JSON.stringify({ ...set, stage: { ...set.stage, environment: { ...set.stage.environment, file: 'light.hdr' } } }),
  );
  writeFileSync(path.join(folder, 'tern.glb'), await ternGlb());
  const easel = (...args: string[]) => spawnSync(process.execPath, ['bin/easel.mjs', 'render', ...args], { encoding: 'utf8' });
  const run = easel(path.join(folder, 'set.json'), '--model', path.join(folder, 'tern.glb'), '--out', path.join(folder, 'out'), '--json');
  expect(run.status, run.stderr).toBe(0);
  const [mine] = (JSON.parse(run.stdout) as { frames: { file: string }[] }).frames;
  const raw = (bytes: Buffer) => sharp(bytes).raw().toBuffer();
  expect((await raw(readFileSync(mine!.file))).equals(await raw(theirs))).toBe(true);

  // A set that names a picture that is not there says so, and nothing is rendered.
  rmSync(path.join(folder, 'light.hdr'));
  const missing = easel(path.join(folder, 'set.json'), '--model', path.join(folder, 'tern.glb'), '--out', path.join(folder, 'again'));
  expect(missing.status).toBe(2);
  expect(missing.stderr).toContain('light.hdr: there is no such file');
  const lost = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, {
    file: { ...set, name: 'Lost', stage: { ...set.stage, environment: { ...set.stage.environment, file: 'lost.hdr' } } },
  });
  const refused = await server.send<{ detail: string }>('POST', `/sets/${lost.id}/batches`, { revision: project.revisions[0]!.id });
  expect(refused.detail).toContain('The environment image "lost.hdr" is not here');
  rmSync(folder, { recursive: true });
});

test('a further stage with a picture behind, a lamp moved by its handle, and a shot that names it', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Dusk', [{ id: 'still', name: 'Still', kind: 'still', views: ['view'] }]);
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
