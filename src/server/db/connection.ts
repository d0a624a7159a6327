/** The database: one SQLite file in WAL mode, writes one after another. */
import path from 'node:path';
import { Sequelize, Transaction } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { MIGRATIONS } from './migrations.js';
import { defineModels } from './models.js';

export interface Database {
  sequelize: Sequelize;
  /** Runs `work` in a transaction of its own, alone: two at once end in SQLITE_BUSY on SQLite. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Opens the database in a folder and brings its tables up to date. */
export async function openDatabase(folder: string): Promise<Database> {
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: path.join(folder, 'cold-easel.sqlite'), logging: false });
  await sequelize.query('PRAGMA journal_mode = WAL');
  // A frame counts as done once its row is: the row must survive a power cut as its file does.
  await sequelize.query('PRAGMA synchronous = FULL');
  await new Umzug({
    migrations: MIGRATIONS,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  }).up();
  defineModels(sequelize);
  let last: Promise<unknown> = Promise.resolve();
  return {
    sequelize,
    write(work) {
      const run = last.then(() => sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work));
      last = run.catch(() => undefined);
      return run;
    },
    async close() {
      await last;
      await sequelize.close();
    },
  };
}
