// Installs what a fresh machine lacks: the packages, and with --test a Chromium, ffprobe and models by others.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
process.chdir(root);

function run(command, args) {
  process.stdout.write(`${command} ${args.join(' ')}\n`);
  const result = spawnSync(command, args, { stdio: 'inherit' });
  if (result.status !== 0) {
    process.stderr.write(`"${command} ${args.join(' ')}" failed. Mend what it says and try again.\n`);
    process.exit(result.status ?? 1);
  }
}

const has = (command) => spawnSync(command, ['--version'], { stdio: 'ignore' }).error === undefined;

// npm writes this file last, so an install that was cut off is made again.
if (!existsSync('node_modules/.package-lock.json') || !existsSync('node_modules/sqlite3/build/Release/node_sqlite3.node'))
  run('npm', ['ci', '--no-audit', '--no-fund']);

if (process.argv.includes('--test')) {
  const packages = [];
  if (!process.env.CHROMIUM && !has('chromium')) packages.push('chromium');
  if (!has('ffprobe')) packages.push('ffmpeg');
  // Models by others in many formats, to read in tests.
  if (!existsSync('/usr/share/assimp/models')) packages.push('assimp-testmodels');
  if (packages.length > 0) {
    if (!has('apt-get')) {
      process.stderr.write(
        `The tests need ${packages.join(' and ')}; install ${packages.length > 1 ? 'them' : 'it'}, or name a Chromium in CHROMIUM, and try again.\n`,
      );
      process.exit(1);
    }
    const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
    for (const args of [
      ['update', '-q'],
      ['install', '-y', '-q', '--no-install-recommends', ...packages],
    ]) {
      const [command, ...rest] = [...sudo, 'apt-get', ...args];
      run(command, rest);
    }
  }
}
