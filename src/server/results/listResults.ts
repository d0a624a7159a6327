/** What there is to judge of a set, by one query over the rows of its batches. */
import { QueryTypes } from 'sequelize';
import type { ResultReply } from '../../contract/results.js';
import { STILL_KINDS } from '../../core/shots/kinds.js';
import { BATCH_SUMMARY_COLUMNS, readyRows } from '../batches/repository.js';
import { digestOfBatch, nameOfRun } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { Batch, Revision } from '../db/models.js';

interface GroupRow {
  batchId: number;
  run: string;
  kind: string;
  view: string;
  nth: number;
  total: number;
  done: number;
  failed: number;
  accepted: number;
  redo: number;
  cover: number;
  samples: number | null;
}

/** A frame of a still is a result of its own; of a moving shot all frames are one, which `nth` 0 says. */
const RESULTS = `WITH own AS (
  SELECT f.id, f.batchId, f.shot, f.kind, f.state, f.decision, f.samples, f.position,
    CASE WHEN f.kind IN (SELECT value FROM json_each($2)) THEN f.view ELSE '' END AS view,
    CASE WHEN f.kind IN (SELECT value FROM json_each($2)) THEN row_number() OVER (PARTITION BY f.batchId, f.shot, f.view ORDER BY f.position) ELSE 0 END AS nth
  FROM frames f JOIN batches b ON b.id = f.batchId WHERE b.setId = $1 AND b.deleted IS NULL)
SELECT g.*, f.samples FROM (
  SELECT batchId, shot AS run, min(kind) AS kind, view, nth, count(*) AS total,
    sum(state = 'done') AS done, sum(state = 'failed') AS failed,
    sum(state = 'done' AND decision IS 'accepted') AS accepted, sum(state = 'done' AND decision IS 'redo') AS redo,
    min(CASE WHEN state = 'done' THEN id END) AS cover, min(position) AS position
  FROM own GROUP BY batchId, shot, view, nth) AS g JOIN frames f ON f.id = g.cover
ORDER BY g.batchId DESC, g.position`;

/** Results that have at least one finished frame, newest batch first, in the order of their plans. */
export async function listResults(context: ServerContext, setId: number): Promise<ResultReply[]> {
  const batches = await Batch.findAll({ where: { setId, deleted: null }, attributes: BATCH_SUMMARY_COLUMNS });
  const old = await Batch.findAll({ where: { setId, deleted: null, digest: null } });
  for (const batch of old) await readyRows(context, batch);
  const letters = new Map(
    (await Revision.findAll({ where: { id: [...new Set(batches.map((b) => b.revisionId))] }, attributes: ['id', 'letter'] })).map((r) => [
      r.id,
      r.letter,
    ]),
  );
  const whole = new Map([...batches, ...old].map((b) => [b.id, b]));
  const digests = new Map([...whole].map(([id, batch]) => [id, digestOfBatch(batch)]));
  const rows = await context.database.sequelize.query<GroupRow>(RESULTS, {
    bind: [setId, JSON.stringify(STILL_KINDS)],
    type: QueryTypes.SELECT,
  });
  return rows.map(({ batchId, run, samples, kind, ...row }) => {
    const [batch, digest] = [whole.get(batchId)!, digests.get(batchId)!];
    const [size, passes] = [digest.sizes?.[run], digest.passes?.[run]];
    const { view, nth, total, done, failed, accepted, redo, cover } = row;
    return {
      batch: batchId,
      number: batch.number,
      revisionId: batch.revisionId,
      revision: letters.get(batch.revisionId) ?? '?',
      ...(digest.variant && { variant: digest.variant }),
      ...(digest.draft && { draft: digest.draft }),
      created: batch.created,
      run,
      name: nameOfRun(digest, run),
      kind: kind ?? 'still',
      view,
      nth,
      total,
      done,
      failed,
      accepted,
      redo,
      cover,
      coverSamples: samples,
      ...(size && { size }),
      ...(passes && { passes }),
    };
  });
}
