/** Starts the files of tests that take longest before all others: one that is begun last keeps a worker waiting for minutes. */
import path from 'node:path';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** More than 30 seconds on two cores, the slowest first. */
const SLOW = [
  'tests/load/recovery.test.ts',
  'tests/reference/files.test.ts',
  'src/server/http/packages.test.ts',
  'tests/load/pool.test.ts',
  'src/server/http/results.test.ts',
  'tests/load/strips.test.ts',
  'src/server/trust.test.ts',
  'tests/reference/forecastCli.test.ts',
  'src/server/outage.test.ts',
  'src/server/batches/strips.test.ts',
  'tests/reference/renderCli.test.ts',
  'tests/load/crew.test.ts',
  'tests/reference/preflightCli.test.ts',
  'src/server/batches/clips.test.ts',
  'tests/reference/surfaces.test.ts',
  'src/server/http/forecast.test.ts',
  'src/server/batches/movieKinds.test.ts',
  'tests/reference/fuzz.test.ts',
  'tests/reference/difference.test.ts',
  'src/server/http/notes.test.ts',
];

/** Runs long test files first, so that none is left alone at the end. */
export class SlowTestsFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const place = ({ moduleId }: TestSpecification): number => {
      const at = SLOW.indexOf(path.relative(process.cwd(), moduleId));
      return at < 0 ? SLOW.length : at;
    };
    return (await super.sort(files)).sort((a, b) => place(a) - place(b));
  }
}
