/** The wall over two revisions and two variants; renders compared, judged, asked again, and what changed found by name. */
import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '../support/browserTest.js';
import { tern } from '../../demo/tern.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import type { DecisionReply } from '../../src/contract/results.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { anotherTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;
let set: number;
const address = (query = ''): string => `${server.url}/p/${project.id}/s/${set}/review${query}`;

/** Starts a batch, and waits for it. */
async function rendered(choice: object): Promise<BatchReply> {
  const started = await server.send<BatchReply>('POST', `/sets/${set}/batches`, { firstFrames: 0, ...choice });
  expect(started).toMatchObject({ setId: set });
  const { id } = started;
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 120_000 }).toBe('done');
  return server.get<BatchReply>(`/batches/${id}`);
}

/** Revision B: the arm is longer, so that the shade hangs elsewhere. */
async function bringRevisionB(): Promise<ProjectReply> {
  return server.bring(project.id, await writeGlb(tern({ revision: 'B' })), 'tern-b.glb');
}

test.beforeAll(async () => {
  await server.start();
  project = await anotherTern(server, 'Judged');
  set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { kind: 'perspective', eye: [1.1, 0.6, 1.5], target: [0, 0.22, 0], focalLength: 60 };
  const saved = await server.send<SetReply>('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      sheet: {
        ...file.sheet,
        size: { width: 320, height: 180 },
        quality: { samples: 8, denoise: true },
        passes: ['beauty', 'depth'],
        lines: { width: 0.6 },
      },
      views: [
        { id: 'front', name: 'Front', ...view },
        { id: 'side', name: 'Side', ...view, eye: [-1.4, 0.5, 1.1] },
      ],
      shots: [
        { id: 'stills', name: 'Stills', kind: 'still', views: ['front', 'side'] },
        { id: 'spin', name: 'Spin', kind: 'turntable', view: 'front', frames: 4 },
      ],
      materials: {
        parts: [],
        variants: [{ id: 'black', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] }],
      },
      waivers: [],
    },
  });
  expect(saved).toMatchObject({ id: set });
  const [a] = project.revisions;
  await rendered({ revision: a!.id });
  await rendered({ revision: a!.id, variant: 'black', shots: ['stills'] });
  project = await bringRevisionB();
  await rendered({ revision: project.revisions.at(-1)!.id });
});
test.afterAll(() => server.end());

const cell = (page: Page, name: string) => page.getByRole('gridcell', { name }).first();

