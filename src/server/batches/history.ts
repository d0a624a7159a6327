/** Batches that are over: taken out of sight and brought back, their plan as a set again. */
import { Op, QueryTypes } from 'sequelize';
import type { BatchContents } from '../../contract/queue.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame, Clip, type PlanSet } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { addSet, findSet } from '../sets.js';
import { setColumns } from '../setText.js';
import { freezeBatch } from './createBatch.js';
import { BATCH_SUMMARY_COLUMNS, findBatch } from './repository.js';
import { planSnapshot } from './snapshot.js';

/** Days for which a deleted batch can be brought back, before its files go to the trash. */
export const DELETED_DAYS = 7;

const MAX_SET_NAME = 80;

/** What a batch holds: what goes where it is deleted. */
export async function contentsOf({ database }: ServerContext, batch: Batch): Promise<BatchContents> {
  const [sums] = await database.sequelize.query<Omit<BatchContents, 'movies' | 'days'>>(
    `SELECT total(state = 'done') AS frames, total(json_array_length(files)) AS files, total(decision = 'accepted') AS accepted,
       total((SELECT sum(json_extract(value, '$.bytes')) FROM json_each(frames.checksums))) AS bytes
     FROM frames WHERE batchId = $1`,
    { bind: [batch.id], type: QueryTypes.SELECT },
  );
  const movies = await Clip.findAll({ where: { batchId: batch.id, state: 'ready' }, attributes: ['bytes'], raw: true });
  return { ...sums!, bytes: sums!.bytes + movies.reduce((n, m) => n + m.bytes, 0), movies: movies.length, days: DELETED_DAYS };
}

/** Takes a batch that is over out of sight; its files stay for DELETED_DAYS. Throws a conflict while it is in the queue. */
export async function deleteBatch({ database }: ServerContext, id: number): Promise<Batch> {
  const batch = await findBatch(id);
  if (batch.state !== 'done' && batch.state !== 'stopped')
    throw new ServerError('conflict', `Batch ${batch.number} is ${batch.state}. Stop it first; what it has rendered is kept until it is deleted.`);
  await database.write((transaction) => Batch.update({ deleted: new Date().toISOString() }, { where: { id }, transaction }));
  return batch;
}

/** Brings a deleted batch back. Throws 'not-found' where its files have gone to the trash. */
export async function restoreBatch({ database }: ServerContext, id: number): Promise<Batch> {
  const batch = await Batch.findByPk(id);
  if (!batch) throw notFound(`Batch ${id}`);
  return database.write((transaction) => batch.set({ deleted: null }).save({ transaction, fields: ['deleted'] }));
}

/** Moves the files of batches that were deleted DELETED_DAYS ago to the trash, and forgets their rows. Returns their numbers. */
export async function purgeDeleted({ database, store }: ServerContext, now = Date.now()): Promise<number[]> {
  const before = new Date(now - DELETED_DAYS * 86_400_000).toISOString();
  const gone = await Batch.findAll({ where: { deleted: { [Op.lt]: before } }, attributes: BATCH_SUMMARY_COLUMNS });
  for (const { id, folder } of gone) {
    // First the rows: a folder that nobody knows harms nobody, and a row without its files would.
    await database.write(async (transaction) => {
      for (const table of [BatchFrame, Clip] as const) await (table as typeof Clip).destroy({ where: { batchId: id }, transaction });
      await Batch.destroy({ where: { id }, transaction });
    });
    await store.removeUnfinished(id);
    if (await store.exists(store.picture('.', folder))) await store.trash.take([folder]);
  }
  return gone.map((b) => b.number);
}

/** The frozen plan of a batch as a new set of its project, beside the one that it came from. */
export async function planAgain(context: ServerContext, id: number): Promise<PlanSet> {
  const batch = await findBatch(id);
  const { set } = planSnapshot(batch);
  const end = `, batch ${batch.number}`;
  return addSet(context, batch.projectId, setColumns({ ...set, name: `${set.name.slice(0, MAX_SET_NAME - end.length)}${end}` }));
}

/** The same plan once more, rendered anew, at the end of the queue. Throws ServerError where it cannot be read or rendered any more. */
export async function renderAgain(context: ServerContext, id: number): Promise<Batch> {
  const batch = await findBatch(id);
  const { set, select, variant, acceptedFaults, firstFrames, spread, draft } = planSnapshot(batch);
  const [project, row, revision] = [await findProject(batch.projectId), await findSet(batch.setId), await findRevision(batch.revisionId)];
  return freezeBatch(context, project, row, revision, set, { select, variant, acceptedFaults, firstFrames, spread, draft, anew: true }, {});
}
