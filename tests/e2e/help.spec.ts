/** Every field says what it does. */
import { expect, type Page, test } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { anotherTern, keepSheetOpen, settled } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

test.use({ gl: true });

let address: string;

test.beforeAll(async () => {
  await server.start();
  const made: ProjectReply = await anotherTern(server, 'Tern');
  const set = made.sets[0]!.id;
  address = `${server.url}/p/${made.id}/s/${set}`;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = { id: 'v', name: 'View', kind: 'perspective', eye: [0.9, 0.5, 1.2], target: [0, 0.2, 0], focalLength: 50, aperture: 4 };
  const site = { latitude: 60, longitude: 19, timeZone: 'Europe/Mariehamn' };
  await server.send('PUT', `/sets/${set}`, {
    version,
    file: {
      ...file,
      stage: { preset: 'open sky', site, daylight: {}, lights: [{ id: 'l', name: 'Lamp', kind: 'spot', at: [1, 1, 1], target: [0, 0, 0] }] },
      section: { planes: [{ normal: [0, 0, 1], offset: 0 }] },
      views: [view, { ...view, id: 'w', name: 'Other' }],
      shots: [
        { id: 'still', kind: 'still', views: ['v'] },
        { id: 'turn', kind: 'turntable', view: 'v', frames: 4, pivot: [0, 0, 0] },
        { id: 'tilt', kind: 'turntable', view: 'v', frames: 4, axis: { from: [0, 0, 0], to: [0, 1, 1] } },
        { id: 'sun', kind: 'sunStudy', view: 'v', dates: ['2026-06-21'], stepMinutes: 180 },
        { id: 'walk', kind: 'walkthrough', stations: [{ eye: [1, 1, 1] }, { eye: [0, 1, 2] }] },
        { id: 'cut', kind: 'sectionReveal', view: 'v', stations: [{ height: 0.5 }, { height: 0.1, seconds: 1 }] },
      ],
    },
  });
});
test.afterAll(() => server.end());

/** Labels of fields on the page whose help is nowhere: neither described nor titled. */
async function withoutHelp(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const fields = [...document.querySelectorAll<HTMLElement>('input:not([type=file]):not([type=hidden]), select, textarea, [role=combobox]')];
    const described = (e: HTMLElement): boolean =>
      (e.getAttribute('aria-describedby') ?? '').split(' ').some((id) => (document.getElementById(id)?.textContent ?? '').trim().length > 8) ||
      (e.getAttribute('aria-description') ?? '') !== '' ||
      (e.closest('[title]')?.getAttribute('title') ?? '') !== '';
    const nameOf = (e: HTMLElement): string =>
      e.getAttribute('aria-label') ??
      (e as HTMLInputElement).labels?.[0]?.textContent?.trim() ??
      e.getAttribute('placeholder') ??
      e.outerHTML.slice(0, 80);
    return fields.filter((e) => e.getClientRects().length > 0 && !described(e)).map(nameOf);
  });
}

test('no field on any step is without help', { tag: '@long' }, async ({ page }) => {
  await keepSheetOpen(page);
  const found: string[] = [];
  for (const step of [
    'model',
    'stage',
    'views',
    'shots?shot=still',
    'shots?shot=turn',
    'shots?shot=tilt',
    'shots?shot=sun',
    'shots?shot=walk',
    'shots?shot=cut',
  ]) {
    await page.goto(`${address}/${step}`);
    await expect(page.getByTestId('viewport').locator('canvas').first()).toBeVisible({ timeout: 60_000 });
    if (step === 'model') await page.getByRole('tree', { name: 'Parts' }).getByRole('treeitem').nth(2).click();
    await page.evaluate(() => document.querySelectorAll('details').forEach((d) => (d.open = true)));
    await settled(page);
    found.push(...(await withoutHelp(page)).map((name) => `${step}: ${name}`));
  }
  expect([...new Set(found)]).toEqual([]);
});