test('the wall has revisions or variants as columns, is filtered, and gone through by keyboard', async ({ page }) => {
  await page.goto(address());
  const wall = page.getByTestId('wall');
  await expect(wall.getByRole('columnheader')).toHaveText(['Shot', 'Revision A', 'Revision B']);
  await expect(wall.getByRole('rowheader')).toHaveText(['StillsFront', 'StillsSide', 'Spin4 frames']);
  await expect(wall.locator('[data-state=done]')).toHaveCount(6);
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await cell(page, 'Stills, Front, Revision A').focus();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('ArrowDown');
  await expect(cell(page, 'Stills, Side, Revision A')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(cell(page, 'Stills, Side, Revision A')).toHaveAccessibleName(/number 1 on the easel/);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('c');
  await expect(cell(page, 'Stills, Side, Revision B')).toHaveAccessibleName(/number 2 on the easel/);
  await expect(page.getByTestId('easel-picture-2')).toBeVisible();
  await page.getByRole('combobox', { name: 'Columns' }).click();
  await page.getByRole('option', { name: 'variants' }).click();
  await expect(wall.getByRole('columnheader')).toHaveText(['Shot', 'as set', 'Black']);
  await expect(wall.locator('[data-state=planned]')).toHaveCount(1);
  await page.getByRole('combobox', { name: 'Filter' }).click();
  await page.getByRole('option', { name: 'planned' }).click();
  await expect(wall.getByRole('rowheader')).toHaveText(['Spin4 frames']);
});

test('two revisions are wiped, blinked and told apart, and the part that changed is named', async ({ page }) => {
  await page.goto(address());
  await cell(page, 'Stills, Front, Revision A').click();
  await cell(page, 'Stills, Front, Revision B').click({ modifiers: ['Control'] });
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await expect(page.getByTestId('difference')).toContainText(/changed \d+\.\d % · SSIM 0\.\d{3} · largest ΔE \d+\.\d/, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Wipe', exact: true }).click();
  const line = page.getByRole('slider', { name: 'Place of the wipe' });
  const second = page.getByTestId('easel-picture-2');
  await expect(second).toHaveCSS('clip-path', 'inset(0px 0px 0px 50%)');
  await line.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(second).toHaveCSS('clip-path', 'inset(0px 0px 0px 60%)');
  const box = (await page.getByTestId('mount').boundingBox())!;
  const at = (await line.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + 60, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number(await line.getAttribute('aria-valuenow'))).toBeLessThan(54);
  await page.getByRole('button', { name: 'Up and down' }).click();
  await expect(second).toHaveCSS('clip-path', /inset\(\d+(\.\d+)?% 0px 0px\)/);
  await page.getByRole('button', { name: 'Blink', exact: true }).click();
  const opacities = async (): Promise<string> =>
    `${await page.getByTestId('easel-picture').evaluate((i) => getComputedStyle(i).opacity)}${await second.evaluate((i) => getComputedStyle(i).opacity)}`;
  await expect.poll(opacities).toBe('10');
  await expect.poll(opacities).toBe('01');
  await page.getByRole('button', { name: 'Difference', exact: true }).click();
  await expect(page.getByTestId('difference-map')).toBeVisible();
  await expect(page.getByTestId('changed-parts')).toContainText('Glass shade', { timeout: 30_000 });
  const before = await page.getByTestId('easel-picture').boundingBox();
  await page.keyboard.press('n');
  await expect(page.getByTestId('area')).toHaveText(/^1 \/ \d+$/);
  await expect(page.getByTestId('changed-area')).toHaveCount(1);
  expect((await page.getByTestId('easel-picture').boundingBox())!.width).toBeGreaterThan(before!.width * 1.2);
  await page.keyboard.press('f');
  await page
    .getByTestId('changed-parts')
    .getByRole('link', { name: /Glass shade/ })
    .click();
  await expect(page).toHaveURL(/\/model\?part=Glass/);
});

test('a live preview that was kept stands beside a render', { tag: '@long' }, async ({ page }) => {
  await page.goto(`${server.url}/p/${project.id}/s/${set}/views?view=front`);
  await page.getByRole('button', { name: 'Live preview' }).click();
  await expect(page.getByTestId('live-state')).toContainText(/[1-9]\d* samples?/);
  await page.getByRole('button', { name: 'Keep preview' }).click();
  await page.getByRole('link', { name: /Review/ }).click();
  await cell(page, 'Stills, Front, Revision A').click();
  await page.getByRole('button', { name: 'Compare with image' }).click();
  await page.getByRole('menuitem', { name: 'Front' }).click();
  const preview = page.getByTestId('easel-picture-2');
  await expect(preview).toHaveAttribute('src', /^blob:/);
  // The same view of the same model: most of it is alike.
  await expect(page.getByTestId('difference')).toContainText(/changed \d+\.\d % · SSIM 0\.[5-9]/);
});

/** A choice of what is saved of the comparison. */
async function saveAs(page: Page, what: string): Promise<void> {
  await page.getByRole('button', { name: 'Save as', exact: true }).click();
  await page.getByRole('menuitem', { name: what }).click();
}

test('a whole set is compared: the largest change first, opened at its worst frame, kept as a table', async ({ page }) => {
  await page.goto(address());
  await page.getByRole('button', { name: 'What changed' }).click();
  await expect(page.getByTestId('changes-progress')).toHaveText('3 shots compared.', { timeout: 60_000 });
  const table = page.getByTestId('changes-table');
  await expect(table.locator('tbody tr')).toHaveCount(3);
  const shares = (await table.locator('tbody tr td:nth-child(2)').allTextContents()).map(Number);
  expect(shares).toEqual([...shares].sort((a, b) => b - a));
  expect(shares[0]).toBeGreaterThan(0.5);
  await expect(table.locator('tbody tr').first()).toContainText('Collar');
  const [download] = await Promise.all([page.waitForEvent('download'), saveAs(page, 'Table (CSV)')]);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(lines).toHaveLength(4);
  expect(lines[0]).toContain('largest CIEDE2000');
  const [sheet] = await Promise.all([page.waitForEvent('download'), saveAs(page, 'Sheet (PDF)')]);
  expect(sheet.suggestedFilename()).toMatch(/changes\.pdf$/);
  expect(
    readFileSync(await sheet.path())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  // The page opens by itself: its images and fonts are in it.
  const [html] = await Promise.all([page.waitForEvent('download'), saveAs(page, 'Sheet (HTML)')]);
  const file = test.info().outputPath('changes.html');
  await html.saveAs(file);
  const other = await page.context().newPage();
  const asked: string[] = [];
  other.on('request', (r) => asked.push(r.url().slice(0, 5)));
  await other.goto(`file://${file}`);
  await expect(other.locator('section').first()).toContainText('of the area changed');
  await expect.poll(() => other.evaluate(() => [...document.images].every((i) => i.naturalWidth > 50) && document.images.length)).toBe(6);
  expect(await other.evaluate(() => document.fonts.ready.then((fonts) => [...fonts].filter((f) => f.status === 'loaded').length))).toBeGreaterThan(1);
  expect(new Set(asked)).toEqual(new Set(['file:']));
  await other.close();
  await page.evaluate(() => (window.print = () => document.body.setAttribute('data-printed', '')));
  await page.getByRole('button', { name: 'Print …' }).click();
  await expect(page.locator('body[data-printed]')).toBeAttached();
  await expect(page.getByTestId('print-sheet').locator('tbody tr')).toHaveCount(3);
  await expect(page.getByTestId('print-sheet').locator('h1')).toHaveText(/: Revision A to Revision B$/);
  await table.getByRole('button', { name: /Spin/ }).click();
  await expect(page.getByTestId('difference-map')).toBeVisible();
  await page.getByRole('button', { name: 'Compare all frames' }).click();
  await expect(page.getByTestId('rule-curve')).toContainText(/changed \d+\.\d %/, { timeout: 60_000 });
});

test('decisions have reasons and a log, and the redo list is a batch in one click', async ({ page }) => {
  await page.goto(address());
  await cell(page, 'Spin, Revision B').click();
  await page.getByRole('button', { name: 'Decide with reason' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Ana');
  await page.getByLabel('Name', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Accept shot' }).click();
  await expect(page.getByTestId('wall').locator('[data-state=accepted]')).toHaveCount(1);
  await cell(page, 'Stills, Side, Revision B').click();
  await page.getByRole('button', { name: 'Decide with reason' }).click();
  await page.getByLabel('Reason', { exact: true }).fill('The shade is too small');
  await page.getByLabel('Reason', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Redo frame' }).click();
  await expect(page.getByRole('button', { name: 'Redo asked' })).toBeVisible();
  await expect(page.getByText('The shade is too small')).toBeVisible();
  await expect(page.getByTestId('wall').locator('[data-state=redo]')).toHaveCount(1);
  const log = await server.get<DecisionReply[]>(`/sets/${set}/decisions`);
  expect(log.map((l) => [l.shot, l.decision, l.author, l.reason])).toEqual([
    ['Stills', 'redo', 'Ana', 'The shade is too small'],
    ...Array.from({ length: 4 }, () => ['Spin', 'accepted', 'Ana', '']),
  ]);
  // What is to be done again is rendered with what changed since.
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  await server.send('PUT', `/sets/${set}`, { version, file: { ...file, grade: { ...file.grade, exposure: 0.5 } } });
  await page.reload();
  await expect(page.getByTestId('wall').locator('[data-state=stale]')).not.toHaveCount(0, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Redo 1 render' }).click();
  await page.waitForURL(/batch\?batch=/);
  const id = Number(new URL(page.url()).searchParams.get('batch'));
  await expect.poll(async () => (await server.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  const frames = await server.get<FrameReply[]>(`/batches/${id}/frames`);
  expect(frames.map((f) => [f.shot, f.view])).toEqual([['stills', 'side']]);
  await page.goto(address());
  await expect(page.getByRole('button', { name: /Render .*redo/ })).toHaveCount(0);
  await expect(page.getByTestId('wall').locator('[data-state=redo]')).toHaveCount(0);
});

test('a note is pinned to a part, answered, carried to the next revision, and done', async ({ page }) => {
  await page.goto(address());
  await cell(page, 'Stills, Front, Revision A').click();
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  const notes = page.getByRole('region', { name: 'Notes' });
  await expect(notes).toContainText('No note on this render yet.');
  await notes.getByRole('button', { name: 'Pin' }).click();
  const shown = (await page.getByTestId('note-drawing').boundingBox())!;
  await page.mouse.click(shown.x + shown.width * 0.5, shown.y + shown.height * 0.82);
  await notes.getByLabel('Write the note').fill('Felt under the base?');
  // Grade takes the place of the notes, and what is being written is there again after it.
  await page.getByRole('button', { name: 'Grade', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Grade' })).toBeVisible();
  await expect(notes).toHaveCount(0);
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Grade' })).toHaveCount(0);
  await expect(notes.getByLabel('Write the note')).toHaveValue('Felt under the base?');
  await notes.getByLabel('Write the note').press('Enter');
  await expect(notes.getByTestId('note')).toHaveText(/^1Felt under the base\?Base plate$/, { timeout: 30_000 });
  await expect(page.getByTestId('note-mark')).toHaveAttribute('data-how', 'own');
  await notes.getByRole('button', { name: /Felt under/ }).click();
  await notes.getByLabel('Answer').fill('Yes, 2 mm');
  await notes.getByLabel('Answer').press('Enter');
  await expect(notes.getByTestId('note')).toContainText('Yes, 2 mm');
  await notes.getByRole('button', { name: 'Box' }).click();
  await page.mouse.move(shown.x + 20, shown.y + 20);
  await page.mouse.down();
  await page.mouse.move(shown.x + 90, shown.y + 70, { steps: 4 });
  await page.mouse.up();
  await notes.getByRole('button', { name: 'Discard' }).click();
  // By keyboard alone: the cross goes to the right, and its note waits for words.
  await notes.getByRole('button', { name: 'Pin' }).press('Enter');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('note-cross')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(notes.getByLabel('Write the note')).toBeFocused();
  await notes.getByRole('button', { name: 'Discard' }).click();
  await expect(notes.getByTestId('note')).toHaveCount(1);
  // The other revision has it too, at the same part.
  await cell(page, 'Stills, Front, Revision B').click();
  await expect(notes.getByTestId('note')).toContainText('carried from revision A', { timeout: 30_000 });
  await expect(page.getByTestId('note-mark')).toHaveAttribute('data-how', 'carried');
  await page.getByTestId('note-mark').click();
  await notes.getByRole('button', { name: 'Mark done' }).click();
  await expect(notes.getByRole('button', { name: 'Reopen' })).toBeVisible();
  await notes.getByRole('button', { name: 'Delete note' }).click();
  await expect(notes.getByTestId('note')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(notes.getByTestId('note')).toHaveCount(1);
});
