import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** The review page: one script, one style sheet and fonts beside each other, with no address of a server in them. */
export default defineConfig({
  root: 'src/web/page',
  base: './',
  plugins: [react(), tailwindcss()],
  build: {
    outDir: '../../../dist/page',
    emptyOutDir: true,
    cssCodeSplit: false,
    modulePreload: false,
    rollupOptions: {
      input: 'src/web/page/main.tsx',
      output: {
        format: 'iife',
        entryFileNames: 'page.js',
        assetFileNames: ({ names }) => (names[0]?.endsWith('.css') ? 'page.css' : '[name][extname]'),
      },
    },
  },
});
