/** Files of every family come in by hand, and what is asked is asked. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { expect, test, type Page } from '../support/browserTest.js';
import { BoxGeometry, Mesh } from 'three';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { LAMP_SHOTS } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { modelBounds } from '../../src/core/model/model.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { makeIO } from '../../src/formats/glb/io.js';
import { blockObj, ternGlb } from '../support/box.js';
import { displacedSphere } from '../../bench/scenes.js';
import { exportPlanGlb } from '../../src/engine/output/planGlb.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { fbxBinary } from '../support/fbx.js';
import { houseIfc } from '../support/ifc.js';
import { las, type Point } from '../support/las.js';
import { changeSet } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.use({ gl: true });

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

/** Drops a file on a new project's Model step. */
async function bring(page: Page, title: string, name: string, bytes: Uint8Array): Promise<ProjectReply> {
  const project = await server.send<ProjectReply>('POST', '/projects', { name: title });
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
  await page.getByLabel('Model files').setInputFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(bytes) });
  return project;
}

const now = (project: ProjectReply): Promise<ProjectReply> => server.get<ProjectReply>(`/projects/${project.id}`);

test('an STL is asked for its unit, and says its size before it is taken', async ({ page }) => {
  const bytes = new Uint8Array((new STLExporter().parse(new Mesh(new BoxGeometry(120, 80, 45)), { binary: true }) as unknown as DataView).buffer);
  const project = await bring(page, 'Bracket', 'bracket.stl', bytes);
  const size = page.getByTestId('rough-size');
  await expect(size).toHaveText('0.12 m wide, 0.045 m high, 0.08 m deep');
  await page.getByLabel('Unit').click();
  await page.getByRole('option', { name: 'cm', exact: true }).click();
  await page.getByLabel('Up axis').click();
  await page.getByRole('option', { name: '+Y is up' }).click();
  await expect(size).toHaveText('1.2 m wide, 0.8 m high, 0.45 m deep');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByTestId('viewport')).toBeVisible({ timeout: 30_000 });
  const [revision] = (await now(project)).revisions;
  expect(revision!.bounds.max[1] - revision!.bounds.min[1]).toBeCloseTo(0.8, 6);
});

test('an IFC brings its storeys; spaces and openings stay out of the picture', async ({ page }) => {
  const project = await bring(page, 'Boathouse', 'house.ifc', new TextEncoder().encode(houseIfc('IFC4')));
  await expect(page.getByLabel('Parts').getByText('Ground floor')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByLabel('Parts').getByText('Loft')).toBeVisible();
  await expect(page.getByText('2 spaces and openings are read, but not rendered.')).toBeVisible();
  expect((await now(project)).revisions).toHaveLength(1);
});

test('a DXF of lines alone says what was assumed, and is rendered with its lines', async ({ page }) => {
  const drawing = [
    '0 SECTION 2 ENTITIES',
    '0 LINE 8 Axes 10 0 20 0 30 0 11 6000 21 0 31 0',
    '0 CIRCLE 8 Axes 10 3000 20 0 30 0 40 1500',
    '0 ENDSEC 0 EOF',
  ];
  const project = await bring(page, 'Quay', 'quay.dxf', new TextEncoder().encode(`${drawing.join(' ').split(' ').join('\n')}\n`));
  await expect(page.getByText('Not stated by the file, and assumed: millimetres.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Read as the file states')).toHaveCount(0);
  await expect(page.getByText('The file has lines alone.')).toBeVisible();
  const [revision] = (await now(project)).revisions;
  expect(revision!.bounds.max[0] - revision!.bounds.min[0]).toBeCloseTo(6, 6);
  const view = { id: 'v', name: 'V', kind: 'perspective', eye: [3, 8, 6], target: [3, 0, 0], focalLength: 35 };
  await changeSet(server, project.sets[0]!.id, (set) => ({ ...set, views: [view], shots: [{ id: 's', kind: 'still', views: ['v'] }] }));
  const ink = async (lines: object): Promise<number> => {
    await changeSet(server, project.sets[0]!.id, (set) => ({
      ...set,
      sheet: { ...set.sheet, size: { width: 96, height: 54 }, quality: 'quick', ...lines },
    }));
    const batch = await server.send<BatchReply>('POST', `/sets/${project.sets[0]!.id}/batches`, { revision: revision!.id, firstFrames: 0 });
    await expect.poll(async () => (await server.get<BatchReply>(`/batches/${batch.id}`)).state, { timeout: 60_000 }).toBe('done');
    const [frame] = await server.get<FrameReply[]>(`/batches/${batch.id}/frames`);
    const { data } = await sharp(readFileSync(path.join(batch.folder, frame!.files[0]!)))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return data.filter((v) => v < 80).length;
  };
  expect(await ink({})).toBe(0);
  expect(await ink({ lines: { width: 1.5, colour: '#000000' } })).toBeGreaterThan(40);
});

