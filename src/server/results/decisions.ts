/** What people say of finished renders: kept with the frame, and in a log that says who, when, why, and of which identity. */
import type * as z from 'zod';
import type { DecisionReply, newRunDecision } from '../../contract/results.js';
import type { newDecision } from '../../contract/batches.js';
import { csv } from '../../core/base/csv.js';
import { findBatch } from '../batches/repository.js';
import { digestOfBatch, nameOfRun } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Revision } from '../db/models.js';
import { DecisionRow } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';

type Said = z.infer<typeof newDecision>;

/** Rows of one statement: their text stays far below what SQLite takes. */
const ROWS_AT_ONCE = 500;

/** Writes it to the frames and into the log, all of it or nothing. */
async function write({ database }: ServerContext, batch: Batch, rows: readonly BatchFrame[], { decision, reason, author }: Said): Promise<void> {
  const digest = digestOfBatch(batch);
  const revision = await Revision.findByPk(batch.revisionId, { attributes: ['letter'] });
  const time = new Date().toISOString();
  const kept = { decision, decisionReason: decision === null ? null : (reason ?? null) };
  const lines = rows.map((row) => ({
    setId: batch.setId,
    batch: batch.number,
    revision: revision?.letter ?? '?',
    frameId: row.id,
    run: row.shot,
    shot: nameOfRun(digest, row.shot),
    number: row.number,
    frame: row.name,
    identity: row.identity,
    decision,
    reason: reason ?? null,
    author: author ?? null,
    time,
  }));
  await database.write(async (transaction) => {
    for (let from = 0; from < rows.length; from += ROWS_AT_ONCE) {
      await BatchFrame.update(kept, { where: { id: rows.slice(from, from + ROWS_AT_ONCE).map((r) => r.id) }, transaction });
      await DecisionRow.bulkCreate(lines.slice(from, from + ROWS_AT_ONCE), { transaction });
    }
  });
  for (const row of rows) row.set(kept);
}

/** Decides of one frame. Throws a conflict where it is not finished. */
export async function decide(context: ServerContext, id: number, frame: number, said: Said): Promise<{ batch: Batch; row: BatchFrame }> {
  const batch = await findBatch(id);
  const row = await BatchFrame.findOne({ where: { id: frame, batchId: id } });
  if (!row) throw notFound(`Frame ${frame}`);
  if (row.state !== 'done') throw new ServerError('conflict', `Frame ${row.number} is not rendered yet. Decide when it is done.`);
  await write(context, batch, [row], said);
  return { batch, row };
}

/** Decides of all finished frames of a run. Throws a conflict where none is. */
export async function decideRun(
  context: ServerContext,
  id: number,
  { run, ...said }: z.infer<typeof newRunDecision>,
): Promise<{ batch: Batch; frames: number }> {
  const batch = await findBatch(id);
  const rows = await BatchFrame.findAll({ where: { batchId: id, shot: run, state: 'done' }, order: ['position'] });
  if (rows.length === 0)
    throw new ServerError('conflict', `No frame of "${nameOfRun(digestOfBatch(batch), run)}" is rendered in batch ${batch.number} yet.`);
  await write(context, batch, rows, said);
  return { batch, frames: rows.length };
}

/** Lines of a set's log that are read at once. */
const MAX_LINES = 20_000;

/** The log of a set, the newest line first. */
export async function listDecisions(setId: number): Promise<DecisionReply[]> {
  const rows = await DecisionRow.findAll({ where: { setId }, order: [['id', 'DESC']], limit: MAX_LINES, raw: true });
  return rows.map(({ time, author, batch, revision, shot, number, frame, identity, decision, reason }) => ({
    time,
    author: author ?? '',
    batch,
    revision,
    shot,
    number,
    frame,
    identity,
    decision: decision as DecisionReply['decision'],
    reason: reason ?? '',
  }));
}

/** The log as a table. */
export function decisionsCsv(lines: readonly DecisionReply[]): string {
  return csv(
    ['time', 'author', 'decision', 'reason', 'shot', 'frame', 'file', 'revision', 'batch', 'identity'],
    lines.map((l) => [l.time, l.author, l.decision ?? 'withdrawn', l.reason, l.shot, l.number, l.frame, l.revision, l.batch, l.identity]),
  );
}
