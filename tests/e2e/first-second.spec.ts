/** What a page costs: one context for all viewports, and no task that holds up the hand. */
import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { ternGlb } from '../support/box.js';
import { ternProject } from '../support/page.js';
import { TestServer } from '../support/server.js';

const server = new TestServer(4932);
let project: number;
let set: number;

test.beforeAll(async () => {
  const made = await ternProject(server, 'Tern');
  project = made.id;
  set = made.sets[0]!.id;
});
test.afterAll(() => server.end());

declare global {
  interface Window {
    contexts: number;
    longTasks: number[];
  }
}

/** Counts WebGL contexts, but for the one that is made and given back to ask what draws here, and notes long tasks. */
async function watch(page: Page): Promise<void> {
  await page.addInitScript(() => {
    window.contexts = 0;
    window.longTasks = [];
    const known = new WeakSet<object>();
    const getContext = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
      const context = getContext.call(this, kind as '2d', ...(rest as [])) as object | null;
      if (kind.startsWith('webgl') && context && this.isConnected && !known.has(context)) {
        known.add(context);
        window.contexts++;
      }
      return context as never;
    } as typeof getContext;
    new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((e) => e.duration))).observe({ type: 'longtask' });
  });
}

const drawn = async (page: Page): Promise<void> => {
  await expect(page.getByTestId('viewport').first().locator('canvas')).toBeVisible({ timeout: 60_000 });
};

test('all steps and rows share one context; a second view beside the first has the only other one', async ({ page }) => {
  await watch(page);
  await page.goto(`${server.url}/p/${project}/s/${set}/views`);
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await drawn(page);
  await page.getByRole('link', { name: /Shots/ }).click();
  for (const kind of ['Still', 'Turntable', 'Section reveal', 'Walkthrough']) {
    await page.getByRole('toolbar', { name: 'Shots' }).getByRole('button', { name: kind, exact: true }).click();
    await drawn(page);
  }
  const rows = page.locator('tr[aria-selected]');
  await expect(rows).toHaveCount(4);
  for (let i = 0; i < 4; i++) {
    await rows.nth(i).click();
    await drawn(page);
  }
  for (const step of ['Stage', 'Model', 'Views']) {
    await page.getByRole('link', { name: new RegExp(step) }).click();
    await drawn(page);
  }
  expect(await page.evaluate(() => window.contexts)).toBe(1);
  // Two viewports at once need two, and each draws the model.
  await page.getByRole('button', { name: 'Save as new view' }).click();
  await page.getByRole('combobox', { name: 'Compare with' }).click();
  await page.getByRole('option').last().click();
  await expect(page.getByTestId('viewport').locator('canvas')).toHaveCount(2);
  const shades = (): Promise<number[]> =>
    page
      .getByTestId('viewport')
      .locator('canvas')
      .evaluateAll((all) =>
        all.map((c) => {
          const small = document.createElement('canvas');
          [small.width, small.height] = [32, 18];
          const context = small.getContext('2d')!;
          context.drawImage(c as HTMLCanvasElement, 0, 0, 32, 18);
          return new Set(context.getImageData(0, 0, 32, 18).data).size;
        }),
      );
  await expect.poll(async () => Math.min(...(await shades()))).toBeGreaterThan(8);
  // The first still holds its model after it is drawn anew.
  await page.getByTestId('viewport').first().hover();
  await page.mouse.wheel(0, 120);
  await expect.poll(async () => Math.min(...(await shades()))).toBeGreaterThan(8);
  expect(await page.evaluate(() => window.contexts)).toBe(2);
});

/** Longest and whole time of long tasks since this was asked last, milliseconds. */
async function heldUp(page: Page): Promise<{ longest: number; total: number }> {
  // The browser tells of them a little later; drawing by software goes on meanwhile.
  await page.waitForTimeout(600);
  const tasks = await page.evaluate(() => window.longTasks.splice(0));
  return { longest: Math.max(0, ...tasks), total: tasks.reduce((sum, t) => sum + t, 0) };
}

