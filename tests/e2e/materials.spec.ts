/** Parts are picked, switched, dressed and varied by hand; pictures heed it, from the server and the command line alike. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { PartReply, ProjectReply, SetReply } from '../../src/contract/contract.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { anotherTern, changeSet } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.use({ gl: true });

let project: ProjectReply;

test.beforeAll(() => server.start());
test.beforeEach(async () => {
  project = await anotherTern(server, 'Assignments');
});
test.afterAll(() => server.end());

const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('parts are switched, dressed, swapped everywhere, and varied', async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
  const tree = page.getByLabel('Parts');
  await tree.getByText('Glass shade').click();
  await expect(page.getByText('One part: Glass, clear')).toBeVisible();
  await page.getByLabel('Library').click();
  await page.getByRole('option', { name: 'glass', exact: true }).click();
  await page.getByRole('button', { name: 'amber glass, solid' }).click();
  await expect(page.getByText('One part: amber glass, solid')).toBeVisible();
  await expect.poll(async () => (await file()).materials?.parts).toEqual([{ path: 'Tern/Head/Glass shade', material: 'amber glass, solid' }]);

  // The two switches: they differ, and the filter finds it.
  await page.getByRole('switch', { name: 'Glass shade: viewport' }).click();
  await expect(tree.getByText('mixed')).toHaveCount(1);
  await page.getByLabel('Show').selectOption('renders');
  await expect(tree.getByRole('treeitem')).toHaveCount(1);
  await page.getByLabel('Show').selectOption('all');
  await page.getByRole('switch', { name: 'Glass shade: viewport' }).click();
  await page.getByRole('button', { name: 'As imported' }).click();
  await expect.poll(async () => (await file()).materials?.parts).toEqual([{ path: 'Tern/Head/Glass shade', viewportVisible: true }]);

  // A variant: brass to black, wherever it is worn.
  await page.getByText('Variants and rules').click();
  await page.getByLabel('Variant', { exact: true }).click();
  await page.getByRole('option', { name: 'New variant …' }).click();
  await page.getByLabel('Variant name').fill('Black');
  await page.getByLabel('Variant name').press('Enter');
  await tree.getByText('Head cap').click();
  await expect(page.getByText('One part: Brass, brushed')).toBeVisible();
  await page.getByLabel('All parts with it').click();
  await page.getByLabel('Library').click();
  await page.getByRole('option', { name: 'metal', exact: true }).click();
  await page.getByRole('button', { name: 'blackened steel' }).click();
  await expect(tree.getByText('blackened steel').nth(2)).toBeVisible();
  await expect
    .poll(async () => (await file()).materials)
    .toMatchObject({
      variant: 'black',
      swaps: [],
      variants: [{ id: 'black', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] }],
    });
  await page.getByRole('button', { name: 'Select all with it' }).click();
  await expect(page.getByText(/\d\d? parts: blackened steel/)).toBeVisible();

  // The schedule goes by what is worn now, and is a file too.
  await page.getByRole('button', { name: 'Material schedule' }).click();
  await expect(page.getByRole('row', { name: /blackened steel/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Brass, brushed/ })).toHaveCount(0);
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as CSV' }).click()]);
  expect(saved.suggestedFilename()).toBe('Assignments finishes.csv');
  const lines = readFileSync(await saved.path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(lines[0]).toBe('material,parts,area m2');
  expect(lines.filter((l) => l.startsWith('"Glass, clear",'))).toEqual([expect.stringMatching(/^"Glass, clear",1,\d+(\.\d+)?$/)]);
  await page.getByRole('button', { name: 'Glass, clear' }).click();
  await expect(page.getByText('One part: Glass, clear')).toBeVisible();
  await page.keyboard.press('Escape');

  // A finish of one's own, and all of it taken back by undo.
  await tree.getByText('Glass shade').click();
  await page.getByLabel('All parts with it').click();
  await page.getByRole('button', { name: 'New material' }).click();
  await page.getByLabel('Material name').fill('Sea glass');
  await page.getByLabel('Material name').press('Enter');
  await page.getByLabel('Colour', { exact: true }).fill('#88bbaa');
  await page.getByLabel('Colour', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Create and assign' }).click();
  await expect(page.getByText('One part: Sea glass')).toBeVisible();
  await expect.poll(async () => (await file()).materials?.materials[0]).toMatchObject({ name: 'Sea glass', colour: '#88bbaa' });
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await file()).materials?.parts.some((p) => p.material === 'Sea glass')).toBe(false);
});

test(
  'a rule by name is made by hand; what is selected stands alone and is fitted; a variant is worn by the top line',
  { tag: '@long' },
  async ({ page }) => {
    const black = { id: 'black', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] };
    await changeSet(server, project.sets[0]!.id, (set) => ({ ...set, materials: { variant: 'black', variants: [black] } }));
    await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
    await page.getByText('Variants and rules').click();
    const pattern = page.getByLabel(/^Part names/);
    await pattern.fill('*cap');
    await pattern.press('Enter');
    await expect(page.getByText('Part names (1)')).toBeVisible();
    await page.getByLabel('Material of the rule').selectOption('polished steel');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await expect.poll(async () => (await file()).materials?.rules).toEqual([{ match: '*cap', material: 'polished steel' }]);
    const tree = page.getByLabel('Parts', { exact: true });
    await tree.getByText('Head', { exact: true }).click();
    await expect(page.getByText(/^box 0\.\d{3} × 0\.\d{3} × 0\.\d{3} m$/)).toBeVisible();

    // Alone, nothing but the head is drawn: the base's place shows what stands behind.
    const shot = async (): Promise<number> => {
      const { data } = await sharp(await page.getByTestId('output-frame').screenshot())
        .greyscale()
        .raw()
        .toBuffer({ resolveWithObject: true });
      return data.filter((v) => v < 90).length;
    };
    await page.keyboard.press('Escape');
    const whole = await shot();
    await tree.getByText('Glass shade', { exact: true }).click();
    await page.getByRole('button', { name: 'Isolate' }).click();
    // Captions over the frame are dark too, and stay.
    await expect.poll(shot).toBeLessThan(whole / 2);
    await page.getByRole('button', { name: 'Show all' }).click();

    await page.getByLabel('Active variant').selectOption('As planned');
    await expect.poll(async () => (await file()).materials?.variant).toBeUndefined();
    await page.getByRole('button', { name: 'Delete rule *cap' }).click();
    await expect.poll(async () => (await file()).materials?.rules).toEqual([]);
  },
);

test("a picture is put on a finish of one's own, by a box around the part", { tag: '@long' }, async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
  await page.getByLabel('Parts', { exact: true }).getByText('Base', { exact: true }).first().click();
  await page.getByRole('button', { name: 'New material' }).click();
  const red = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#ff0000' } })
    .png()
    .toBuffer();
  await page.getByLabel('Texture of the material').setInputFiles({ name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(page.getByText('The texture "notes.png" cannot be read')).toBeVisible();
  await page.getByLabel('Texture of the material').setInputFiles({ name: 'tiles.png', mimeType: 'image/png', buffer: red });
  await page.getByLabel('Texture width').fill('5 cm');
  await page.getByLabel('Texture width').press('Enter');
  await page.getByRole('button', { name: 'Create and assign' }).click();
  const own = async () => (await file()).materials?.materials.at(-1);
  await expect.poll(async () => (await own())?.textureFiles?.[0]).toMatchObject({ slot: 'base', scale: 0.05, mapping: 'box' });
  const { textureFiles: pictures, name } = (await own())!;
  expect((await fetch(`${server.url}/api/textures/${pictures![0]!.file}`)).status).toBe(200);
  // The small frame of the start view shows it: red as nothing of the lamp was.
  const answer = await fetch(`${server.url}/api/sets/${project.sets[0]!.id}/thumbnail?revision=${project.revisions[0]!.id}&view=&width=320`);
  const { data } = await sharp(Buffer.from(await answer.arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true });
  let n = 0;
  for (let i = 0; i < data.length; i += 3) if (data[i]! > 90 && data[i + 1]! < data[i]! / 2.5 && data[i + 2]! < data[i]! / 2.5) n++;
  expect(n).toBeGreaterThan(150);
  expect(name).toMatch(/^Material/);
});

test('the model is laid down, scaled and stood on a plinth, and all of it is taken back', { tag: '@long' }, async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${project.sets[0]!.id}/model`);
  await page.getByRole('button', { name: 'Position', exact: true }).click();
  const size = page.getByTestId('placed-size');
  const before = (await size.textContent())!;
  const [width, height, depth] = before.split(' m')[0]!.split(' × ').map(Number) as [number, number, number];
  await page.getByLabel('Up axis').click();
  await page.getByRole('option', { name: '+Z' }).click();
  await expect(size).toContainText(`${width.toFixed(3)} × ${depth.toFixed(3)} × ${height.toFixed(3)} m`);
  await page.getByLabel('Scale', { exact: true }).fill('1/2');
  await page.getByLabel('Scale', { exact: true }).press('Enter');
  await page.getByLabel('Plinth').click();
  await page.getByLabel('Plinth height').fill('5 cm');
  await page.getByLabel('Plinth height').press('Enter');
  await expect(size).toContainText('lowest point at 0.050 m');
  await expect.poll(async () => (await file()).transform).toMatchObject({ up: '+z', scale: 0.5, plinth: { height: 0.05, material: 'white paint' } });
  // The register of views and the server's pictures stand it the same way.
  const answer = await fetch(`${server.url}/api/sets/${project.sets[0]!.id}/thumbnail?revision=${project.revisions[0]!.id}&view=&width=320`);
  expect(answer.status).toBe(200);
  await size.click();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  await expect(size).toHaveText(before);
  await expect.poll(async () => (await file()).transform).toBeUndefined();
});

test('a finish is dragged onto a part, in the tree and in the viewport, and put on one group of faces', { tag: '@long' }, async ({ page }) => {
  // Two groups of faces on one part: a cube whose top is of another colour.
  const model = modelOf('block', [
    { mesh: new MeshMaker().box([-0.5, 0, -0.5], [0.5, 1, 0.5]).mesh(), material: { name: 'Plain' } },
    { mesh: new MeshMaker().quad([-0.4, 1.001, 0.4], [0.8, 0, 0], [0, 0, -0.8]).mesh(), material: { name: 'Lid' } },
  ]);
  model.parts[0]!.primitives.push(model.parts.pop()!.primitives[0]!);
  const created = await server.send<ProjectReply>('POST', '/projects', { name: 'Block' });
  const block = await server.bring(created.id, await writeGlb(model), 'block.glb');
  const id = block.sets[0]!.id;
  const parts = async () => (await server.get<SetReply>(`/sets/${id}`)).file.materials?.parts;
  await page.goto(`${server.url}/p/${block.id}/s/${id}/model`);
  const row = page.getByLabel('Parts', { exact: true }).getByRole('treeitem').first();
  const path = (await server.get<PartReply[]>(`/revisions/${block.revisions[0]!.id}/parts`))[0]!.path;
  await row.click();
  await page.getByLabel('Library').click();
  await page.getByRole('option', { name: 'metal', exact: true }).click();

  await page.getByRole('button', { name: 'blackened steel' }).dragTo(row);
  await expect.poll(parts).toEqual([{ path, material: 'blackened steel' }]);

  // The middle of the frame shows the block.
  const frame = (await page.getByTestId('output-frame').boundingBox())!;
  const view = (await page.getByTestId('viewport').boundingBox())!;
  const middle = { x: frame.x - view.x + frame.width / 2, y: frame.y - view.y + frame.height * 0.74 };
  await page.getByRole('button', { name: 'polished steel' }).dragTo(page.getByTestId('viewport'), { targetPosition: middle });
  await expect.poll(parts).toEqual([{ path, material: 'polished steel' }]);
  // Beside the model there is nothing to put it on.
  await page.getByRole('button', { name: 'blackened steel' }).dragTo(page.getByTestId('viewport'), { targetPosition: { x: 6, y: 6 } });
  await expect(row).toContainText('polished steel');

  // Alt-click picks the group of faces under the pointer; the list names them as well.
  await page.getByLabel('Applies to').click();
  await page.getByRole('option', { name: /^Faces 2/ }).click();
  await page.getByRole('button', { name: 'blackened steel' }).click();
  await expect.poll(parts).toEqual([{ path, material: 'polished steel', faces: [{ group: 2, material: 'blackened steel' }] }]);
  await page.getByTestId('viewport').click({ position: middle, modifiers: ['Alt'] });
  await expect(page.getByLabel('Applies to')).toContainText(/Faces 1/);
  await expect(page.getByText('One part: polished steel')).toBeVisible();

  // A drag that turns the view marks nothing; a click marks the part.
  await page.keyboard.press('Escape');
  await expect(row).toHaveAttribute('aria-selected', 'false');
  await page.mouse.move(view.x + middle.x, view.y + middle.y);
  await page.mouse.down();
  await page.mouse.move(view.x + middle.x + 20, view.y + middle.y, { steps: 4 });
  await page.mouse.up();
  await expect(row).toHaveAttribute('aria-selected', 'false');
  await page.getByTestId('viewport').click({ position: middle });
  await expect(row).toHaveAttribute('aria-selected', 'true');
  await page.getByLabel('Applies to').click();
  await page.getByRole('option', { name: /^Faces 1/ }).click();

  // A finish of one's own is changed and renamed, and goes on being worn.
  await page.getByRole('button', { name: 'New material' }).click();
  await page.getByLabel('Material name').fill('Felt');
  await page.getByLabel('Material name').press('Enter');
  await page.getByText('Clear coat and cloth').click();
  await page.getByLabel('Sheen', { exact: true }).fill('#445566');
  await page.getByLabel('Sheen', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Create and assign' }).click();
  await expect.poll(async () => (await parts())?.[0]?.faces).toContainEqual({ group: 1, material: 'Felt' });
  await page.getByRole('button', { name: 'Edit Felt' }).click();
  await page.getByLabel('Material name').fill('Loden');
  await page.getByLabel('Material name').press('Enter');
  await page.getByText('Tint', { exact: true }).click();
  await page.getByText('Absorption').click();
  await page.getByRole('button', { name: 'Save changes' }).click();
  await expect.poll(async () => (await parts())?.[0]?.faces).toContainEqual({ group: 1, material: 'Loden' });
  const { materials: assignments } = (await server.get<SetReply>(`/sets/${id}`)).file;
  expect(assignments!.materials).toEqual([expect.objectContaining({ name: 'Loden', sheen: '#445566', tint: { colour: '#7fbf9f', depth: 0.01 } })]);
});
