/** A newer model replaces the older: what was planned carries over, and what does not is said and mapped by hand. */
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { type Model, assignPartPaths } from '../../src/core/model/model.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { tern } from '../../demo/tern.js';
import { sharedServer as server } from '../support/sharedServer.js';

// The older revision is drawn over the newer one.
test.use({ gl: true });

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

async function bring(project: number, model: Model): Promise<ProjectReply> {
  return server.bring(project, await writeGlb(model), `${model.name}.glb`);
}

test('a revision with one part gone and one renamed', async ({ page, context }) => {
  const { id } = await server.send<ProjectReply>('POST', '/projects', { name: 'Revisions' });
  const project = await bring(id, tern());
  const setId = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${setId}`);
  const parts = [
    { path: 'Tern/Head/Glass shade', material: 'frosted glass, pane' },
    { path: 'Tern/Head/Collar', material: 'polished brass' },
    { path: 'Tern/Base', material: 'walnut' },
  ];
  await server.send('PUT', `/sets/${setId}`, { version, file: { ...file, materials: { parts } } });

  // The same lamp: the shade is called otherwise, the collar is gone.
  const next = tern();
  next.name = 'Tern A2';
  next.parts.find((p) => p.name === 'Glass shade')!.name = 'Diffuser';
  const collar = next.parts.findIndex((p) => p.name === 'Collar');
  next.parts.splice(collar, 1);
  for (const p of next.parts) if (p.parent > collar) p.parent--;
  assignPartPaths(next.parts);
  const bytes = Buffer.from(await writeGlb(next));

  const other = await context.newPage();
  await other.goto(`${server.url}/p/${id}/s/${setId}/shots`);
  await expect(other.getByText('Revision', { exact: true })).toBeVisible();
  await page.goto(`${server.url}/p/${id}/s/${setId}/model`);
  await page.getByRole('button', { name: 'Import revision' }).click();
  await page.getByLabel('Model files').setInputFiles({ name: 'Tern A2.glb', mimeType: 'model/gltf-binary', buffer: bytes });
  const compared = page.getByRole('group', { name: 'Compared' });
  await expect(compared).toContainText('compared with A', { timeout: 30_000 });
  // Another window learns of it by itself.
  await expect(other.getByRole('combobox', { name: 'Revision' }).getByRole('option')).toHaveCount(2);
  await other.close();
  await expect(compared).toContainText('renamed 1');
  await expect(compared).toContainText('gone 1');
  await expect(compared).toContainText('changed 0');
  const matches = page.getByLabel('Matches');
  await expect(matches.getByText('Tern/Head/Diffuser was Tern/Head/Glass shade')).toBeVisible();
  await expect(matches.getByText('Tern/Head/Collar')).toBeVisible();
  const now = async () => (await server.get<SetReply>(`/sets/${setId}`)).file.materials!.parts;
  await expect.poll(now).toEqual([{ path: 'Tern/Head/Diffuser', material: 'frosted glass, pane' }, parts[1], parts[2]]);

  // The older revision laid over it: the lost collar is there again, in cobalt.
  const blue = async (): Promise<number> => {
    const { data } = await sharp(await page.getByTestId('output-frame').screenshot())
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    let n = 0;
    for (let i = 0; i < data.length; i += 3) if (data[i + 2]! > data[i]! + 30) n++;
    return n;
  };
  await expect.poll(blue).toBe(0);
  await page.getByLabel('Overlay revision A').click();
  await expect.poll(blue).toBeGreaterThan(300);
  await page.getByLabel('Overlay revision A').click();
  await expect.poll(blue).toBe(0);

  // The collar's brass goes on to the cap by hand.
  await page.getByLabel('Remap Tern/Head/Collar').selectOption('Tern/Head/Head cap');
  await expect.poll(async () => (await now()).map((p) => p.path)).toContain('Tern/Head/Head cap');
  await expect(page.getByLabel('Remap Tern/Head/Collar')).toHaveCount(0);
  await matches.getByText('Tern/Head/Diffuser').click();
  await expect(page.getByText('One part: frosted glass, pane')).toBeVisible();

  // The older one can still be looked at and rendered.
  await page.getByLabel('Revision', { exact: true }).selectOption('A');
  // What is planned on B's part alone is said there, on every step.
  await expect(page.getByText(/The set uses parts that are not in revision A: Tern\/Head\/Diffuser/)).toBeVisible();
  await page.getByLabel('Search parts').fill('collar');
  await expect(page.getByLabel('Parts').getByText('Collar')).toBeVisible();
  await page.reload();
  await page.getByLabel('Search parts').fill('collar');
  await expect(page.getByLabel('Parts').getByText('Collar')).toBeVisible();
  const first = await page.request.get(`${server.url}/api/revisions/${project.revisions[0]!.id}/match`);
  expect(first.status()).toBe(404);
});
