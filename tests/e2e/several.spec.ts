/** Sets on several revisions, models and variants: how they align, and batches started together. */
import { expect, test } from '../support/browserTest.js';
import { tern } from '../../demo/tern.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { anotherTern, ternProject } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;

test.beforeAll(async () => {
  const made = await ternProject(server, 'Tern');
  project = await server.bring(made.id, await writeGlb(tern({ revision: 'B' })), 'tern b.glb');
  await anotherTern(server, 'Elsewhere');
  set = made.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { id: 'v', name: 'Front', kind: 'perspective', eye: [0.9, 0.5, 1.2], target: [0, 0.2, 0], focalLength: 50 };
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      sheet: { ...file.sheet, size: { width: 64, height: 36 }, quality: 'quick' },
      materials: { variants: [{ id: 'black', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] }] },
      views: [view],
      shots: [{ id: 'still', kind: 'still', views: ['v'] }],
    },
  });
});
test.afterAll(() => server.end());

test('batches of two revisions, a variant and another project’s model are started together', { tag: '@long' }, async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${set}/shots`);
  await page.getByRole('button', { name: 'Several batches' }).click();
  const table = page.getByRole('table', { name: 'Several batches' });
  await expect(table.getByRole('row')).toHaveCount(3);
  await expect(table.getByRole('row', { name: /Revision A/ })).toContainText('Aligned in every view');
  // Revision B is another shape, and is said to move in pixels.
  await expect(table.getByRole('row', { name: /Revision B/ })).toContainText(/Moves by up to \d+ px/);
  await table.getByLabel('Review set, Revision A: As planned').check();
  await table.getByLabel('Review set, Revision B: As planned').check();
  await table.getByLabel('Review set, Revision B: Black').check();
  await page.getByRole('combobox', { name: 'Another model' }).click();
  await page.getByRole('option', { name: 'Elsewhere, Revision A' }).click();
  await table.getByLabel('Review set, Elsewhere, Revision A: As planned').check();
  await page.getByRole('button', { name: 'Start 4 batches' }).click();
  await expect(page.getByText('4 batches started.')).toBeVisible();
  const batches = async () => server.get<BatchReply[]>(`/batches?project=${project.id}`);
  await expect.poll(async () => (await batches()).map((b) => b.state), { timeout: 60_000 }).toEqual(['done', 'done', 'done', 'done']);
  expect((await batches()).map((b) => [b.number, b.name, b.revision]).reverse()).toEqual([
    [1, 'Review set', 'A'],
    [2, 'Review set', 'B'],
    [3, 'Review set, Black', 'B'],
    [4, 'Review set on tern.glb', 'A'],
  ]);
});

test('where plans have open faults, it asks, and what was accepted is kept with each batch', { tag: '@long' }, async ({ page }) => {
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const away = file.views.map((v) => ({ ...v, target: [9, 9, 9] }));
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, views: away } });
  await page.goto(`${server.url}/p/${project.id}/s/${set}/shots`);
  await page.getByRole('button', { name: 'Several batches' }).click();
  const table = page.getByRole('table', { name: 'Several batches' });
  await table.getByLabel('Review set, Revision A: As planned').check();
  await table.getByLabel('Review set, Revision B: Black').check();
  await page.getByRole('button', { name: 'Start 2 batches' }).click();
  const question = page.getByRole('dialog', { name: 'Start with open faults?' });
  await expect(question.getByRole('listitem').filter({ hasText: 'Review set, revision A.' })).toContainText('Nothing of the model is seen');
  await expect(question.getByRole('listitem').filter({ hasText: 'Review set, revision B.' })).toHaveCount(1);
  const before = (await server.get<BatchReply[]>(`/batches?project=${project.id}`)).length;
  await question.getByRole('button', { name: 'Cancel' }).click();
  expect(await server.get<BatchReply[]>(`/batches?project=${project.id}`)).toHaveLength(before);
  await page.getByRole('button', { name: 'Start 2 batches' }).click();
  await question.getByRole('button', { name: 'Start anyway' }).click();
  await expect(page.getByText('2 batches started.')).toBeVisible();
  const [b, a] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  for (const batch of [a!, b!]) expect(batch.acceptedFaults!.join(' ')).toContain('Nothing of the model is seen');
});
