/** What waits to be rendered: which batch is next, where each comes, and which of its frames wait again. */
import { Op } from 'sequelize';
import type * as z from 'zod';
import { type moveBatch, PRIORITIES } from '../../contract/batches.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { saveRow } from './renderRow.js';
import { BATCH_SUMMARY_COLUMNS, findBatch } from './repository.js';

/** States of a batch that waits for its turn, or has it. */
const IN_QUEUE = { state: { [Op.in]: ['running', 'queued'] }, deleted: null };

/** The batch to run now: of those that may begin, the first of the highest priority. Null where none waits. */
export function nextBatch(now = new Date()): Promise<Batch | null> {
  return Batch.findOne({
    where: { ...IN_QUEUE, startAt: { [Op.or]: [null, { [Op.lte]: now.toISOString() }] } },
    order: ['priority', 'rank', 'number'],
  });
}

/** When the next batch may begin that waits for an hour; null where none does. */
export async function nextStart(now = new Date()): Promise<Date | null> {
  const at = await Batch.min<string | null, Batch>('startAt', { where: { ...IN_QUEUE, startAt: { [Op.gt]: now.toISOString() } } });
  return at ? new Date(at) : null;
}

/** Writes the state of a batch, with the reason where it is held, and the time where it is over. */
export async function setBatchState({ database }: ServerContext, batch: Batch, state: string, reason: string | null = null): Promise<void> {
  const ended = state === 'done' || state === 'stopped' ? new Date().toISOString() : null;
  await database.write((transaction) => Batch.update({ state, reason, ended }, { where: { id: batch.id }, transaction }));
  batch.set({ state, reason, ended });
}

/** Says that a batch is running, unless somebody paused or stopped it since it was chosen; returns whether it is. */
export async function beginRunning({ database }: ServerContext, batch: Batch): Promise<boolean> {
  const [changed] = await database.write(async (transaction) => {
    await Batch.update({ state: 'queued' }, { where: { state: 'running', id: { [Op.ne]: batch.id } }, transaction });
    return Batch.update({ state: 'running', reason: null, ended: null }, { where: { id: batch.id, ...IN_QUEUE }, transaction });
  });
  if (changed > 0) batch.set({ state: 'running', reason: null, ended: null });
  return changed > 0;
}

/** Writes the state of one that is running; where a person paused or stopped it meanwhile, that stays. */
export async function leaveRunning(context: ServerContext, batch: Batch, state: string, reason: string | null = null): Promise<void> {
  const ended = state === 'done' ? new Date().toISOString() : null;
  const [changed] = await context.database.write((transaction) =>
    Batch.update({ state, reason, ended }, { where: { id: batch.id, state: 'running' }, transaction }),
  );
  if (changed > 0) batch.set({ state, reason, ended });
}

/** Gives a batch its place in the queue. Throws ServerError where what it should come before is not there. */
export async function placeBatch({ database }: ServerContext, id: number, { priority, before, startAt }: z.infer<typeof moveBatch>): Promise<Batch> {
  return database.write(async (transaction) => {
    const batch = await Batch.findByPk(id, { attributes: BATCH_SUMMARY_COLUMNS, transaction });
    if (!batch) throw new ServerError('not-found', `There is no batch ${id}.`);
    const level = priority === undefined ? batch.priority : PRIORITIES.indexOf(priority);
    const values: Partial<Pick<Batch, 'priority' | 'rank' | 'startAt'>> = { priority: level };
    if (startAt !== undefined) values.startAt = startAt === null ? null : new Date(startAt).toISOString();
    if (before !== undefined) {
      const others = { deleted: null, priority: level, id: { [Op.ne]: id } };
      if (before === null) values.rank = ((await Batch.max<number, Batch>('rank', { where: others, transaction })) ?? 0) + 1;
      else {
        const next = await Batch.findOne({ where: { ...others, id: before }, attributes: ['rank'], transaction });
        if (!next)
          throw new ServerError('conflict', `Batch ${batch.number} cannot come before batch ${before}: that is not in the queue of this priority.`);
        const previous = await Batch.max<number, Batch>('rank', { where: { ...others, rank: { [Op.lt]: next.rank } }, transaction });
        values.rank = ((previous ?? next.rank - 2) + next.rank) / 2;
      }
    }
    await Batch.update(values, { where: { id }, transaction });
    return batch.set(values);
  });
}

/** Lets a done frame whose sampling was ended early wait again. Throws ServerError where it has all its samples. */
export async function requeueFrame(context: ServerContext, id: number, frame: number): Promise<Batch> {
  const batch = await findBatch(id);
  const row = await BatchFrame.findOne({ where: { id: frame, batchId: id } });
  if (!row) throw new ServerError('not-found', `There is no frame ${frame} in batch ${batch.number}.`);
  if (row.state !== 'done' || row.ended === null || row.ended === 'samples')
    throw new ServerError('conflict', `Frame ${row.number} has all its samples already.`);
  await saveRow(context, row, { state: 'waiting' });
  return batch;
}

/** Lets the frames of a batch wait again that a condition tells. Throws ServerError with `none` where there are none. */
async function requeue({ database, counts }: ServerContext, id: number, which: object, none: (batch: Batch) => string): Promise<Batch> {
  const batch = await findBatch(id);
  const [count] = await database.write((transaction) =>
    BatchFrame.update(
      {
        state: 'waiting',
        attempts: 0,
        seconds: null,
        samples: null,
        ended: null,
        files: '[]',
        checksums: null,
        damage: null,
        takenFrom: null,
        developed: null,
      },
      { where: { batchId: id, ...which }, transaction },
    ),
  );
  counts.forget(id);
  if (count === 0) throw new ServerError('conflict', none(batch));
  return batch;
}

/** Lets the done frames wait again whose files are gone or were changed. Throws ServerError where there are none. */
export function requeueDamaged(context: ServerContext, id: number): Promise<Batch> {
  return requeue(context, id, { damage: { [Op.ne]: null } }, ({ number }) => `Batch ${number} has no frame whose files are missing or changed.`);
}

/** Lets the failed frames wait again, as if they had never been tried. Throws ServerError where there are none. */
export function requeueFailed(context: ServerContext, id: number): Promise<Batch> {
  return requeue(context, id, { state: 'failed' }, ({ number }) => `Batch ${number} has no failed frame.`);
}
