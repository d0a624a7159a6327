// Starts the server as a process of its own, and passes signals and its end on.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

/** What the server's process is given beside its settings. */
export const SERVER_ENV = {
  // glibc keeps many arenas of memory for threads and gives little of them back; see docs/reliability.md for what two come to.
  MALLOC_ARENA_MAX: '2',
};

/** Runs the server to its end, and ends with its code. */
export function serve(args = [], env = {}) {
  const server = spawn(process.execPath, [path.join(root, 'dist/server.mjs'), ...args], {
    stdio: 'inherit',
    env: { ...SERVER_ENV, ...process.env, ...env },
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('exit', (code) => process.exit(code ?? 0));
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) serve(process.argv.slice(2));
