/**
 * Takes the screenshots of docs/screenshots/ anew, from the demo on a server of its own: `npm run screenshots`, about ten
 * minutes on two cores; with beginnings of names after it, those alone. Build first.
 */
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import config from '../../playwright.config.js';
import { TestServer } from '../../tests/support/server.js';
import { prepareDemo } from './demo.js';
import { SCREENS, watchImages } from './screens.js';

const asked = process.argv.slice(2);
const wanted = SCREENS.filter(({ name }) => asked.length === 0 || asked.some((a) => name.startsWith(a)));
const folder = mkdtempSync(path.join(tmpdir(), 'cold-easel-'));
// Thumbnails as a user sees them, not as tests have them.
const server = new TestServer(0, { COLD_EASEL_DATA: folder, COLD_EASEL_DEMO: '1', COLD_EASEL_THUMBNAIL_SAMPLES: '16' });
if (!existsSync('dist/server.mjs')) throw new Error('There is nothing built yet: run `npm run build` first.');
await server.start();
const browser = await chromium.launch(config.use?.launchOptions);
try {
  const demo = await prepareDemo(server);
  for (const { name, take } of wanted) {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
    page.setDefaultTimeout(120_000);
    watchImages(page);
    try {
      await take(page, demo);
      await page.screenshot({ path: `docs/screenshots/${name}.png` });
      process.stdout.write(`${name}.png\n`);
    } catch (e) {
      // The others are still worth having.
      process.stderr.write(`${name}.png was not taken: ${(e as Error).message}\n`);
      process.exitCode = 1;
    }
    await page.close();
  }
} finally {
  await browser.close();
  await server.end();
  rmSync(folder, { recursive: true, force: true });
}
