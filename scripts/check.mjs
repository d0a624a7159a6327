// Types, lint and the unit tests of what changed since the last commit: what to run before each commit.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

process.chdir(path.dirname(path.dirname(fileURLToPath(import.meta.url))));
const changed = spawnSync('git', ['status', '--porcelain', '-uall'], { encoding: 'utf8' })
  .stdout.split('\n')
  .map((line) => line.slice(3).split(' -> ').pop())
  .filter((file) => /\.(ts|tsx|mjs|js)$/.test(file) && !file.startsWith('kernel/'));

const steps = [
  ['types', ['node_modules/typescript-native/bin/tsc', '-p', 'tsconfig.json']],
  ['imports', ['node_modules/dependency-cruiser/bin/dependency-cruise.mjs', '--config', '.dependency-cruiser.cjs', 'src', 'bin', 'kernel']],
  ...(changed.length > 0
    ? [
        ['lint', ['node_modules/oxlint/bin/oxlint', '--type-aware', ...changed]],
        ['format', ['node_modules/oxfmt/bin/oxfmt', '--check', ...changed]],
      ]
    : []),
  ['units of what changed', ['node_modules/vitest/vitest.mjs', 'run', '--changed', '--passWithNoTests', 'src/']],
];
let failed = 0;
for (const [name, args] of steps) {
  const started = Date.now();
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8' });
  process.stdout.write(`${status === 0 ? 'ok  ' : 'FAIL'} ${name}, ${((Date.now() - started) / 1000).toFixed(1)} s\n`);
  if (status === 0) continue;
  failed++;
  process.stdout.write(`${stdout}${stderr}\n`);
}
process.exit(failed > 0 ? 1 : 0);
