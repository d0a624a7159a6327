/** Frames whose light is there already: their files are developed of a master instead of being rendered. */
import { rm } from 'node:fs/promises';
import type { Frame } from '../../core/frame/frame.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import type { BatchFrame } from '../db/models.js';
import { storageFault } from '../errors.js';
import { eachThere } from './eachThere.js';
import { type Checksum, saveRow } from './renderRow.js';
import type { Run, RunHost } from './run.js';

/** Frames that are developed at a time: as many as there are threads that write files. */
const AT_ONCE = 2;

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
  await rm(store.checkpoint(run.batch.id, row.position), { force: true });
  await rm(store.strips(run.batch.id, row.position), { recursive: true, force: true });
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
  await eachThere(context, run, host, { which: 'w.masterKey IN (SELECT key FROM masters)', atOnce: AT_ONCE }, async (row, frame) => {
    await run.checkRoom(context);
    return developRow(context, run, row, frame);
  });
}
