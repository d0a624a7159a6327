/** What each screenshot shows, and the way to it by the interface. */
import { expect as soon, type Page, type Request } from '@playwright/test';
import { FIRST_LOOK } from '../../demo/sets.js';
import { fill, settled } from '../../tests/support/page.js';
import { type Demo, until } from './demo.js';

/** A screenshot: its name, and the way to what it shows. */
export interface Screen {
  name: string;
  take: (page: Page, demo: Demo) => Promise<void>;
}

/** The default is meant for one state after another, not for renders that are compared or packed. */
const expect = soon.configure({ timeout: 120_000 });

const REVIEWED = 'Product review';
const STILL = 'Two views, Three-quarter';

/** A cell of the wall. */
const cell = (page: Page, name: string) => page.getByRole('gridcell', { name }).first();

/** Images that a page has asked for and not got. */
const pending = new WeakMap<Page, Set<Request>>();

/** Looks at what a page asks for from now on. */
export function watchImages(page: Page): void {
  const asked = new Set<Request>();
  pending.set(page, asked);
  page.on('request', (r) => r.resourceType() === 'image' && asked.add(r));
  for (const end of ['requestfinished', 'requestfailed'] as const) page.on(end, (r) => asked.delete(r));
}

/** Waits until the images and fields of a page are there, and no more images are asked for. */
async function shown(page: Page): Promise<void> {
  await settled(page);
  for (let quiet = 0; quiet < 8; quiet++) {
    await page.waitForTimeout(500);
    if (pending.get(page)!.size > 0) quiet = 0;
  }
}

/** A step as it is when it is opened. */
const step =
  (project: 'landing' | 'lamp', set: string, name: string, query = '') =>
  async (page: Page, demo: Demo): Promise<void> => {
    await page.goto(demo.at(project, set, name, query));
    await shown(page);
  };

/** Review of the quick set, one still of it in hand. */
async function still(page: Page, demo: Demo, revision: string): Promise<void> {
  await step('lamp', FIRST_LOOK, 'review')(page, demo);
  await cell(page, `${STILL}, Revision ${revision}`).click();
  await expect(page.getByTestId('easel-picture')).toBeVisible();
}

async function compared(page: Page, demo: Demo): Promise<void> {
  await still(page, demo, 'A');
  await cell(page, `${STILL}, Revision B`).click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Difference', exact: true }).click();
  await expect(page.getByTestId('changed-parts')).toContainText('Glass shade');
  await page.keyboard.press('f');
  await shown(page);
}

async function graded(page: Page, demo: Demo): Promise<void> {
  await still(page, demo, 'B');
  await page.getByRole('button', { name: 'Grade', exact: true }).click();
  await expect(page.getByTestId('graded')).toBeVisible();
  await fill(page, 'Exposure (EV)', '0.4');
  await page.getByRole('checkbox', { name: 'Mark clipping' }).check();
  await shown(page);
}

async function noted(page: Page, demo: Demo): Promise<void> {
  await still(page, demo, 'B');
  await page.getByRole('button', { name: 'Notes', exact: true }).click();
  const notes = page.getByRole('region', { name: 'Notes' });
  await notes.getByRole('button', { name: 'Pin' }).click();
  const box = (await page.getByTestId('note-drawing').boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.62, box.y + box.height * 0.4);
  await notes.getByLabel('Write the note').fill('Shade reads grey here; try the clear glass.');
  await notes.getByLabel('Write the note').press('Enter');
  await expect(notes.getByTestId('note')).toContainText('Glass shade');
  await notes.getByRole('button', { name: /Shade reads grey/ }).click();
  await notes.getByLabel('Answer').fill('Clear glass it is, from revision C on.');
  await notes.getByLabel('Answer').press('Enter');
  await shown(page);
}

async function changes(page: Page, demo: Demo): Promise<void> {
  await step('lamp', REVIEWED, 'review')(page, demo);
  await page.getByRole('button', { name: 'What changed' }).click();
  await expect(page.getByTestId('changes-progress')).toHaveText(/^\d+ shots compared\.$/);
  await shown(page);
}

