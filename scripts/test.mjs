// Runs every test: units and references with Vitest, the interface with Playwright; prints one line for both.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

process.chdir(path.dirname(path.dirname(fileURLToPath(import.meta.url))));
const reports = mkdtempSync(path.join(tmpdir(), 'easel-reports-'));
let failed = false;

function run(args, env = {}, timeout = undefined) {
  const result = spawnSync(process.execPath, args, { stdio: 'inherit', env: { ...process.env, ...env }, timeout, killSignal: 'SIGKILL' });
  const hung = result.error?.code === 'ETIMEDOUT';
  failed ||= result.status !== 0 && !hung;
  return hung ? 'hung' : result.status === 0;
}

/** Twice as long as the units take on two slow cores. */
const UNITS_LIMIT = 45 * 60_000;

/** A run that hangs is a failed run: it ends with a sentence, and is not made again. */
function runUnits(report) {
  const args = ['node_modules/vitest/vitest.mjs', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  if (run(args, {}, UNITS_LIMIT) !== 'hung') return;
  process.stderr.write(`The unit tests did not end within ${UNITS_LIMIT / 60_000} minutes.\n`);
  failed = true;
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

if (run(['scripts/build.mjs']) !== true) process.exit(1);
const units = path.join(reports, 'units.json');
const pages = path.join(reports, 'pages.json');
runUnits(units);
run(['node_modules/@playwright/test/cli.js', 'test', '--reporter=list,json'], { PLAYWRIGHT_JSON_OUTPUT_NAME: pages });
const a = read(units);
const b = read(pages);
rmSync(reports, { recursive: true, force: true });
const passed = (a?.numPassedTests ?? 0) + (b?.stats.expected ?? 0);
const wrong = (a?.numFailedTests ?? 0) + (b ? b.stats.unexpected + b.stats.flaky : 0);
const skipped = (a?.numPendingTests ?? 0) + (b?.stats.skipped ?? 0);
for (const name of failures(a, b)) process.stdout.write(`FAILED ${name.slice(0, 1500)}\n`);
process.stdout.write(`${passed} passed, ${wrong} failed, ${skipped} skipped\n`);
process.exit(failed || wrong > 0 || passed === 0 ? 1 : 0);
