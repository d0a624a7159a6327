// Builds what is missing, starts the server with the demo loaded, and prints the address.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { serve } from './serve.mjs';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
process.chdir(root);

/** Time of the newest file below the folders. */
function newest(...folders) {
  return Math.max(0, ...folders.flatMap((folder) => readdirSync(folder, { recursive: true }).map((f) => statSync(path.join(folder, f)).mtimeMs)));
}

const built = ['dist/server.mjs', 'dist/kernel.wasm', 'dist/web/index.html', 'dist/page/index.html'];
const fresh = built.every((f) => existsSync(f)) && statSync('dist/web/index.html').mtimeMs > newest('src', 'kernel', 'demo', 'scripts');
if (!fresh) {
  process.stdout.write('Building …\n');
  const result = spawnSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
  if (result.status !== 0) process.exit(result.status ?? 1);
}
serve([], { COLD_EASEL_DEMO: '1' });
