/** Frames whose light is there already: their files are developed of a master instead of being rendered. */
import { QueryTypes } from 'sequelize';
import type { Frame } from '../../core/frame/frame.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import { BatchFrame } from '../db/models.js';
import { storageFault } from '../errors.js';
import { type Checksum, saveRow } from './renderRow.js';
import { toFrameReply } from './repository.js';
import type { Run, RunHost } from './run.js';

/** Frames that are developed at a time: as many as there are threads that write files. */
const AT_ONCE = 2;
/** Rows that are asked for at once. */
const ROWS_AT_ONCE = 100;

/**
 * Develops a row's files of a master of its key. Returns whether there was one that fits. Rejects where the disk or the
 * database is at fault, and with AbortedError where the signal stops it.
 */
export async function developRow(context: ServerContext, run: Run, row: BatchFrame, frame: Frame, signal?: AbortSignal): Promise<boolean> {
  const { executor, masters, store } = context;
  if (run.anew || !row.masterKey || row.identity !== frame.identity) return false;
  const master = await masters.find(row.masterKey);
  if (!master) return false;
  const file = { path: masters.file(master.key), sha256: master.sha256 };
  const done = await executor.develop(frame, store.source(run.digest.scene), file, { ...(signal && { signal }) }).catch(async (e: Error) => {
    if (e instanceof AbortedError || storageFault(e, true)) throw e;
    await masters.drop(master);
    return null;
  });
  if (!done) return false;
  for (const { name, bytes } of done.files) await store.write(store.picture(run.batch.folder, name), bytes);
  await saveRow(context, row, {
    state: 'done',
    developed: done.exact ? 'exact' : 'refiltered',
    takenFrom: null,
    // Nothing was rendered: what frames take is foreseen by those that are.
    seconds: null,
    samples: done.samples,
    noise: done.noise ?? null,
    ended: 'samples',
    message: null,
    files: JSON.stringify(done.files.map((f) => f.name)),
    checksums: JSON.stringify(done.files.map(({ bytes, sha256 }): Checksum => ({ bytes: bytes.length, sha256 }))),
    damage: null,
  });
  await masters.noteUse(master);
  return true;
}

/** Develops at the start of a run what can be, so that the time that remains is that of frames that are rendered. */
export async function developAll(context: ServerContext, run: Run, host: RunHost): Promise<void> {
  if (run.anew) return;
  let after = -1;
  try {
    while (!run.ending && host.wanted()) {
      const found = await context.database.sequelize.query<{ id: number; position: number }>(
        `SELECT w.id, w.position FROM frames w WHERE w.batchId = $1 AND w.state = 'waiting' AND w.position > $2
           AND w.masterKey IN (SELECT key FROM masters) ORDER BY w.position LIMIT ${ROWS_AT_ONCE}`,
        { bind: [run.batch.id, after], type: QueryTypes.SELECT },
      );
      if (found.length === 0) return;
      after = found.at(-1)!.position;
      // All of them are over before a fault is told.
      const ends = await Promise.allSettled(
        Array.from({ length: AT_ONCE }, async () => {
          for (let next = found.shift(); next && !run.ending && host.wanted(); next = found.shift()) {
            await run.checkRoom(context);
            const row = await BatchFrame.findByPk(next.id);
            if (!row || !(await developRow(context, run, row, await run.frameAt(next.position)))) continue;
            context.events.send(run.batch.projectId, { type: 'frame', batchId: run.batch.id, frame: toFrameReply(row, run.digest) });
            run.scheduleProgress();
          }
        }),
      );
      const broken = ends.find((end) => end.status === 'rejected');
      if (broken) throw broken.reason;
    }
  } catch (e) {
    host.interrupted(storageFault(e, true));
    run.halt(false);
    throw e;
  }
}
