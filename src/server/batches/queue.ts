/** What waits to be rendered: which batch is next, and which of its frames wait again. */
import { Op } from 'sequelize';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { saveRow } from './renderRow.js';
import { findBatch } from './repository.js';

/** The batch to run now: one that was running goes on before the next that is queued. Null where none waits. */
export function nextBatch(): Promise<Batch | null> {
  return Batch.findOne({
    where: { state: { [Op.in]: ['running', 'queued'] } },
    order: [
      ['state', 'DESC'],
      ['number', 'ASC'],
    ],
  });
}

/** Writes the state of a batch, with the reason where it is held, and the time where it is over. */
export async function setBatchState({ database }: ServerContext, batch: Batch, state: string, reason: string | null = null): Promise<void> {
  const ended = state === 'done' || state === 'stopped' ? new Date().toISOString() : null;
  await database.write((transaction) => Batch.update({ state, reason, ended }, { where: { id: batch.id }, transaction }));
  batch.set({ state, reason, ended });
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

/** Lets the done frames wait again whose files are gone or were changed. Throws ServerError where there are none. */
export async function requeueDamaged({ database, counts }: ServerContext, id: number): Promise<Batch> {
  const batch = await findBatch(id);
  const [count] = await database.write((transaction) =>
    BatchFrame.update(
      { state: 'waiting', attempts: 0, seconds: null, samples: null, ended: null, files: '[]', checksums: null, damage: null },
      { where: { batchId: id, damage: { [Op.ne]: null } }, transaction },
    ),
  );
  counts.forget(id);
  if (count === 0) throw new ServerError('conflict', `Batch ${batch.number} has no frame whose files are missing or changed.`);
  return batch;
}