test('a cloud of points comes by its classes, says how it is drawn, and is rendered in its colours', async ({ page }) => {
  const sheet = (kind: number, height: number, rgb: [number, number, number]): Point[] =>
    Array.from({ length: 900 }, (_, i) => ({ at: [(i % 30) * 0.1, Math.floor(i / 30) * 0.1, height], kind, rgb }));
  const bytes = las([...sheet(2, 0, [0, 65_535, 0]), ...sheet(6, 1, [65_535, 0, 0])]);
  const project = await bring(page, 'Shore scan', 'shore.las', bytes);
  await expect(page.getByText('1,800 points, drawn as discs 150 mm across.')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Not stated by the file, and assumed: metres, +Z up.')).toBeVisible();
  for (const name of ['Ground', 'Building']) await expect(page.getByLabel('Parts').getByText(name)).toBeVisible();
  const [revision] = (await now(project)).revisions;
  // Straight down on the upper sheet, which covers the lower one.
  const view = { id: 'v', name: 'V', kind: 'perspective', eye: [1.45, 4, -1.4], target: [1.45, 0, -1.45], focalLength: 85 };
  await changeSet(server, project.sets[0]!.id, (set) => ({
    ...set,
    sheet: { ...set.sheet, size: { width: 64, height: 36 }, quality: 'quick' },
    views: [view],
    shots: [{ id: 's', kind: 'still', views: ['v'] }],
  }));
  const batch = await server.send<BatchReply>('POST', `/sets/${project.sets[0]!.id}/batches`, { revision: revision!.id, firstFrames: 0 });
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${batch.id}`)).state, { timeout: 60_000 }).toBe('done');
  const [frame] = await server.get<FrameReply[]>(`/batches/${batch.id}/frames`);
  const { channels } = await sharp(readFileSync(path.join(batch.folder, frame!.files[0]!))).stats();
  const [red, green, blue] = channels.map((c) => c.mean) as [number, number, number];
  expect(red).toBeGreaterThan(2 * Math.max(green, blue));
});

test('a file of a kind that is known and not read is refused with a way round', async ({ page }) => {
  await bring(page, 'Old plan', 'quay.dwg', new TextEncoder().encode('AC1032'));
  await expect(page.getByText('"quay.dwg" is of a kind that is not read. Save it as DXF, or export STEP or IFC of it')).toBeVisible();
});

test('an FBX in a ZIP comes with its pictures, and says what it leaves out', { tag: '@long' }, async ({ page }) => {
  const tiles = await sharp({ create: { width: 16, height: 16, channels: 3, background: '#b03020' } })
    .png()
    .toBuffer();
  const fbx = fbxBinary({ size: [200, 300, 120], unit: 1, upAxis: 2, picture: { name: 'tiles.png', bytes: null } });
  const project = await bring(page, 'Roof', 'roof.zip', zipSync({ 'roof/roof.fbx': fbx, 'roof/maps/tiles.png': new Uint8Array(tiles) }));
  // The file states its unit: nothing is asked.
  const tree = page.getByLabel('Parts', { exact: true });
  await tree.getByText('Kiosk roof').click({ timeout: 30_000 });
  await expect(page.getByText('One part: Red paint, Pane')).toBeVisible();
  await expect(page.getByText('1 light left out: "Ceiling lamp". Add lights on the Stage step.')).toBeVisible();
  await expect(page.getByText(/was not given/)).toHaveCount(0);
  const [revision] = (await now(project)).revisions;
  expect(revision).toMatchObject({ fileName: 'roof.fbx', partCount: 5 });
  const { min, max } = revision!.bounds;
  // Centimetres, with z up in the file and y here.
  [2, 1.2, 3].forEach((wide, i) => expect(max[i]! - min[i]!).toBeCloseTo(wide, 4));
  // The camera that it brought is offered as a view.
  await page.keyboard.press('3');
  await expect(page.getByText('From the quay').first()).toBeVisible();
});

test('an archive of two models is refused, and one of an OBJ is asked for its unit', { tag: '@long' }, async ({ page }) => {
  const obj = new TextEncoder().encode(blockObj().obj);
  await bring(page, 'Several', 'both.zip', zipSync({ 'a.glb': new Uint8Array(await ternGlb()), 'b.dae': obj }));
  await expect(page.getByRole('alert')).toHaveText('"both.zip" holds 2 models: "a.glb", "b.dae". Pack one of them. Nothing was changed.');
  await page
    .getByLabel('Model files')
    .setInputFiles({ name: 'block.zip', mimeType: 'application/zip', buffer: Buffer.from(zipSync({ 'block.obj': obj })) });
  await page.getByLabel('Unit').click();
  await page.getByRole('option', { name: 'mm', exact: true }).click();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByTestId('viewport')).toBeVisible({ timeout: 30_000 });
});

test('a STEP solid is brought again with its faces apart, and one of them is dressed', { tag: '@long' }, async ({ page }) => {
  const bytes = readFileSync('node_modules/occt-import-js/test/testfiles/cube-units/cube-mm.step');
  const project = await bring(page, 'Block', 'cube.step', bytes);
  const tree = page.getByLabel('Parts', { exact: true });
  await tree.getByRole('treeitem').last().click({ timeout: 60_000 });
  await expect(page.getByText('This part has one group of faces.')).toBeVisible();
  await expect(page.getByLabel('Applies to')).toHaveCount(0);
  await page.getByRole('button', { name: 'Import revision' }).click();
  await page.getByLabel('Separate faces').check();
  await page.getByLabel('Model files').setInputFiles({ name: 'cube.step', mimeType: 'application/octet-stream', buffer: bytes });
  await expect(page.getByText('Changes', { exact: true })).toBeVisible({ timeout: 60_000 });
  expect((await now(project)).revisions.map((r) => r.facesApart)).toEqual([undefined, true]);
  await page.getByRole('button', { name: 'Parts', exact: true }).click();
  await tree.getByRole('treeitem').last().click();
  // The face in the middle of the frame alone wears what is put on it.
  const frame = (await page.getByTestId('output-frame').boundingBox())!;
  const view = (await page.getByTestId('viewport').boundingBox())!;
  const position = { x: frame.x - view.x + frame.width / 2, y: frame.y - view.y + frame.height / 2 };
  await page.getByTestId('viewport').click({ position, modifiers: ['Alt'] });
  await expect(page.getByLabel('Applies to')).toContainText(/^Faces \d: Colour #cbcbcb, 1 m²$/);
  const group = Number(/\d/.exec(await page.getByLabel('Applies to').innerText())![0]);
  await page.getByLabel('Library').click();
  await page.getByRole('option', { name: 'metal', exact: true }).click();
  await page.getByRole('button', { name: 'blackened steel' }).click();
  const set = (): Promise<SetReply> => server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
  await expect.poll(async () => (await set()).file.materials?.parts.map((p) => p.faces)).toEqual([[{ group, material: 'blackened steel' }]]);
  await page.getByLabel('Applies to').click();
  await expect(page.getByRole('option')).toHaveCount(7);
  await page.keyboard.press('Escape');
  // The next revision is offered as this one was brought; together, its single face is said to be no more.
  await page.getByRole('button', { name: 'Import revision' }).click();
  await expect(page.getByLabel('Separate faces')).toBeChecked();
  await page.getByLabel('Separate faces').uncheck();
  await page.getByLabel('Model files').setInputFiles({ name: 'cube.step', mimeType: 'application/octet-stream', buffer: bytes });
  await expect(page.getByText(/has other groups of faces than before\. Check its materials/)).toBeVisible({ timeout: 60_000 });
});

test('a STEP assembly brings its tree; one that is cut short is refused and leaves nothing', async ({ page }) => {
  const whole = readFileSync('node_modules/occt-import-js/test/testfiles/cax-if/as1-oc-214.stp');
  const project = await bring(page, 'Assembly', 'as1.stp', whole.subarray(0, 20_000));
  await expect(page.getByRole('alert')).toContainText('"as1.stp" could not be read as STEP: it is cut short, damaged or holds no shapes.');
  expect((await now(project)).revisions).toHaveLength(0);
  await page.getByLabel('Model files').setInputFiles({ name: 'as1.stp', mimeType: 'application/octet-stream', buffer: whole });
  await expect(page.getByLabel('Parts').getByText('rod-assembly')).toBeVisible({ timeout: 60_000 });
  const [revision] = (await now(project)).revisions;
  expect(revision!.partCount).toBe(22);
  expect(revision!.materials.length).toBeGreaterThanOrEqual(4);
  await expect(page.getByTestId('imported')).toContainText(/^\d+ materials · 0 textures · 18 line parts$/);
  // Its edges came along as lines: out of the tree until they are asked for, and out of the picture.
  const tree = page.getByLabel('Parts', { exact: true });
  await expect(tree.getByText('Edges')).toHaveCount(0);
  await page.getByLabel('Show').selectOption('lines');
  await expect(tree.getByText('Edges').first()).toBeVisible();
  await expect(tree.getByText(/^[\d,]+ line segments$/).first()).toBeVisible();
  const edges = page.getByRole('switch', { name: 'Edges: render' });
  await expect(edges).toHaveCount(18);
  await expect(edges.first()).not.toBeChecked();
  await edges.first().click();
  await expect(edges.first()).toBeChecked();
});

test('a glTF is dropped together with its buffer, and says what is missing without it', async ({ page }) => {
  const io = await makeIO();
  const { json, resources } = await io.writeJSON(await io.readBinary(new Uint8Array(await ternGlb())));
  const file = (name: string, bytes: Uint8Array) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(bytes) });
  const main = file('tern.gltf', new TextEncoder().encode(JSON.stringify(json)));
  const project = await server.send<ProjectReply>('POST', '/projects', { name: 'Text' });
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
  await page.getByLabel('Model files').setInputFiles([main]);
  await expect(page.getByRole('alert')).toContainText('"tern.gltf" needs the file');
  await page.getByLabel('Model files').setInputFiles([main, ...Object.entries(resources).map(([name, bytes]) => file(name, bytes))]);
  await expect(page.getByLabel('Parts', { exact: true }).getByText('Glass shade')).toBeVisible({ timeout: 30_000 });
  expect((await now(project)).revisions).toHaveLength(1);
});

test('a long import is stopped; nothing is left of it, and the next one comes in', { tag: '@long' }, async ({ page }) => {
  const heavy = await writeGlb(displacedSphere(1600));
  const project = await bring(page, 'Heavy', 'heavy.glb', heavy);
  await expect(page.getByText(/^(reading|checking|building) … \d+ %$/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('Stopped. Nothing was changed.');
  await page.getByLabel('Model files').setInputFiles({
    name: 'light.glb',
    mimeType: 'model/gltf-binary',
    buffer: Buffer.from(await writeGlb(displacedSphere(40))),
  });
  await expect(page.getByTestId('viewport')).toBeVisible({ timeout: 30_000 });
  expect((await now(project)).revisions.map((r) => r.fileName)).toEqual(['light.glb']);
});

test('cameras of a file are taken over as views, and the plan goes out as GLB again', async ({ page }) => {
  const model = tern();
  const set = parseSet({
    ...LAMP_SHOTS,
    views: LAMP_SHOTS.views.slice(0, 2),
    shots: [{ id: 's', kind: 'still', views: ['three-quarter', 'front'] }],
  });
  const bytes = await exportPlanGlb(set, await writeGlb(model), planFrames(set, { bounds: modelBounds(model), scene: 'tern' }), (file) =>
    Promise.reject(new Error(`asked for ${file}`)),
  );
  const project = await bring(page, 'With cameras', 'planned.glb', bytes);
  await page.getByRole('button', { name: 'Set views' }).click();
  await page.getByRole('button', { name: 'Import Front' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Front');
  await expect(page.getByLabel('Focal length')).toHaveValue('60');
  await page.getByRole('button', { name: 'Import all' }).click();
  const file = async () => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;
  await expect.poll(async () => (await file()).views.map((v) => v.name)).toEqual(['Front', 'Three-quarter', 'Front 2']);
  const [, taken] = (await file()).views;
  taken!.eye.forEach((c, i) => expect(c).toBeCloseTo(set.views[0]!.eye[i]!, 4));

  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/shots`);
  await page.getByRole('button', { name: 'Set file' }).click();
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByText('Export plan as GLB').click()]);
  expect(saved.suggestedFilename()).toMatch(/\.glb$/);
  expect(
    readFileSync(await saved.path())
      .subarray(0, 4)
      .toString('latin1'),
  ).toBe('glTF');
});
