/** Restoring a backup: it is checked and unpacked beside what is there, which then goes to the trash in its place. */
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { connect, DATABASE_FILE } from '../db/connection.js';
import { lockFolder } from '../db/dataLock.js';
import { TRASH_FOLDER } from '../assets/trash.js';
import { BackupError, readArchive } from './archive.js';
import { exists } from '../assets/exists.js';

/** Where a backup is unpacked; a file of the second name in it says that it is whole. */
const STAGING = 'restore';
const READY = 'restore.ready';
/** What stays where it is. */
const KEPT = new Set([STAGING, TRASH_FOLDER, 'backups', 'server.lock', 'server.owner']);

/** What was restored. */
export interface RestoreResult {
  folder: string;
  files: number;
  /** When the backup was made. */
  made: string;
  /** Where what was there before is now; null where there was nothing. */
  replaced: string | null;
}

/**
 * Puts an unpacked backup in its place. Done again from anywhere within it, it comes to the same end: a server that starts
 * on a folder whose restore was cut off does it first. Returns where what was there before went; null where nothing was.
 */
export async function finishRestore(folder: string): Promise<string | null> {
  const staging = path.join(folder, STAGING);
  if (!(await exists(path.join(staging, READY)))) {
    // Unpacked in part: nothing else was touched.
    await rm(staging, { recursive: true, force: true });
    return null;
  }
  const day = (await stat(path.join(staging, READY))).mtime.toISOString();
  const replaced = path.join(folder, TRASH_FOLDER, day.slice(0, 10), `replaced-${day.replace(/[:.]/g, '-')}`);
  const unpacked = (await readdir(staging)).filter((n) => n !== READY);
  // Once all that was unpacked is in its place, only the note is left.
  if (unpacked.length > 0 && !(await exists(path.join(replaced, 'complete')))) {
    await mkdir(replaced, { recursive: true });
    for (const name of await readdir(folder)) if (!KEPT.has(name)) await rename(path.join(folder, name), path.join(replaced, name));
    await writeFile(path.join(replaced, 'complete'), '');
  }
  for (const name of unpacked) await rename(path.join(staging, name), path.join(folder, name));
  await rm(staging, { recursive: true, force: true });
  return (await readdir(replaced).catch(() => [])).length > 1 ? replaced : null;
}

/** Writes the restore into the audit log of what was restored, where that has one already. */
async function noteRestore(folder: string, file: string, made: string): Promise<void> {
  const db = connect(path.join(folder, DATABASE_FILE));
  try {
    await db.query("INSERT INTO audit (time, who, what, detail) VALUES ($1, 'command line', 'backup restored', $2)", {
      bind: [new Date().toISOString(), `${path.basename(file)}, made ${made}`],
    });
  } catch {
    // A backup of an earlier version has no log yet.
  } finally {
    await db.close();
  }
}

/**
 * Restores a backup into a data folder on which no server runs. What is there is moved to the trash, not deleted.
 * Rejects with BackupError where the file is no whole backup, and with FolderInUseError where a server has the folder;
 * nothing is changed then.
 */
export async function restoreFolder(file: string, folder: string): Promise<RestoreResult> {
  if (!(await exists(file))) throw new BackupError(`${file} does not exist; name the file of a backup.`);
  await mkdir(folder, { recursive: true });
  const lock = await lockFolder(folder);
  try {
    // One that was cut off comes first, so that nothing of it is taken for this one.
    await finishRestore(folder);
    const staging = path.join(folder, STAGING);
    const { files, made } = await readArchive(file, async (name) => {
      const target = path.join(staging, name);
      await mkdir(path.dirname(target), { recursive: true });
      return createWriteStream(target, { flush: true });
    }).catch(async (e: unknown) => {
      await rm(staging, { recursive: true, force: true });
      throw e;
    });
    await writeFile(path.join(staging, READY), '', { flush: true });
    const replaced = await finishRestore(folder);
    await noteRestore(folder, file, made);
    return { folder, files: files.length, made, replaced };
  } finally {
    await lock.release();
  }
}
