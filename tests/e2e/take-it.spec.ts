/** A still that is good enough is taken before its samples are done, and gone on with later. */
import { expect, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { emptySet } from '../../src/core/plan/set.js';
import { formatSheetSchema } from '../../src/core/plan/formatSheet.js';
import { ternGlb } from '../support/box.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

test('good enough is taken, and goes on later to all its samples', { tag: '@long' }, async ({ page }) => {
  const created = await server.send<ProjectReply>('POST', '/projects', { name: 'Patience' });
  await server.bring(created.id, await ternGlb());
  const empty = emptySet('Long');
  const { id } = await server.send<SetReply>('POST', `/projects/${created.id}/sets`, {
    file: {
      ...empty,
      sheet: formatSheetSchema.parse({ size: { width: 320, height: 180 }, quality: { samples: 160 } }),
      views: [{ id: 'v', name: 'View', kind: 'perspective', eye: [0.8, 0.4, 1], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false }],
      shots: [{ id: 'still', kind: 'still', views: ['v'] }],
    },
  });
  await page.goto(`${server.url}/p/${created.id}/s/${id}/shots`);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await page.getByRole('button', { name: 'Finish now' }).click();
  await expect(page.getByTestId('figures')).toContainText('1 of 1');
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${created.id}`);
  const frame = async (): Promise<FrameReply> => (await server.get<FrameReply[]>(`/batches/${batch!.id}/frames`))[0]!;
  const early = await frame();
  expect(early.ended).toBe('hand');
  expect(early.samples!).toBeLessThan(160);
  await page.getByRole('button', { name: 'Review', exact: true }).click();
  await expect(page.getByText('ended by hand before its 160 samples')).toBeVisible();
  const shown = page.getByTestId('easel-picture');
  const before = await shown.getAttribute('src');
  await page.getByRole('button', { name: 'Continue sampling' }).click();
  await expect.poll(async () => (await frame()).samples, { timeout: 90_000 }).toBe(160);
  await expect(page.getByText('160 samples')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Continue sampling' })).toHaveCount(0);
  expect(await shown.getAttribute('src')).not.toBe(before);
});