async function handedOver(page: Page, demo: Demo): Promise<void> {
  await step('lamp', FIRST_LOOK, 'hand-over')(page, demo);
  for (const name of ['First look', 'First look, second round']) {
    await fill(page, 'Name', name);
    await page.getByRole('button', { name: 'Make package' }).click();
    await expect(page.getByTestId('package').filter({ hasText: name }).first()).toHaveAttribute('data-state', 'ready');
    await page.getByRole('checkbox', { name: 'Contact sheet', exact: true }).check();
  }
  await expect(page.getByTestId('audit-said')).toContainText('all are as planned');
  await shown(page);
}

/** Shots with its forecast. */
const shots =
  (project: 'landing' | 'lamp', set: string) =>
  async (page: Page, demo: Demo): Promise<void> => {
    await step(project, set, 'shots')(page, demo);
    await expect(page.getByTestId('forecast')).toContainText(/\d (min|h)/);
    await shown(page);
  };

async function forecast(page: Page, demo: Demo): Promise<void> {
  await shots('lamp', REVIEWED)(page, demo);
  await page.getByTestId('forecast').click();
  const details = page.getByRole('dialog', { name: 'Forecast in detail' });
  const soon = new Date(Date.now() + 6 * 60_000);
  await details.getByLabel('Be done by').fill(`${soon.getHours()}:${String(soon.getMinutes()).padStart(2, '0')}`);
  await details.getByLabel('Be done by').press('Enter');
  await expect(details.getByRole('img', { name: 'With this change' }).first()).toBeVisible();
  await shown(page);
}

/** The lamp's whole set while it runs. */
async function running(page: Page, demo: Demo): Promise<void> {
  const batch = await demo.begin(REVIEWED, { revision: demo.revision('B'), draft: { size: 1, samples: 0.5 } });
  const now = async () => (await demo.server.get<{ done: number }>(`/batches/${batch.id}`)).done;
  await until(async () => (await now()) >= 9);
  await step('lamp', REVIEWED, 'batch', `?batch=${batch.id}`)(page, demo);
  await expect(page.getByTestId('times')).toBeVisible();
}

/** Three more batches behind the one that runs. */
async function queued(page: Page, demo: Demo): Promise<void> {
  const evening = new Date();
  evening.setHours(22, 0, 0, 0);
  await demo.begin(REVIEWED, { revision: demo.revision('A'), shots: ['opened'], startAt: evening.toISOString() });
  await demo.begin(REVIEWED, { revision: demo.revision('B'), shots: ['turntable'], priority: 'last', select: 'first every 2' });
  await page.goto(`${demo.server.url}/queue`);
  await expect(page.getByRole('list', { name: 'Queue' }).getByRole('listitem')).toHaveCount(3);
  await shown(page);
}

/** In an order in which each finds what it needs: the running batch comes late, so that it takes no time from the others. */
export const SCREENS: readonly Screen[] = [
  { name: 'model', take: step('lamp', REVIEWED, 'model') },
  { name: 'stage', take: step('lamp', FIRST_LOOK, 'stage') },
  { name: 'daylight', take: step('landing', 'Daylight study, four dates', 'stage') },
  { name: 'views', take: step('lamp', REVIEWED, 'views') },
  { name: 'shots', take: shots('lamp', REVIEWED) },
  { name: 'sun-study', take: shots('landing', 'Daylight study, four dates') },
  { name: 'walkthrough', take: shots('landing', 'Entrance walk') },
  { name: 'forecast', take: forecast },
  { name: 'preflight', take: step('landing', 'Planning board review', 'preflight') },
  { name: 'review', take: compared },
  { name: 'review-grade', take: graded },
  { name: 'review-notes', take: noted },
  { name: 'review-changes', take: changes },
  { name: 'handover', take: handedOver },
  {
    name: 'projects',
    take: async (page, demo) => {
      await page.goto(demo.server.url);
      await shown(page);
    },
  },
  { name: 'batch', take: running },
  { name: 'queue', take: queued },
];
