/** Files that are written whole or not at all. */
import { mkdir, open, rename, rm } from 'node:fs/promises';
import path from 'node:path';

/** What a file is called while it is being written; what is left of these after a crash is removed at start. */
export const TEMPORARY_SUFFIX = '.part';

async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
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
  await mkdir(path.dirname(file), { recursive: true });
  const temporary = `${file}${TEMPORARY_SUFFIX}`;
  try {
    const handle = await open(temporary, 'w');
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
