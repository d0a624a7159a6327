/**
 * The long runs behind docs/reliability.md: `npm run soak` runs all of them, `npm run soak -- kills fuzz` some, and
 * `-- --page docs/reliability-figures.md` writes the figures. Ends with 1 where one is beyond its limit.
 */
import { build } from 'esbuild';
import { fullDisk, lockedDatabase } from './faults.js';
import { fuzz } from './fuzz.js';
import { kills } from './kills.js';
import { hugeBatch, largeFrames, longBatch, manyParts, tinyFrames } from './load.js';
import { longPages, longUnits } from './longTests.js';
import { Report } from './report.js';

const RUNS: Record<string, [string, (report: Report) => Promise<void>]> = {
  kills: ['Kills at random instants', kills],
  faults: [
    'Disk and database at fault',
    async (report) => {
      await fullDisk(report);
      await lockedDatabase(report);
    },
  ],
  fuzz: ['Damaged input', fuzz],
  frames: [
    'Very many frames, and large ones',
    async (report) => {
      await tinyFrames(report);
      await largeFrames(report);
    },
  ],
  long: ['10 000 frames', longBatch],
  batch: ['A very long batch', hugeBatch],
  parts: ['Very many parts', manyParts],
  pages: ['Long tests of the interface', longPages],
  units: ['Long units and references', longUnits],
};

const args = process.argv.slice(2);
const page = args.includes('--page') ? args[args.indexOf('--page') + 1] : undefined;
const wanted = args.filter((a) => a !== '--page' && a !== page);
const unknown = wanted.find((w) => !(w in RUNS));
if (unknown) {
  process.stderr.write(`"${unknown}" is not a run; there is ${Object.keys(RUNS).join(', ')}.\n`);
  process.exit(2);
}
await build({
  entryPoints: { 'fuzz-worker': 'tests/soak/fuzzWorker.ts' },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  logLevel: 'warning',
});
const report = new Report();
for (const [name, [title, run]] of Object.entries(RUNS)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  report.section(title);
  try {
    await run(report);
  } catch (e) {
    report.figure('the run itself', (e as Error).message, false);
  }
}
if (page) report.write(page);
process.stdout.write(`\n${report.passed} passed, ${report.failed} failed\n`);
process.exit(report.failed > 0 ? 1 : 0);
