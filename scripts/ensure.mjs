// Installs what a fresh machine lacks: the packages, and with --test a Chromium, ffprobe and models by others.
// With --build it also builds, since SQLite is compiled on one core and the others would wait; --unpack ends before that.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
process.chdir(root);

/** Ends with the code of the command; one that fails ends this program, with what to do. What the user's own environment sets goes before `env`. */
function run(command, args, env = {}) {
  process.stdout.write(`${command} ${args.join(' ')}\n`);
  const child = spawn(command, args, { stdio: 'inherit', env: { ...env, ...process.env } });
  return new Promise((resolve) => {
    const end = (code) => {
      if (code === 0) return resolve();
      process.stderr.write(`"${command} ${args.join(' ')}" failed. Mend what it says and try again.\n`);
      process.exit(code ?? 1);
    };
    child.on('error', () => end(null));
    child.on('exit', end);
  });
}

const has = (command) => spawnSync(command, ['--version'], { stdio: 'ignore' }).error === undefined;

async function unpackPackages() {
  // npm writes this file last, so an install that was cut off is made again.
  if (!existsSync('node_modules/.package-lock.json')) await run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund']);
}

/** Runs what packages do at their install: the one that takes long compiles SQLite where no compiled one can be had. */
async function preparePackages() {
  if (existsSync('node_modules/sqlite3/build/Release/node_sqlite3.node')) return;
  // With -O3, which it would take, the compiler needs half as long again.
  await run('npm', ['rebuild'], { JOBS: 'max', CFLAGS: '-O2' });
}

async function installPrograms() {
  const packages = [];
  // Chromium without the parts of a desktop does; it is lighter to install and to run.
  if (!process.env.CHROMIUM && !has('chromium-headless-shell') && !has('chromium')) packages.push('chromium-headless-shell');
  if (!has('ffprobe')) packages.push('ffmpeg');
  // Models by others in many formats, to read in tests.
  if (!existsSync('/usr/share/assimp/models')) packages.push('assimp-testmodels');
  if (packages.length === 0) return;
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
    await run(command, rest);
  }
}

const wants = (flag) => process.argv.includes(flag);

async function installAndBuild() {
  if (wants('--test')) await installPrograms();
  if (wants('--build')) await run(process.execPath, ['scripts/build.mjs']);
}

await unpackPackages();
if (!wants('--unpack')) await Promise.all([preparePackages(), installAndBuild()]);
