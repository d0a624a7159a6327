/** Tests that take too long for every change: those of the interface with the tag `@long`, and units that are made with `longTest`. */
import { spawnSync } from 'node:child_process';
import type { Report } from './report.js';

function run(args: string[]): unknown {
  const { stdout } = spawnSync(process.execPath, args, { env: { ...process.env, EASEL_LONG: '1' }, encoding: 'utf8', maxBuffer: 2 ** 28 });
  return JSON.parse(stdout.slice(stdout.search(/^\{/m)));
}

function tell(report: Report, what: string, passed: number, failed: number): void {
  report.figure(`${what} that passed`, String(passed), passed > 0 && failed === 0);
  report.figure('that failed', String(failed), failed === 0);
}

/** Long tests of the interface. */
export function longPages(report: Report): Promise<void> {
  const { stats } = run(['node_modules/@playwright/test/cli.js', 'test', '--grep', '@long', '--reporter=json']) as {
    stats: { expected: number; unexpected: number; flaky: number };
  };
  tell(report, 'tests of the interface', stats.expected, stats.unexpected + stats.flaky);
  return Promise.resolve();
}

/** The files of units and references that hold long tests, with all their tests. */
export function longUnits(report: Report): Promise<void> {
  const { stdout } = spawnSync('grep', ['-rlE', '^ *longTest', 'src', 'tests'], { encoding: 'utf8' });
  const files = stdout.split('\n').filter((f) => f.endsWith('.test.ts'));
  const { numPassedTests, numFailedTests } = run(['node_modules/vitest/vitest.mjs', 'run', '--reporter=json', ...files]) as {
    numPassedTests: number;
    numFailedTests: number;
  };
  tell(report, 'units and references', numPassedTests, numFailedTests);
  return Promise.resolve();
}
