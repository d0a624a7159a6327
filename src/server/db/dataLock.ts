/**
 * One server a data folder. The lock is one that the operating system holds for an open file of SQLite's: it ends
 * with the process, however that ends, so that neither a kill nor a power cut leaves it behind. The file itself stays.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sqlite3 from 'sqlite3';

/** Keeps other servers from the data folder until it is released. */
export interface DataLock {
  release(): Promise<void>;
}

/** The folder is in use; the message says by which process where that is known. */
export class FolderInUseError extends Error {
  override name = 'FolderInUseError';
}

const OWNER = 'server.owner';

/** Who wrote down last that it holds the folder: for the message alone, since it may be long gone. */
function ownerOf(folder: string): string {
  try {
    return readFileSync(path.join(folder, OWNER), 'utf8').trim();
  } catch {
    return 'another process';
  }
}

/** Takes the folder for this process. Rejects with FolderInUseError where another has it. */
export async function lockFolder(folder: string): Promise<DataLock> {
  const database = await new Promise<sqlite3.Database>((resolve, reject) => {
    const opened = new sqlite3.Database(path.join(folder, 'server.lock'), (e) => (e ? reject(e) : resolve(opened)));
  });
  const run = (sql: string): Promise<void> => new Promise((resolve, reject) => database.exec(sql, (e) => (e ? reject(e) : resolve())));
  const close = (): Promise<void> => new Promise((resolve) => database.close(() => resolve()));
  try {
    await run('PRAGMA busy_timeout = 0; PRAGMA journal_mode = OFF; BEGIN EXCLUSIVE');
  } catch (e) {
    await close();
    if ((e as { code?: string }).code !== 'SQLITE_BUSY') throw e;
    throw new FolderInUseError(
      `The data folder ${folder} is in use by ${ownerOf(folder)}. Stop that one first, or start with another folder in COLD_EASEL_DATA.`,
    );
  }
  try {
    writeFileSync(path.join(folder, OWNER), `process ${process.pid}, started ${new Date().toISOString()}\n`);
  } catch {
    // On a full disk the message of a second server says less; the lock holds all the same.
  }
  return { release: close };
}
