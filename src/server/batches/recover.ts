/** Sets rows right after a crash. */
import { literal, QueryTypes } from 'sequelize';
import type { ServerContext } from '../context.js';
import { BatchFrame, Clip } from '../db/models.js';

const ROWS_PER_QUERY = 500;

interface DoneRow {
  id: number;
  name: string;
  number: number;
  folder: string;
  files: string;
}

/** Done frames of open batches, after the row of that id. */
function doneRows({ database }: ServerContext, after: number): Promise<DoneRow[]> {
  return database.sequelize.query<DoneRow>(
    `SELECT f.id, f.name, b.number, b.folder, f.files FROM frames f JOIN batches b ON b.id = f.batchId
     WHERE b.state IN ('queued', 'running', 'paused', 'held') AND f.state = 'done' AND f.id > ? ORDER BY f.id LIMIT ${ROWS_PER_QUERY}`,
    { replacements: [after], type: QueryTypes.SELECT },
  );
}

/**
 * What was being rendered waits again, and what counts as done in an open batch but has lost a file does too.
 * @param atStart whether this server has done nothing yet. Later, a frame was cut off by the disk or the database and not by itself, so that the try does not count.
 */
export async function recoverAfterCrash(context: ServerContext, atStart: boolean): Promise<void> {
  const { database, store, log, counts } = context;
  await database.write((transaction) =>
    BatchFrame.update(
      { state: 'waiting', ...(!atStart && { attempts: literal('MAX(attempts - 1, 0)') }) },
      { where: { state: 'rendering' }, transaction },
    ),
  );
  // Later, movies that are being made are this server's own.
  if (atStart)
    await database.write((transaction) =>
      Clip.update(
        { state: 'failed', message: 'Cold Easel was ended while this was being made. Make it again.' },
        // What says how it was asked for is made again.
        { where: { state: 'making', asked: null }, transaction },
      ),
    );
  let after = 0;
  for (let rows = await doneRows(context, after); rows.length > 0; rows = await doneRows(context, after)) {
    after = rows.at(-1)!.id;
    const lost: number[] = [];
    for (const { id, name, number, folder, files } of rows) {
      const names = JSON.parse(files) as string[];
      const there = await Promise.all(names.map((f) => store.exists(store.picture(folder, f))));
      if (there.every(Boolean)) continue;
      log.warn({ batch: number, frame: name }, 'a finished frame has lost its file; it is rendered again');
      lost.push(id);
    }
    if (lost.length > 0)
      await database.write((transaction) =>
        BatchFrame.update(
          { state: 'waiting', seconds: null, samples: null, ended: null, files: '[]', checksums: null },
          { where: { id: lost }, transaction },
        ),
      );
  }
  counts.forgetAll();
}
