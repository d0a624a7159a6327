/** Habits of the hand: commands, themes, edits taken back over a reload, and what aids can read. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '../support/browserTest.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { ternProject, keepSheetOpen } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer();
let project: ProjectReply;

test.beforeAll(async () => {
  project = await ternProject(server, 'Habits');
  const set = project.sets[0]!.id;
  const { file, version } = await server.get<SetReply>(`/sets/${set}`);
  const view = {
    id: 'a',
    name: 'Three-quarter',
    kind: 'perspective' as const,
    eye: [0.8, 0.5, 1.1],
    target: [0, 0.2, 0],
    focalLength: 50,
    keepVerticals: false,
  };
  const planned = {
    ...file,
    sheet: { ...file.sheet, size: { width: 96, height: 54 } },
    stage: {
      ...file.stage,
      site: { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' },
      daylight: { time: '12:00' },
    },
    views: [view],
    shots: [
      { id: 'still', name: 'Still', kind: 'still', views: ['a'] },
      { id: 'turn', name: 'Turn', kind: 'turntable', view: 'a', frames: 6 },
      { id: 'sun', name: 'Sun', kind: 'sunStudy', view: 'a', dates: ['2026-06-21'], stepMinutes: 240 },
      { id: 'walk', name: 'Walk', kind: 'walkthrough', stations: [{ eye: [1, 0.5, 1] }, { eye: [0, 0.5, 1.5], seconds: 0.5 }] },
      { id: 'cut', name: 'Cut', kind: 'sectionReveal', view: 'a', stations: [{ height: 0.1 }, { height: 0.5, seconds: 0.5 }] },
    ],
  };
  await server.send('PUT', `/sets/${set}`, { file: planned, version });
  await server.send('POST', `/sets/${set}/batches`, { revision: project.revisions[0]!.id, shots: ['still', 'turn'] });
});
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;

async function command(page: Page, words: string, keys = 'Control+k'): Promise<void> {
  await page.keyboard.press(keys);
  const input = page.getByPlaceholder('Search commands');
  await input.fill(words);
  await input.press('Enter');
  await expect(input).toBeHidden();
}

test('any command is found by its name, in a field too; the theme is kept', async ({ page }) => {
  await page.goto(`${base()}/shots`);
  await page.getByLabel('Width', { exact: true }).focus();
  await command(page, 'go to vie');
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await command(page, 'night');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'night');
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'night');
  await command(page, 'single-key');
  await page.keyboard.press('4');
  // The next command is taken after it, on the step that it did not leave.
  await command(page, 'shortcuts on');
  await expect(page.getByRole('heading', { name: 'Views' })).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Shots' })).toBeVisible();
});

test('sizes go by their trade names and on paper, and are taken back after a reload too', { tag: '@long' }, async ({ page }) => {
  await page.goto(`${base()}/shots`);
  const width = page.getByLabel('Width', { exact: true });
  await page.getByTitle('Named sizes, half and double, paper sizes.').click();
  await page.getByRole('button', { name: 'UHD' }).click();
  await expect(width).toHaveValue('3840');
  await page.getByRole('button', { name: 'Half' }).click();
  await expect(width).toHaveValue('1920');
  await page.getByRole('button', { name: /^A4/ }).click();
  await expect(width).toHaveValue('3508');
  await page.keyboard.press('Escape');
  const sizes = page.getByTitle('Named sizes, half and double, paper sizes.');
  await expect(sizes).toContainText('300 dpi');
  await expect
    .poll(async () => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file.sheet)
    .toMatchObject({ size: { width: 3508 }, dpi: 300 });
  await page.reload();
  await expect(width).toHaveValue('3508');
  await page.keyboard.press('Control+z');
  await expect(width).toHaveValue('1920');
  await expect(sizes).not.toContainText('dpi');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(width).toHaveValue('96');
  await page.keyboard.press('Control+y');
  await expect(width).toHaveValue('3840');
  await page.keyboard.press('Control+z');
  await expect(width).toHaveValue('96');
});

test('axe finds nothing on any step, by day and by night', async ({ page }) => {
  const places = [
    'model',
    'stage',
    'views',
    'shots?shot=turn',
    'shots?shot=sun',
    'shots?shot=walk',
    'shots?shot=cut',
    'preflight',
    'batch',
    'review',
    'hand-over',
  ];
  const found: string[] = [];
  // The queue has one that waits for its hour beside what is over.
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString();
  await server.send('POST', `/sets/${project.sets[0]!.id}/batches`, { revision: project.revisions[0]!.id, shots: ['still'], startAt: tomorrow });
  // No frames stand in other frames here: the page itself gathers what is found.
  const axe = (): AxeBuilder => new AxeBuilder({ page }).setLegacyMode();
  const look = async (place: string, theme: string, builder: AxeBuilder): Promise<void> => {
    const { violations } = await builder.analyze();
    for (const v of violations) {
      const where = v.nodes
        .map((n) => n.target.join(' '))
        .slice(0, 3)
        .join(' | ');
      found.push(`${place.replace(server.url, '')} by ${theme}: ${v.id} at ${where}`);
    }
  };
  for (const place of [...places.map((p) => `${base()}/${p}`), `${server.url}/`, `${server.url}/queue`]) {
    await page.goto(place);
    await page.locator('h1').first().waitFor();
    await expect(page.getByText(/^(Loading|Checking)/)).toHaveCount(0);
    await page.evaluate(() => document.fonts.ready);
    await look(place, 'day', axe());
    // As the button does it, which the list of projects has not. A theme changes colours and nothing else.
    await page.evaluate(() => (document.documentElement.dataset.theme = 'night'));
    await look(place, 'night', axe().withRules(['color-contrast', 'link-in-text-block']));
  }
  expect(found).toEqual([]);
});

test('the format sheet folds to one line of its values, and stays as it was left', { tag: '@long' }, async ({ page }) => {
  await page.goto(`${base()}/shots?shot=turn`);
  const sheet = page.getByRole('region', { name: 'Format sheet' });
  const fold = sheet.getByRole('button', { name: /^Format sheet/ });
  const width = sheet.getByLabel('Width', { exact: true });
  await expect(width).toBeVisible();
  await fold.click();
  await expect(width).toHaveCount(0);
  await expect(fold).toContainText(/\d+ × \d+ · .* samples/);
  await page.reload();
  await expect(fold).toHaveAttribute('aria-expanded', 'false');
  // Half of the height is left to the shot's editor.
  const editor = (await page.getByTestId('output-frame').first().boundingBox())!;
  expect(editor.y + editor.height).toBeLessThan(800);
  await fold.press('Enter');
  await expect(width).toBeVisible();
});
