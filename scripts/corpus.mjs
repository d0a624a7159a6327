// Runs the long measurements of tests/corpus/, which take many renders or a whole set to judge.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

process.chdir(path.dirname(path.dirname(fileURLToPath(import.meta.url))));
const env = { ...process.env, EASEL_CORPUS: '1' };
for (const args of [
  ['scripts/build.mjs', '--node'],
  ['node_modules/vitest/vitest.mjs', 'run'],
]) {
  const { status } = spawnSync(process.execPath, args, { stdio: 'inherit', env });
  if (status !== 0) process.exit(status ?? 1);
}
