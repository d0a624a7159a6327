/** The database: one SQLite file in WAL mode, writes one after another. */
import { closeSync, openSync } from 'node:fs';
import path from 'node:path';
import { Sequelize, Transaction } from 'sequelize';
import sqlite3 from 'sqlite3';
import { storageFault } from '../errors.js';
import { migrateDatabase } from './migrate.js';
import { defineModels } from './models.js';

/** Name of the database in a data folder. */
export const DATABASE_FILE = 'cold-easel.sqlite';

/** Milliseconds for which a read waits for another program's lock. */
const BUSY_MS = 5000;
/** Milliseconds for which closing waits for connections. */
const CLOSE_MS = 2000;

/** The database, with one way to write to it. */
export interface Database {
  sequelize: Sequelize;
  /**
   * Runs `work` in a transaction of its own, alone: two at once end in SQLITE_BUSY on SQLite. Rejects with ServerError
   * where the disk or a lock is at fault.
   */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Opens a file that exists, without touching its tables. A folder that goes away is not made again with an empty database in it. */
export function connect(file: string): Sequelize {
  return new Sequelize({
    dialect: 'sqlite',
    storage: file,
    logging: false,
    dialectOptions: { mode: sqlite3.OPEN_READWRITE },
    retry: { max: 3, match: [/SQLITE_BUSY/] },
  });
}

/** The database cannot be used; the message names the file and the remedy. */
export class DatabaseError extends Error {
  override name = 'DatabaseError';
}

/** Opens the database in a folder and brings its tables up to date. `log` hears of copies that are made. Throws DatabaseError and NewerDatabaseError. */
export async function openDatabase(folder: string, log: (line: string) => void = () => {}): Promise<Database> {
  const file = path.join(folder, DATABASE_FILE);
  // An empty file is a database without tables.
  closeSync(openSync(file, 'a'));
  const sequelize = connect(file);
  try {
    await sequelize.query(`PRAGMA busy_timeout = ${BUSY_MS}`);
    await sequelize.query('PRAGMA journal_mode = WAL');
    // A frame counts as done once its row is: the row must survive a power cut as its file does.
    await sequelize.query('PRAGMA synchronous = FULL');
    await migrateDatabase(sequelize, folder, log);
    defineModels(sequelize);
  } catch (e) {
    await sequelize.close().catch(() => undefined);
    const fault = storageFault(e);
    if (fault?.code === 'database-corrupt')
      throw new DatabaseError(`The database ${file} is damaged. Check it with "easel check", and restore a backup with "easel restore FILE".`);
    if (fault) throw new DatabaseError(`The database ${file} cannot be opened. ${fault.message}`);
    throw e;
  }
  let last: Promise<unknown> = Promise.resolve();
  return {
    sequelize,
    write(work) {
      const run = last
        .then(() => sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work))
        .catch((e: unknown) => {
          throw storageFault(e, true) ?? e;
        });
      last = run.catch(() => undefined);
      return run;
    },
    async close() {
      await last;
      // The library's pool waits for ever for connections that it could not open while the folder was away.
      await Promise.race([sequelize.close(), new Promise((resolve) => setTimeout(resolve, CLOSE_MS).unref())]);
    },
  };
}