test('no row and no step holds up the hand', async ({ page }) => {
  await watch(page);
  await page.goto(`${server.url}/p/${project}/s/${set}/shots`);
  await drawn(page);
  const rows = page.locator('tr[aria-selected]');
  await expect(rows).toHaveCount(4);
  const visit = async (): Promise<void> => {
    for (let i = 0; i < 4; i++) {
      await rows.nth(i).click();
      await drawn(page);
    }
    for (const step of ['Stage', 'Model', 'Views', 'Shots']) {
      await page.getByRole('link', { name: new RegExp(step) }).click();
      await drawn(page);
    }
  };
  // Code of charts and steps is fetched and compiled the first time.
  await visit();
  await heldUp(page);
  // The aims on two cores of its own are 100 ms a row, 150 ms a step, and no task above 200 ms. A machine that runs other
  // things too is given twice as much, and the best of three visits counts: what the page itself costs is in all of them.
  // With a context a viewport it was 300 to 1700 ms, each time.
  const best = { rows: [Infinity, Infinity, Infinity, Infinity], steps: [Infinity, Infinity, Infinity, Infinity], longest: Infinity };
  for (let visited = 0; visited < 3; visited++) {
    let longest = 0;
    for (let i = 0; i < 4; i++) {
      await rows.nth(i).click();
      await drawn(page);
      best.rows[i] = Math.min(best.rows[i]!, (await heldUp(page)).total);
    }
    for (const [i, step] of ['Stage', 'Model', 'Views', 'Shots'].entries()) {
      await page.getByRole('link', { name: new RegExp(step) }).click();
      await drawn(page);
      const held = await heldUp(page);
      longest = Math.max(longest, held.longest);
      best.steps[i] = Math.min(best.steps[i]!, held.total);
    }
    best.longest = Math.min(best.longest, longest);
  }
  expect(Math.max(...best.rows)).toBeLessThan(200);
  expect(Math.max(...best.steps)).toBeLessThan(300);
  expect(best.longest).toBeLessThan(400);
});

test('nothing that a page sends is uncompressed, but for pictures and the stream of events', async ({ page }) => {
  const plain: string[] = [];
  page.on('response', (response) => {
    const headers = response.headers();
    const type = headers['content-type'] ?? '';
    const bytes = Number(headers['content-length'] ?? Infinity);
    if (/^(text|application)\//.test(type) && !/event-stream|font|octet-stream/.test(type) && !headers['content-encoding'] && bytes > 1024)
      plain.push(`${response.url()} ${type}`);
  });
  await page.goto(`${server.url}/p/${project}/s/${set}/model`);
  await drawn(page);
  expect(plain.filter((line) => !line.includes('/api/session'))).toEqual([]);
});

/** Drops a file on the page, as from the desktop. */
async function drop(page: Page, name: string, bytes: Buffer): Promise<void> {
  const transfer = await page.evaluateHandle(
    ({ fileName, base64 }) => {
      const held = new DataTransfer();
      held.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], fileName));
      return held;
    },
    { fileName: name, base64: bytes.toString('base64') },
  );
  await page.dispatchEvent('body', 'dragover', { dataTransfer: transfer });
  await expect(page.getByText(/^Drop the model to/)).toBeVisible();
  await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
}

test('a STEP file dropped on the projects page is a project and a picture that comes up, without another action', async ({ page }) => {
  await page.goto(`${server.url}/`);
  await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
  await drop(page, 'notes.pdf', Buffer.from('%PDF'));
  await expect(page.getByText(/notes\.pdf: no model/)).toBeVisible();
  const begun = Date.now();
  await drop(page, 'cube.step', readFileSync('node_modules/occt-import-js/test/testfiles/cube-units/cube-mm.step'));
  await expect(page.getByTestId('live-state')).toContainText(/[1-9]\d* samples/, { timeout: 60_000 });
  test.info().annotations.push({ type: 'first picture, ms', description: String(Date.now() - begun) });
  await expect(page.getByRole('button', { name: 'Project: cube' })).toBeVisible();
  // Dropped on a step of a project it is its next revision.
  await drop(page, 'tern.glb', await ternGlb());
  await expect(page.getByText('Changes', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Name: tern').or(page.getByText('tern.glb')).first()).toBeVisible();
});
