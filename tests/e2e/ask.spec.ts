/** A frame is tried before its batch, and a pixel of any picture leads back to what made it. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern, fill, ternProject } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;

const VIEW = { id: 'v', name: 'Front', kind: 'perspective', eye: [0.93, 0.49, 1.22], target: [-0.02, 0.215, -0.02], focalLength: 62 };
const PLAN = {
  views: [VIEW],
  shots: [{ id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 6 }],
};

test.beforeAll(() => ternProject(server, 'First'));
test.beforeEach(async () => {
  project = await anotherTern(server, 'Lamp');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const sheet = { ...file.sheet, size: { width: 320, height: 180 }, quality: 'quick', shutter: 180 };
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, ...PLAN, sheet } });
});
test.afterAll(() => server.end());

const open = async (page: Page, step: string): Promise<void> => void (await page.goto(`${server.url}/p/${project.id}/s/${set}/${step}`));
/** The middle of the lamp's base plate in the view from the front, in shares of the frame. */
const BASE = { x: 0.5, y: 0.86 };

async function clickAt(page: Page, testId: string, { x, y }: typeof BASE): Promise<void> {
  const box = (await page.getByTestId(testId).boundingBox())!;
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
}

test('a test frame is two clicks away, is kept, and compared with the next one', async ({ page }) => {
  await open(page, 'shots');
  await page.getByRole('button', { name: 'Test frame' }).click();
  await page.getByRole('button', { name: 'Half size 160 × 90' }).click();
  await expect(page.getByTestId('test-frame')).toBeVisible();
  await expect(page.getByTestId('test-frame-facts')).toHaveText(/^frame 1 · 160 × 90 · \d+ samples · \d+\.\d s$/);
  const first = await page.getByTestId('test-frame').getAttribute('src');
  await page.getByRole('button', { name: 'Keep test', exact: true }).click();
  await page.getByRole('button', { name: 'Test frame' }).click();
  await page.getByRole('button', { name: 'Full size 320 × 180' }).click();
  await expect(page.getByTestId('test-frame-facts')).toContainText('320 × 180');
  expect(await page.getByTestId('test-frame').evaluate((i: HTMLImageElement) => [i.naturalWidth, i.naturalHeight])).toEqual([320, 180]);
  await page.getByRole('button', { name: 'Compare' }).hover();
  await page.mouse.down();
  await expect(page.getByTestId('test-frame')).toHaveAttribute('src', first!);
  await expect(page.getByTestId('test-frame-facts')).toContainText('kept');
  await page.mouse.up();
  await expect(page.getByTestId('test-frame')).not.toHaveAttribute('src', first!);
  await page.getByRole('button', { name: 'Close test' }).click();
  await expect(page.getByTestId('test-frame')).toBeHidden();
});

test('a pixel of a finished render tells part, light and view, and leads to the part', async ({ page }) => {
  const revision = project.revisions[0]!.id;
  const { id } = await server.send<BatchReply>('POST', `/sets/${set}/batches`, { revision });
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  await open(page, `review?batch=${id}`);
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await expect.poll(() => page.getByTestId('easel-picture').evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(320);
  await clickAt(page, 'easel-picture', BASE);
  const pixel = page.getByRole('region', { name: 'Pixel' });
  await expect(pixel).toContainText('Base plate');
  await expect(pixel).toContainText(/Lit by.*\d+ %/);
  await expect(pixel).toContainText(/Distance1\.\d{3} m/);
  await expect(page.getByTestId('pixel-mark')).toBeVisible();
  await expect(pixel.getByRole('link', { name: 'Front' })).toHaveAttribute('href', /\/views\?view=v$/);
  await pixel.getByText('Passes').click();
  await expect(pixel).toContainText('albedo');
  // The same without a pointer: the middle is asked, and moved from there.
  await pixel.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Ask a pixel' }).focus();
  await page.keyboard.press('Enter');
  await expect(pixel.getByLabel('Across, %')).toHaveValue('50');
  await fill(page, 'Down, %', '86');
  await expect(pixel).toContainText('Base plate');
  await pixel.getByRole('link', { name: /Base plate/ }).click();
  await expect(page).toHaveURL(/\/model\?part=Base%20plate|\/model\?part=Base\+plate/);
});

test('a pixel of a frame with a finding is asked before anything is rendered', { tag: '@long' }, async ({ page }) => {
  await open(page, 'preflight');
  await expect(page.getByTestId('finding-frame')).toBeVisible();
  await clickAt(page, 'finding-frame', { x: 0.02, y: 0.02 });
  const pixel = page.getByRole('region', { name: 'Pixel' });
  await expect(pixel).toContainText('View');
  await expect(pixel).toContainText('Radiance');
  await pixel.getByRole('button', { name: 'Close' }).click();
  await expect(pixel).toBeHidden();
});
