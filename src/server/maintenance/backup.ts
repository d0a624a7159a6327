/** Backups of a data folder, made while the server runs, and read again before they count. */
import { randomBytes } from 'node:crypto';
import { rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { connect, DATABASE_FILE } from '../db/connection.js';
import { ArchiveWriter, BackupError, readArchive } from './archive.js';
import { type FolderPart, inventory } from './inventory.js';
import { exists } from '../assets/exists.js';

/** What a backup took in. */
export interface BackupResult {
  file: string;
  files: number;
  bytes: number;
  /** Files that the database names and that were not there. */
  missing: string[];
}

/** What is left out of a backup, and who hears of its progress. */
export interface BackupOptions {
  without?: readonly FolderPart[];
  onProgress?: (files: number, path: string) => void;
}

/**
 * Backs a data folder up into one file. The database is copied in one moment, and the files are those that it names then.
 * Rejects with BackupError where the file exists or the folder has no database; nothing is left behind then.
 */
export async function backupFolder(folder: string, file: string, { without = [], onProgress }: BackupOptions = {}): Promise<BackupResult> {
  if (await exists(file)) throw new BackupError(`${file} exists already and is not overwritten; name another file.`);
  if (!(await exists(path.join(folder, DATABASE_FILE))))
    throw new BackupError(`There is no database in ${folder}; name the data folder with --data.`);
  const id = randomBytes(4).toString('hex');
  const copy = `${file}.${id}.sqlite`;
  const part = `${file}.${id}.part`;
  const live = connect(path.join(folder, DATABASE_FILE));
  try {
    await live.query('VACUUM INTO ?', { replacements: [copy] });
    const archive = new ArchiveWriter(part);
    const db = connect(copy);
    const missing: string[] = [];
    try {
      await archive.add(DATABASE_FILE, copy);
      let files = 1;
      for await (const named of inventory(db, without)) {
        if (!(await archive.add(named.path, path.join(folder, named.path)))) {
          if (!named.optional) missing.push(named.path);
        } else onProgress?.(++files, named.path);
      }
    } catch (e) {
      archive.destroy();
      throw e;
    } finally {
      await db.close();
    }
    const { files } = await archive.finish(without);
    // What cannot be read again is no backup.
    await readArchive(part, () => Promise.resolve(null));
    await rename(part, file);
    return { file, files: files.length, bytes: (await stat(file)).size, missing };
  } finally {
    await live.close();
    for (const f of [copy, part]) await rm(f, { force: true });
  }
}
