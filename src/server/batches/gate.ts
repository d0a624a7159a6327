/** Between the first frames of a batch and the rest: they are read back and judged, and a person may want to look. */
import { Op } from 'sequelize';
import type { Frame } from '../../core/frame/frame.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame } from '../db/models.js';
import { checkFiles } from './checkFiles.js';
import type { Run, RunHost } from './run.js';
import { nameOfRun } from './snapshot.js';

/** Problems that a reason names. */
const MAX_NAMED = 4;

/** `go`, `hold`: what was asked for; `waiting`: it is held there; null: it is passed. */
export type Gate = 'go' | 'hold' | 'waiting' | null;

/** Writes whether the batch waits for a person's word after its first frames. */
export async function setGate({ database }: ServerContext, batch: Batch, gate: Gate): Promise<void> {
  await database.write((transaction) => Batch.update({ gate }, { where: { id: batch.id }, transaction }));
  batch.set({ gate });
}

/** How far beyond what is promised counts: the kernel looks at cells every few samples alone. */
const NOISE_MARGIN = 1.1;

/** Where a frame ended before it was as even as its quality promises: of time, or of samples. */
export function noiseProblem({ noise, samples }: Pick<BatchFrame, 'noise' | 'samples'>, { sampling }: Pick<Frame, 'sampling'>): string | null {
  if (noise === null || noise === undefined || sampling.noise <= 0 || noise <= sampling.noise * NOISE_MARGIN) return null;
  return `The noise is ${noise.toFixed(3)} where ${sampling.noise} was asked for; sampling ended at ${samples} samples.`;
}

/** What is wrong with the first frames, a sentence each. */
async function problemsOf({ store }: ServerContext, run: Run, rows: readonly BatchFrame[]): Promise<string[]> {
  const found: string[] = [];
  for (const row of rows) {
    const where = `${nameOfRun(run.digest, row.shot)}, frame ${row.number}`;
    if (row.state === 'failed') found.push(`${where} failed: ${row.message ?? 'no reason was recorded.'}`);
    if (row.state !== 'done') continue;
    const frame = await run.frameAt(row.position);
    const noisy = noiseProblem(row, frame);
    if (noisy) found.push(`${where}: ${noisy}`);
    for (const problem of await checkFiles(frame, (file) => store.picture(run.batch.folder, file))) found.push(`${where}: ${problem}`);
  }
  return found;
}

/** Judges the first frames once all of them are over: lets the batch go on, or holds it with the reason. */
export async function passGate(context: ServerContext, run: Run, host: RunHost): Promise<void> {
  const { batch } = run;
  const of = (first: number) => ({ batchId: batch.id, first });
  // Stopped or paused meanwhile: they are not over yet.
  if ((await BatchFrame.count({ where: { ...of(1), state: { [Op.in]: ['waiting', 'rendering'] } } })) > 0) return;
  const problems = await problemsOf(context, run, await BatchFrame.findAll({ where: of(1), order: ['position'] }));
  const rest = await BatchFrame.count({ where: { batchId: batch.id, state: 'waiting' } });
  if (problems.length === 0 && (batch.gate === 'go' || rest === 0)) {
    await setGate(context, batch, null);
    return;
  }
  const more = problems.length > MAX_NAMED ? ` And ${problems.length - MAX_NAMED} more.` : '';
  const reason =
    problems.length > 0
      ? `The first frames are not as planned. ${problems.slice(0, MAX_NAMED).join(' ')}${more} Continue to render the rest all the same, or stop.`
      : 'The first frames are done and as planned. Look at them in Review, then approve them, or stop.';
  await setGate(context, batch, 'waiting');
  await host.hold(reason);
  run.halt(false);
}
