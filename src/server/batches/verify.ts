/** Finished files, looked at again: whether they are there, as long as they were, and with the bytes that were written. */
import { stat } from 'node:fs/promises';
import type { VerifyReply } from '../../contract/contract.js';
import { hashFile } from '../../engine/node/hashFile.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame } from '../db/models.js';
import { toBatchReply } from './repository.js';
import type { Checksum } from './renderRow.js';

type Damage = 'missing' | 'changed';

/** What became of one file; null where it is as it was written. Without `whole` its length alone is looked at. */
async function damageOf(file: string, checksum: Checksum | undefined, whole: boolean): Promise<Damage | null> {
  const size = await stat(file).then(
    (s) => s.size,
    () => null,
  );
  if (size === null) return 'missing';
  if (!checksum) return null;
  if (size !== checksum.bytes) return 'changed';
  return whole && (await hashFile(file)) !== checksum.sha256 ? 'changed' : null;
}

/** Looks at the finished files of a batch and notes what is found in its rows. */
async function checkFiles(
  { database, store, counts }: ServerContext,
  batch: Batch,
  whole: boolean,
  signal?: AbortSignal,
): Promise<VerifyReply & { noted: number }> {
  const rows = await BatchFrame.findAll({
    where: { batchId: batch.id, state: 'done' },
    attributes: ['id', 'files', 'checksums', 'damage'],
    order: ['position'],
  });
  const found = { files: 0, missing: 0, changed: 0, noted: 0 };
  const notes = new Map<Damage | null, number[]>();
  for (const row of rows) {
    if (signal?.aborted) break;
    const checksums = JSON.parse(row.checksums ?? '[]') as Checksum[];
    let worst: Damage | null = null;
    for (const [i, name] of (JSON.parse(row.files) as string[]).entries()) {
      const damage = await damageOf(store.picture(batch.folder, name), checksums[i], whole);
      found.files++;
      if (damage) found[damage]++;
      worst = damage === 'missing' ? damage : (worst ?? damage);
    }
    // A look at lengths alone cannot take back what reading them whole found.
    if (worst === (row.damage ?? null) || (!whole && worst === null && row.damage === 'changed')) continue;
    notes.set(worst, [...(notes.get(worst) ?? []), row.id]);
    found.noted++;
  }
  for (const [damage, ids] of notes)
    for (let i = 0; i < ids.length; i += 500)
      await database.write((transaction) => BatchFrame.update({ damage }, { where: { id: ids.slice(i, i + 500) }, transaction }));
  if (notes.size > 0) counts.forget(batch.id);
  return found;
}

/** Reads every finished file of a batch whole. */
export async function verifyBatch(context: ServerContext, batch: Batch, signal?: AbortSignal): Promise<VerifyReply> {
  const { files, missing, changed } = await checkFiles(context, batch, true, signal);
  return { files, missing, changed };
}

/** Looking takes at most one part in so many of the time. */
const LOOK_SHARE = 50;
const MIN_LOOK_MS = 1000;
/** When each batch may be looked at again, in milliseconds. */
const checkedFolders = new WeakMap<ServerContext, Map<number, number>>();

/** Looks, now and then, whether the files of one that is over are still there; tells everybody where that changed. Never rejects. */
export async function noteDamage(context: ServerContext, batch: Batch, now = false): Promise<void> {
  if (batch.state !== 'done' && batch.state !== 'stopped') return;
  const times = checkedFolders.get(context) ?? new Map<number, number>();
  checkedFolders.set(context, times);
  const started = performance.now();
  if (!now && started < (times.get(batch.id) ?? 0)) return;
  times.set(batch.id, Infinity);
  try {
    const { noted } = await checkFiles(context, batch, false);
    if (noted > 0) context.events.send(batch.projectId, { type: 'batch', batch: await toBatchReply(context, batch, null) });
  } catch (e) {
    context.log.warn({ err: e, batch: batch.number }, 'the files of a batch could not be looked at');
  } finally {
    const ended = performance.now();
    times.set(batch.id, ended + Math.max(MIN_LOOK_MS, LOOK_SHARE * (ended - started)));
  }
}
