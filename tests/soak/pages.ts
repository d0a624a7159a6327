/** Tests of the interface that take too long for every change: those with the tag `@long`. */
import { spawnSync } from 'node:child_process';
import type { Report } from './report.js';

export function longPages(report: Report): Promise<void> {
  const args = ['node_modules/@playwright/test/cli.js', 'test', '--grep', '@long', '--reporter=json'];
  const { stdout } = spawnSync(process.execPath, args, { env: { ...process.env, EASEL_LONG: '1' }, encoding: 'utf8', maxBuffer: 2 ** 28 });
  const { stats } = JSON.parse(stdout.slice(stdout.indexOf('{\n'))) as { stats: { expected: number; unexpected: number; flaky: number } };
  report.figure('tests of the interface that passed', String(stats.expected), stats.expected > 0 && stats.unexpected === 0);
  report.figure('that failed', String(stats.unexpected + stats.flaky), stats.unexpected + stats.flaky === 0);
  return Promise.resolve();
}
