/** Files that are written whole or not at all. */
import { copyFile, type FileHandle, link, mkdir, open, rename, rm } from 'node:fs/promises';
import path from 'node:path';

/** What a file is called while it is being written; what is left of these after a crash is removed at start. */
export const TEMPORARY_SUFFIX = '.part';

async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Of each folder the flush that is on its way, and the one that waits for its end. */
const flushes = new Map<string, { running: Promise<void>; next: Promise<void> | null }>();

/**
 * Flushes the folder's list of names. Files that come in while one is on its way share the next: what was renamed before
 * that begins is in it.
 */
function flushFolder(folder: string): Promise<void> {
  const known = flushes.get(folder);
  if (known?.next) return known.next;
  const begin = (): Promise<void> => {
    const running = syncFolder(folder);
    const own = { running, next: null };
    flushes.set(folder, own);
    const forget = (): void => void (flushes.get(folder) === own && own.next === null && flushes.delete(folder));
    running.then(forget, forget);
    return running;
  };
  if (!known) return begin();
  return (known.next = known.running.catch(() => undefined).then(begin));
}

/** Opens a file to write, in a folder that is made where it is missing. */
async function openNew(file: string): Promise<FileHandle> {
  try {
    return await open(file, 'w');
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== 'ENOENT') throw e;
    await mkdir(path.dirname(file), { recursive: true });
    return open(file, 'w');
  }
}

/** Flushes a file that another program wrote, renames it and flushes the folder. On failure it is removed. */
export async function commitFile(temporary: string, file: string): Promise<void> {
  try {
    const handle = await open(temporary, 'r+');
    await handle.sync();
    await handle.close();
    await rename(temporary, file);
  } catch (e) {
    await rm(temporary, { force: true }).catch(() => undefined);
    throw e;
  }
  await flushFolder(path.dirname(file));
}

/** Writes under a temporary name, flushes, renames, flushes the folder. */
export async function writeFileAtomic(file: string, bytes: Uint8Array | string): Promise<void> {
  const temporary = `${file}${TEMPORARY_SUFFIX}`;
  try {
    const handle = await openNew(temporary);
    try {
      await handle.writeFile(bytes);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(temporary, file);
  } catch (e) {
    // On a full disk what was written of it would stand in the way of everything else.
    await rm(temporary, { force: true }).catch(() => undefined);
    throw e;
  }
  await flushFolder(path.dirname(file));
}

/** A second name for a file, or a copy where the disk has no links: under a temporary name first, as everything is written. */
export async function linkFile(from: string, to: string): Promise<void> {
  await mkdir(path.dirname(to), { recursive: true });
  const temporary = `${to}${TEMPORARY_SUFFIX}`;
  await rm(temporary, { force: true });
  await link(from, temporary).catch(() => copyFile(from, temporary));
  await commitFile(temporary, to);
  // A name that has the same bytes already, from a run that was killed, is left by rename together with the temporary one.
  await rm(temporary, { force: true });
}
