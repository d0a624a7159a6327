/** A site is set, the sun dragged, hours of sun read, and a sun study planned and rendered. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { sunPosition } from '../../src/core/stage/daylight.js';
import { anotherTern, changeSet, choose, fill, keepSheetOpen, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

/** The stage at noon of an equinox in Iceland. */
const NOON = {
  preset: 'bright sweep',
  site: { name: 'Reykjavik', latitude: 64.1, longitude: -21.9, elevation: 20, north: 0, timeZone: 'Atlantic/Reykjavik' },
  daylight: { date: '2026-03-21', time: '12:00' },
};
/** A project with the lamp in daylight. */
async function inDaylight(name: string): Promise<ProjectReply> {
  const made = await plannedTern(server, name);
  await changeSet(server, made.sets[0]!.id, (set) => ({ ...set, stage: NOON }));
  return made;
}

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;

test('a site is found by its city, the day is chosen, and the sun dragged along it', async ({ page }) => {
  project = await anotherTern(server, 'Site');
  await page.goto(`${base()}/stage`);
  await choose(page, 'Lighting', 'Daylight');
  await page.getByLabel('Find city').fill('reykj');
  await page
    .getByLabel('Cities')
    .getByRole('button', { name: /Reykjav/ })
    .click();
  await expect(page.getByLabel('Time zone')).toHaveValue('Atlantic/Reykjavik');
  await fill(page, 'Date', '2026-03-21');
  await fill(page, 'Time', '9:00');
  await expect.poll(async () => (await file()).stage.daylight).toMatchObject({ date: '2026-03-21', time: '09:00', sky: 'clear' });
  const { site } = (await file()).stage;
  expect(site!.latitude).toBeCloseTo(64.1, 0);
  // What the interface says is what the command line says.
  const at = spawnSync('node', [
    'bin/easel.mjs',
    'sun',
    '--latitude',
    String(site!.latitude),
    '--longitude',
    String(site!.longitude),
    '--at',
    '2026-03-21T09:00',
    '--json',
  ]);
  const said = JSON.parse(at.stdout.toString()) as { azimuth: number; altitude: number };
  await expect(page.getByTestId('daylight-lux')).toContainText(`${said.azimuth.toFixed(1)}°, ${said.altitude.toFixed(1)}°`);

  const mark = page.getByTestId('sun-mark');
  const box = (await mark.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  // Towards the west, over the top of the day's arc.
  await page.mouse.move(box.x - 60, box.y + 30, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => Number((await file()).stage.daylight!.time.slice(0, 2))).toBeGreaterThan(11);
  const before = (await file()).stage.daylight!.time;
  await mark.focus();
  await page.keyboard.press('ArrowLeft');
  const minutes = (t: string): number => Number(t.slice(0, 2)) * 60 + Number(t.slice(3));
  await expect.poll(async () => minutes((await file()).stage.daylight!.time)).toBe(minutes(before) - 10);

  // North by pointing: the arrow goes a quarter turn clockwise.
  const north = page.getByRole('slider', { name: 'True north' });
  await north.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await file()).stage.site!.north).toBe(30);
});

test('exposure goes by a camera’s numbers; hours of sun are read on the ground and at a window', { tag: '@long' }, async ({ page }) => {
  project = await inDaylight('Exposure');
  await page.goto(`${base()}/stage`);
  await fill(page, 'EV100', '13.44');
  await expect.poll(async () => (await file()).grade.exposure).toBeCloseTo(0, 2);
  await fill(page, 'f-number', '16');
  // Two stops smaller an aperture at the same time: two stops darker.
  await expect.poll(async () => (await file()).grade.exposure).toBeCloseTo(-2, 1);
  await expect(page.getByTestId('sun-share')).toContainText(/two hours: \d+ %/);
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByLabel('Sun hours', { exact: true }).getByRole('link', { name: 'Export CSV' }).click(),
  ]);
  expect(readFileSync(await csv.path(), 'utf8').split('\r\n')).toHaveLength(64 * 64 + 2);
  await page.getByRole('radio', { name: 'Window' }).click();
  // High over the lamp nothing is in the way.
  await fill(page, 'Point y', '3');
  await expect(page.getByTestId('window-sun')).toContainText('level high');
  await fill(page, 'Minimum altitude', '50');
  await expect(page.getByTestId('window-sun')).toContainText('below minimum level');
});

