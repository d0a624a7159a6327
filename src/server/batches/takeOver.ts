/** Files that are there already: of a frame whose files would come out the same they are linked under its own names. */
import { rm } from 'node:fs/promises';
import { QueryTypes } from 'sequelize';
import type { Frame } from '../../core/frame/frame.js';
import { linkFile } from '../../engine/node/files.js';
import { fileNames } from '../../engine/output/renderFrame.js';
import { hashFile } from '../../engine/node/hashFile.js';
import type { ServerContext } from '../context.js';
import type { BatchFrame } from '../db/models.js';
import { storageFault } from '../errors.js';
import { eachThere } from './eachThere.js';
import { TAKEABLE } from './frameStates.js';
import { type Checksum, saveRow } from './renderRow.js';
import type { Run, RunHost } from './run.js';

/** Rows that are looked at for one frame: where the files of the newest are damaged, an older one may be whole. */
const MAX_SOURCES = 4;
/** Frames that are linked at a time: each waits for the disk. */
const LINKS_AT_ONCE = 4;

interface Source {
  id: number;
  folder: string;
  files: string;
  checksums: string;
  samples: number | null;
  noise: number | null;
}

function sourcesOf({ database }: ServerContext, row: BatchFrame): Promise<Source[]> {
  return database.sequelize.query<Source>(
    `SELECT f.id, b.folder, f.files, f.checksums, f.samples, f.noise FROM frames f JOIN batches b ON b.id = f.batchId
     WHERE f.filesKey = $1 AND f.id <> $2 AND ${TAKEABLE} ORDER BY f.id DESC LIMIT ${MAX_SOURCES}`,
    { bind: [row.filesKey, row.id], type: QueryTypes.SELECT },
  );
}

/** Whether all files of a source are as they were written. */
async function isWhole(context: ServerContext, { folder, files, checksums }: Source): Promise<boolean> {
  const sums = JSON.parse(checksums) as Checksum[];
  for (const [i, name] of (JSON.parse(files) as string[]).entries()) {
    const found = await hashFile(context.store.picture(folder, name)).catch((e: NodeJS.ErrnoException) => {
      if (e.code === 'ENOENT') return null;
      throw e;
    });
    if (found === null || found !== sums[i]?.sha256) return false;
  }
  return true;
}

/**
 * Takes over the files of an equal frame that is done, in any batch of any project, if they have the checksums that were
 * recorded. Returns whether there was one. Pictures whose sampling was ended early are never taken over. Rejects where the
 * disk or the database is at fault.
 */
export async function takeOver(context: ServerContext, run: Run, row: BatchFrame, frame: Frame): Promise<boolean> {
  const { store } = context;
  if (run.anew || !row.filesKey || row.identity !== frame.identity) return false;
  const names = fileNames(frame);
  for (const source of await sourcesOf(context, row)) {
    const files = JSON.parse(source.files) as string[];
    if (files.length !== names.length || !(await isWhole(context, source))) continue;
    for (const [i, name] of names.entries()) await linkFile(store.picture(source.folder, files[i]!), store.picture(run.batch.folder, name));
    await rm(store.checkpoint(run.batch.id, row.position), { force: true });
    await rm(store.strips(run.batch.id, row.position), { recursive: true, force: true });
    await saveRow(context, row, {
      state: 'done',
      takenFrom: source.id,
      seconds: null,
      samples: source.samples,
      noise: source.noise,
      ended: 'samples',
      message: null,
      files: JSON.stringify(names),
      checksums: source.checksums,
      damage: null,
      developed: null,
    });
    return true;
  }
  return false;
}

/** Keys that several frames of a batch have. */
async function twinsOf({ database }: ServerContext, batchId: number, column: 'filesKey' | 'masterKey'): Promise<Set<string>> {
  const rows = await database.sequelize.query<{ key: string }>(
    `SELECT ${column} AS key FROM frames WHERE batchId = $1 AND ${column} IS NOT NULL GROUP BY ${column} HAVING count(*) > 1`,
    { bind: [batchId], type: QueryTypes.SELECT },
  );
  return new Set(rows.map((r) => r.key));
}

/** Takes over at the start of a run what is there, so that the time that remains is that of the others. */
export async function takeOverAll(context: ServerContext, run: Run, host: RunHost): Promise<void> {
  if (run.anew) return;
  try {
    run.setTwins(await twinsOf(context, run.batch.id, 'filesKey'), await twinsOf(context, run.batch.id, 'masterKey'));
  } catch (e) {
    host.interrupted(storageFault(e, true));
    run.halt(false);
    throw e;
  }
  const which = `EXISTS (SELECT 1 FROM frames f JOIN batches b ON b.id = f.batchId WHERE f.filesKey = w.filesKey AND f.id <> w.id AND ${TAKEABLE})`;
  await eachThere(context, run, host, { which, atOnce: LINKS_AT_ONCE }, (row, frame) => takeOver(context, run, row, frame));
}
