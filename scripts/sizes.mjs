// Compresses the built pages beside themselves, and fails where what a page loads first grows over its limit.
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const web = path.join(path.dirname(path.dirname(new URL(import.meta.url).pathname)), 'dist', 'web');
const KB = 1000;

/** Kilobytes of code, compressed, that are loaded before a page is of use: its module and all that this imports. Of the projects page, styles too. */
const LIMITS = [
  { page: 'Projects', limit: 180, modules: ['index.html'], styles: true },
  {
    page: 'Model with viewport',
    limit: 450,
    modules: ['index.html', 'app/Shell.tsx', 'features/model/ModelStep.tsx', 'viewport/CanvasHosts.tsx'],
  },
];

for (const name of readdirSync(web, { recursive: true })) {
  const file = path.join(web, name);
  if (!/\.(js|css|html|svg|wasm)$/.test(name) || !statSync(file).isFile()) continue;
  const bytes = readFileSync(file);
  writeFileSync(`${file}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }));
  writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
}

const manifest = JSON.parse(readFileSync(path.join(web, '.vite', 'manifest.json'), 'utf8'));

/** Files that a module needs before it runs. */
function filesOf(key, found = new Set()) {
  const chunk = manifest[key];
  if (!chunk) throw new Error(`There is no module "${key}" in the build; look at the limits in scripts/sizes.mjs.`);
  for (const file of [chunk.file, ...(chunk.css ?? [])]) found.add(file);
  for (const next of chunk.imports ?? []) if (!found.has(manifest[next].file)) filesOf(next, found);
  return found;
}

let over = false;
for (const { page, limit, modules, styles } of LIMITS) {
  const files = new Set(modules.flatMap((m) => [...filesOf(m)]).filter((f) => styles || f.endsWith('.js')));
  const bytes = [...files].reduce((sum, file) => sum + statSync(path.join(web, `${file}.br`)).size, 0);
  const line = `${page}: ${(bytes / KB).toFixed(0)} KB of ${limit} KB compressed, in ${files.size} files`;
  process.stdout.write(`${line}\n`);
  if (bytes <= limit * KB) continue;
  over = true;
  process.stderr.write(`${page} loads too much at first. Import what it does not need at once where it is shown.\n`);
}
process.exit(over ? 1 : 0);
