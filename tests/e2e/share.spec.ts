/** Renders go to others: a review page by its address, a folder from disk whose notes come back, and the wall on paper. */
import { mkdtempSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import { unzipSync } from 'fflate';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;
const folder = mkdtempSync(path.join(tmpdir(), 'easel-folder-'));
const address = (): string => `${server.url}/p/${project.id}/s/${set}/review`;

test.beforeAll(async () => {
  await server.start();
  project = await anotherTern(server, 'Shown');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      name: 'Week 3',
      sheet: { ...file.sheet, size: { width: 320, height: 180 }, quality: { samples: 4, denoise: true }, passes: ['beauty'] },
      views: [{ id: 'front', name: 'Front', kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 60 }],
      shots: [
        { id: 'stills', name: 'Stills', kind: 'still', views: ['front'] },
        { id: 'spin', name: 'Spin', kind: 'turntable', view: 'front', frames: 4 },
      ],
      waivers: [],
    },
  });
  const { id } = await server.send<BatchReply>('POST', `/sets/${set}/batches`, { firstFrames: 0, revision: project.revisions[0]!.id });
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 120_000 }).toBe('done');
});
test.afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await server.end();
});

test('a review page is made, opened by somebody else on a phone, and its note is seen in the studio', async ({ page, browser }) => {
  await page.goto(address());
  await page.getByRole('gridcell', { name: 'Stills, Front' }).click();
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  await page.getByRole('button', { name: 'Share' }).click();
  await page.getByRole('menuitem', { name: 'Review pages …' }).click();
  await page.getByLabel('Passphrase', { exact: true }).fill('tern and landing');
  await page.getByRole('button', { name: 'Make page' }).click();
  const row = page.getByTestId('review-page');
  await expect(row).toContainText('with passphrase');
  const link = (await row.getByRole('link', { name: 'Week 3' }).getAttribute('href'))!;
  await page.getByRole('button', { name: 'Close' }).click();

  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  const guest = await phone.newPage();
  await guest.goto(`${server.url}${link}`);
  await guest.getByLabel('Passphrase').fill('something else');
  await guest.getByRole('button', { name: 'Open' }).tap();
  await expect(guest.getByRole('alert')).toHaveText('The passphrase is wrong.');
  await guest.getByLabel('Passphrase').fill('tern and landing');
  await guest.getByRole('button', { name: 'Open' }).tap();
  await expect(guest.getByRole('list', { name: 'Renders' }).getByRole('button')).toHaveCount(2);
  // Nothing is wider than the phone.
  expect(await guest.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  await guest.getByRole('button', { name: /Stills, Front/ }).tap();
  await expect(guest.getByTestId('page-render')).toBeVisible();
  await guest.getByRole('button', { name: 'Write a note' }).tap();
  const sheet = (await guest.getByTestId('note-drawing').boundingBox())!;
  await guest.touchscreen.tap(sheet.x + sheet.width * 0.5, sheet.y + sheet.height * 0.8);
  await guest.getByLabel('Note', { exact: true }).fill('Felt under the base?');
  await guest.getByRole('button', { name: 'Send' }).tap();
  await expect(guest.getByRole('alert')).toContainText('Write your name first');
  await guest.getByLabel('Your name').fill('Mara');
  await guest.getByRole('button', { name: 'Send' }).tap();
  await expect(guest.getByTestId('page-note')).toContainText('Felt under the base?Mara');
  expect(await guest.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  // A moving shot is scrubbed.
  await guest.getByRole('button', { name: 'Next' }).tap();
  const render = guest.getByTestId('page-render');
  const first = await render.getAttribute('src');
  await guest.getByRole('slider', { name: 'Frame' }).fill('2');
  await expect(render).not.toHaveAttribute('src', first!);

  // The studio has the note at once, knows the part and where it was written, and answers.
  const notes = page.getByRole('region', { name: 'Notes' });
  await expect(notes.getByTestId('note')).toContainText('Felt under the base?Mara · on page “Week 3” · Base', { timeout: 30_000 });
  await notes.getByRole('button', { name: /Felt under/ }).click();
  await notes.getByLabel('Answer').fill('Yes, 2 mm');
  await notes.getByLabel('Answer').press('Enter');
  await guest.reload();
  await guest.getByRole('button', { name: 'Previous' }).tap();
  await expect(guest.getByTestId('page-note')).toContainText('Yes, 2 mm');

  // Revoked, it is gone for the guest.
  await page.getByRole('button', { name: 'Share' }).click();
  await page.getByRole('menuitem', { name: 'Review pages …' }).click();
  await row.getByRole('button', { name: 'Revoke' }).click();
  await row.getByRole('button', { name: 'Revoke for good' }).click();
  await expect(row).toHaveCount(0);
  await guest.reload();
  await expect(guest.getByRole('alert')).toContainText('There is no review page at this address');
  await phone.close();
});

test('a folder opens from disk without a server, and notes written there come back', { tag: '@long' }, async ({ page, browser }) => {
  await page.goto(address());
  await page.getByRole('button', { name: 'Share' }).click();
  await page.getByRole('menuitem', { name: 'Review pages …' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as folder' }).click()]);
  for (const [name, bytes] of Object.entries(unzipSync(readFileSync(await download.path())))) {
    mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    writeFileSync(path.join(folder, name), bytes);
  }
  const alone = await browser.newContext({ acceptDownloads: true });
  const disk = await alone.newPage();
  const asked: string[] = [];
  disk.on('request', (r) => asked.push(r.url()));
  await disk.goto(`file://${folder}/index.html`);
  await disk.getByRole('button', { name: /Spin/ }).click();
  await expect.poll(() => disk.getByTestId('page-render').evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(320);
  await disk.getByLabel('Your name').fill('Bo');
  await disk.getByRole('button', { name: 'Write a note' }).click();
  await disk.getByRole('button', { name: 'Box' }).click();
  const sheet = (await disk.getByTestId('note-drawing').boundingBox())!;
  await disk.mouse.move(sheet.x + sheet.width * 0.3, sheet.y + sheet.height * 0.3);
  await disk.mouse.down();
  await disk.mouse.move(sheet.x + sheet.width * 0.6, sheet.y + sheet.height * 0.6, { steps: 4 });
  await disk.mouse.up();
  await disk.getByLabel('To the last frame').check();
  await disk.getByLabel('Note', { exact: true }).fill('Slower, please');
  await disk.getByRole('button', { name: 'Send' }).click();
  await expect(disk.getByTestId('page-note')).toContainText('Slower, pleaseBo · frames 1 to 4');
  // It is there when the page is opened again, and answered.
  await disk.reload();
  await disk.getByRole('button', { name: /Slower/ }).click();
  await disk.getByLabel('Answer').fill('Or half of it');
  await disk.getByRole('button', { name: 'Send' }).click();
  await expect(disk.getByTestId('page-note')).toContainText('Or half of it');
  await expect(disk.getByTestId('save-bar')).toContainText('2 notes are only in this browser');
  const [saved] = await Promise.all([disk.waitForEvent('download'), disk.getByRole('button', { name: 'Save notes' }).click()]);
  const file = readFileSync(await saved.path());
  expect(asked.filter((url) => !/^(file|blob|data):/.test(url))).toEqual([]);
  await alone.close();

  for (const said of ['2 notes were added.', '0 notes were added. 2 were there already.']) {
    await page.getByLabel('Import notes …').setInputFiles({ name: 'notes.json', mimeType: 'application/json', buffer: file });
    await expect(page.getByText(said)).toBeVisible();
  }
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('gridcell', { name: 'Spin' }).click();
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  await expect(page.getByTestId('note')).toContainText('Slower, please');
});

test('the wall is printed as it stands, with its renders', { tag: '@long' }, async ({ page }) => {
  await page.addInitScript(() => (window.print = () => document.body.setAttribute('data-printed', '')));
  await page.goto(address());
  await expect(page.getByTestId('wall').getByRole('gridcell')).toHaveCount(2);
  await page.getByRole('button', { name: 'Share' }).click();
  await page.getByRole('menuitem', { name: 'Print wall …' }).click();
  await expect(page.locator('body[data-printed]')).toBeAttached();
  await page.emulateMedia({ media: 'print' });
  const sheet = page.getByTestId('print-sheet');
  await expect(sheet).toBeVisible();
  await expect(page.locator('#root')).toBeHidden();
  await expect(sheet.getByRole('row')).toHaveText(['ShotRevision A', 'StillsFrontdone', 'Spin4 framesdone']);
  expect(await sheet.locator('img').evaluateAll((list: HTMLImageElement[]) => list.map((i) => i.naturalWidth))).toEqual([320, 320]);
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
  // A4 across, in points.
  expect(pdf).toMatch(/\/MediaBox \[0 0 84[12](\.\d+)? 59[45](\.\d+)?\]/);
});
