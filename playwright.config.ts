import { existsSync } from 'node:fs';
import { defineConfig } from '@playwright/test';

/** The one without the parts of a desktop first: the tests take a fifth less time with it. */
const CHROMIUM = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

export default defineConfig({
  testDir: 'tests/e2e',
  globalSetup: './tests/support/sharedThumbnails.ts',
  timeout: 300_000,
  // States are waited for, not times: software GL on two busy cores may keep a page for long.
  expect: { timeout: 60_000 },
  // What takes long is run by `npm run soak -- pages`.
  ...(process.env.EASEL_LONG === undefined ? { grepInvert: /@long/ } : {}),
  // Each file has a server of its own, on a port of its own.
  workers: 2,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    deviceScaleFactor: 0.5,
    contextOptions: { reducedMotion: 'reduce' },
    acceptDownloads: true,
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? CHROMIUM.find((file) => existsSync(file)),
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        // The page itself is drawn without a GPU: software GL takes three times as long for it.
        '--disable-gpu-rasterization',
        '--disable-gpu-compositing',
      ],
    },
  },
});
