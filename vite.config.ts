import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  root: 'src/web',
  plugins: [react(), tailwindcss()],
  build: { outDir: '../../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 1200 },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://localhost:4870' } },
  test: {
    root: '.',
    include: ['src/**/*.test.ts', 'tests/reference/**/*.test.ts', 'tests/load/**/*.test.ts', 'demo/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    pool: 'forks',
    maxWorkers: 2,
  },
});
