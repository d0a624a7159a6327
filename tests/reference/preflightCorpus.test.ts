/** Precision and recall of the findings over sets made by code. Each miss is named in what the test prints. */
import { expect, test } from 'vitest';
import { FINDINGS } from '../../src/core/preflight/findings.js';
import { checkModel, planOfModel } from '../support/checkModel.js';
import { corpus } from '../support/preflightCorpus.js';

/** Of all that was planted, and of all that was found, so much at least is right. */
const LEAST = 0.95;

test('what was planted is found, and nothing else', async () => {
  const sets = corpus();
  const [missed, wrong]: [string[], string[]] = [[], []];
  let right = 0;
  for (const set of sets) {
    const { findings } = await checkModel(planOfModel(set.pieces, set.changes, set));
    // A note asks nobody to do anything: it counts only where it was planted.
    const found = new Set(findings.filter((f) => f.severity !== 'note' || f.check === set.planted).map((f) => f.check));
    if (set.planted !== undefined && !found.delete(set.planted)) missed.push(set.name);
    else if (set.planted !== undefined) right++;
    for (const follow of set.follows ?? []) found.delete(follow);
    wrong.push(...[...found].map((check) => `${set.name}: ${check}: ${findings.find((f) => f.check === check)!.message}`));
  }
  const planted = sets.filter((s) => s.planted !== undefined).length;
  const recall = right / planted;
  const precision = right / (right + wrong.length);
  process.stdout.write(
    [
      `${planted} planted, ${sets.length - planted} clean: recall ${recall.toFixed(3)}, precision ${precision.toFixed(3)}`,
      ...missed.map((m) => `missed: ${m}`),
      ...wrong.map((w) => `wrong: ${w}`),
      '',
    ].join('\n'),
  );
  expect(planted).toBeGreaterThanOrEqual(60);
  expect(sets.length - planted).toBeGreaterThanOrEqual(60);
  expect(recall).toBeGreaterThanOrEqual(LEAST);
  expect(precision).toBeGreaterThanOrEqual(LEAST);
});

test('every finding is planted at least once', () => {
  const planted = new Set(corpus().flatMap((s) => s.planted ?? []));
  expect(FINDINGS.map((f) => f.id).filter((id) => !planted.has(id))).toEqual([]);
});