test('a lamp is added, aimed and strengthened; one that daylight drowns is pointed out', { tag: '@long' }, async ({ page }) => {
  project = await anotherTern(server, 'Lamp');
  await page.goto(`${base()}/stage`);
  await choose(page, 'Lighting', 'Daylight');
  await page.getByRole('button', { name: 'Add light' }).click();
  await expect(page.getByText(/Hardly visible: daylight gives \d+ lx/)).toBeVisible();
  await choose(page, 'Light type', 'spot');
  await fill(page, 'Intensity', '200000');
  await fill(page, 'Colour', '4000');
  await fill(page, 'Cone angle', '20');
  await expect(page.getByText(/Hardly visible/)).toBeHidden();
  await expect.poll(async () => (await file()).stage.lights).toMatchObject([{ kind: 'spot', lumens: 200_000, kelvin: 4000, cone: 20, on: true }]);
  await fill(page, 'Colour', '100');
  await expect(page.getByRole('alert').first()).toBeVisible();
  await page.getByLabel('Light is on').click();
  await expect.poll(async () => (await file()).stage.lights![0]!.on, { timeout: 60_000 }).toBe(false);
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect.poll(async () => (await file()).stage.lights).toBeUndefined();
});

test('a sun study is planned by dates and steps, and rendered with the sun of each frame', { tag: '@long' }, async ({ page }) => {
  project = await inDaylight('Light of a year');
  await page.goto(`${base()}/shots`);
  await fill(page, 'Width', '96');
  await page.getByRole('button', { name: 'Sun study' }).first().click();
  await page.getByRole('button', { name: 'Solstices, equinoxes' }).click();
  await fill(page, 'From', '10:00');
  await fill(page, 'To', '14:00');
  await fill(page, 'Step', '120');
  await expect(page.getByText('1 shot · 12 frames', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Sun study', exact: true }).last().click();
  await choose(page, 'Legend', 'bottom left');
  await page.getByRole('button', { name: 'Sun study', exact: true }).last().click();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('sun-of-frame')).toContainText('2026-03-20 12:00');
  // The ruler draws the sun's altitude over the frames, and says this one's.
  const marked = await page.getByText(/^2026-03-20 {2}12:00 {2}sun/).textContent();
  await expect(page.getByTestId('rule-curve')).toHaveText(marked!.replace(/.*(sun \S+)$/, '$1'));
  await expect(page.getByText(/^2026-03-20 {2}12:00 {2}sun \d+\.\d°$/)).toBeVisible();
  await expect.poll(async () => (await file()).shots[0]).toMatchObject({ kind: 'sunStudy', from: '10:00', to: '14:00', stepMinutes: 120 });
  const set = await file();
  const csv = set.shots[0]!.kind === 'sunStudy' ? set.shots[0]!.dates : [];
  expect(csv).toEqual(['2026-03-20', '2026-06-21', '2026-09-23', '2026-12-21']);
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 120_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  const frames = await server.get<FrameReply[]>(`/batches/${batch!.id}/frames`);
  expect(frames).toHaveLength(12);
  expect(frames.every((f) => f.state === 'done')).toBe(true);
  // The legend is burnt into the lowest lines of the file: white letters with a dark edge, which the plain sweep has not.
  const reply = await page.request.get(`${server.url}/api/batches/${batch!.id}/frames/${frames[0]!.id}/picture`);
  const picture = await reply.body();
  /** Sharp edges along twelve rows. */
  const edges = async (top: number): Promise<number> => {
    const strip = await sharp(picture).extract({ left: 0, top, width: 96, height: 12 }).greyscale().raw().toBuffer();
    return strip.filter((v, k) => k % 96 > 0 && Math.abs(v - strip[k - 1]!) > 50).length;
  };
  expect(await edges(40)).toBeGreaterThan(40);
  expect(await edges(0)).toBe(0);
  const plan = await server.get<{ frames: { sun?: { date: string; time: string; azimuth: number } }[] }>(`/batches/${batch!.id}/plan`);
  for (const { sun } of plan.frames) {
    const exact = sunPosition({ ...set.stage.daylight!, date: sun!.date, time: sun!.time }, set.stage.site);
    expect(sun!.azimuth).toBeCloseTo(exact.azimuth, 9);
  }
});
