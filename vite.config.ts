import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import type { Plugin } from 'vite';
import { configDefaults, defineConfig } from 'vitest/config';
import { SlowTestsFirst } from './scripts/slowTestsFirst.js';

/** Sonner puts its styles into the page by a script, which the content security policy forbids; they are imported as a file. */
const stylesAsFile: Plugin = {
  name: 'styles-as-file',
  transform(code, id) {
    if (!/sonner\/dist\/index\.mjs$/.test(id)) return undefined;
    const plain = code.replace(/^__insertCSS\(".*"\);?$/m, '');
    if (plain === code) throw new Error('sonner no longer inserts its styles in the way that is left out here; look at vite.config.ts.');
    return { code: plain, map: null };
  },
};

const CORPUS = process.env.EASEL_CORPUS !== undefined;
const TESTS = ['src/**/*.test.ts', 'tests/reference/**/*.test.ts', 'tests/load/**/*.test.ts', 'demo/**/*.test.ts', 'kernel/**/*.test.ts'];
/** These have a page of their own, and leave things in it. */
const WITH_PAGE = ['src/web/**/*.test.{ts,tsx}'];

export default defineConfig({
  root: 'src/web',
  plugins: [stylesAsFile, react(), tailwindcss()],
  build: { outDir: '../../dist/web', emptyOutDir: true, manifest: true, chunkSizeWarningLimit: 1200 },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://localhost:4870' } },
  test: {
    root: '.',
    // The corpus takes long and is run on its own: `npm run corpus`.
    ...(CORPUS && { include: ['tests/corpus/**/*.test.ts'] }),
    setupFiles: ['tests/support/equalBytes.ts'],
    testTimeout: 240_000,
    hookTimeout: 240_000,
    pool: 'forks',
    // One more than the cores that a test run has: some wait for servers and encoders.
    maxWorkers: 3,
    sequence: { sequencer: SlowTestsFirst },
    projects: CORPUS
      ? undefined
      : [
          // Files share their modules with those that run before them in the same process: reading them took longer than many tests.
          { extends: true, test: { name: 'core', include: TESTS, exclude: [...configDefaults.exclude, ...WITH_PAGE], isolate: false } },
          { extends: true, test: { name: 'pages', include: WITH_PAGE } },
        ],
  },
});
