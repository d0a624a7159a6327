// Runs the tests on what is built: units and references with Vitest, the interface with Playwright; prints one line for both.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

process.chdir(path.dirname(path.dirname(fileURLToPath(import.meta.url))));
const reports = mkdtempSync(path.join(tmpdir(), 'easel-reports-'));
let failed = false;

/** How long either kind of test may take: several times what they take on two slow cores. */
const LIMIT = 45 * 60_000;

/** Runs a program of node to its end; one that hangs is ended, with a sentence, and is not made again. */
async function run(args, { env = {}, name = args[0] } = {}) {
  const child = spawn(process.execPath, args, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...env } });
  const limit = setTimeout(() => {
    process.stderr.write(`${name} did not end within ${LIMIT / 60_000} minutes.\n`);
    child.kill('SIGKILL');
  }, LIMIT);
  const [status] = await once(child, 'exit');
  clearTimeout(limit);
  failed ||= status !== 0;
}

function read(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    failed = true;
    return null;
  }
}

/** Names of the failed tests, so that the last lines say what to look at. */
function failures(units, pages) {
  const names = [];
  for (const file of units?.testResults ?? [])
    for (const t of file.assertionResults)
      if (t.status === 'failed') names.push(`${path.relative('.', file.name)}: ${t.fullName}\n${t.failureMessages[0] ?? ''}`);
  const walk = (suite) => {
    for (const spec of suite.specs ?? [])
      if (!spec.ok) names.push(`${spec.file}: ${spec.title}\n${spec.tests.at(-1)?.results.at(-1)?.error?.message ?? ''}`);
    for (const inner of suite.suites ?? []) walk(inner);
  };
  for (const suite of pages?.suites ?? []) walk(suite);
  return names;
}

const units = path.join(reports, 'units.json');
const pages = path.join(reports, 'pages.json');
// One kind after the other: side by side the cores were no busier, and answers came late.
await run(['node_modules/vitest/vitest.mjs', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${units}`], {
  name: 'The unit tests',
});
await run(['node_modules/@playwright/test/cli.js', 'test', '--reporter=list,json'], {
  env: { PLAYWRIGHT_JSON_OUTPUT_NAME: pages },
  name: 'The browser tests',
});
const a = read(units);
const b = read(pages);
rmSync(reports, { recursive: true, force: true });
const passed = (a?.numPassedTests ?? 0) + (b?.stats.expected ?? 0);
const wrong = (a?.numFailedTests ?? 0) + (b ? b.stats.unexpected + b.stats.flaky : 0);
const skipped = (a?.numPendingTests ?? 0) + (b?.stats.skipped ?? 0);
for (const name of failures(a, b)) process.stdout.write(`FAILED ${name.slice(0, 1500)}\n`);
process.stdout.write(`${passed} passed, ${wrong} failed, ${skipped} skipped\n`);
process.exit(failed || wrong > 0 || passed === 0 ? 1 : 0);
