#!/usr/bin/env node
// Entry of the command line; the program itself is built to dist/easel.mjs.
import { existsSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const program = path.join(root, 'dist', 'easel.mjs');
if (!existsSync(program)) {
  // What the build says must not mix with a machine-readable result.
  const built = spawnSync(process.execPath, [path.join(root, 'scripts', 'build.mjs'), '--node'], { stdio: ['ignore', 2, 2] });
  if (built.status !== 0) {
    process.stderr.write('Cold Easel could not be built; run "npm install" first.\n');
    process.exit(1);
  }
}
await import(pathToFileURL(program).href);
