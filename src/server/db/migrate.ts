/** Brings a database up to date: a copy first, then each step together with its note in one transaction. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { type Sequelize, Transaction } from 'sequelize';
import { Umzug, type UmzugStorage } from 'umzug';
import { type Migration, type MigrationContext, MIGRATIONS } from './migrations.js';

/** The database was written by a later version; the message says so with the remedy. */
export class NewerDatabaseError extends Error {
  override name = 'NewerDatabaseError';
}

/** Where the copies lie that are made before a step. */
export const BACKUP_FOLDER = 'backups';

const NOTES = 'SequelizeMeta';

async function rowsOf<T>(sequelize: Sequelize, sql: string, transaction?: Transaction): Promise<T[]> {
  const [rows] = await sequelize.query(sql, transaction && { transaction });
  return rows as T[];
}

const tablesOf = async (sequelize: Sequelize): Promise<string[]> =>
  (await rowsOf<{ name: string }>(sequelize, `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'`)).map((t) => t.name);

async function notedSteps(sequelize: Sequelize): Promise<string[]> {
  if (!(await tablesOf(sequelize)).includes(NOTES)) return [];
  return (await rowsOf<{ name: string }>(sequelize, `SELECT name FROM ${NOTES} ORDER BY name`)).map((r) => r.name);
}

/**
 * A first start that was cut off before steps and notes were one transaction left some tables without a note. They
 * hold nothing, so they are made anew. Throws where they hold something: then it is not what was left of a start.
 */
async function dropUnnoted(sequelize: Sequelize): Promise<void> {
  const tables = (await tablesOf(sequelize)).filter((t) => t !== NOTES);
  for (const table of tables)
    if ((await rowsOf(sequelize, `SELECT 1 FROM "${table}" LIMIT 1`)).length > 0)
      throw new Error(`The database has a table "${table}" with rows and no note of its version. Restore a backup with "easel restore".`);
  // Foreign keys are checked as tables go, so those that refer go first: they were made last.
  for (const table of tables.reverse()) await sequelize.query(`DROP TABLE "${table}"`);
}

/** Notes are written by each step's own transaction, so the library is told what there is and writes nothing. */
const storageOf = (noted: string[]): UmzugStorage => ({
  logMigration: () => Promise.resolve(),
  unlogMigration: () => Promise.resolve(),
  executed: () => Promise.resolve(noted),
});

/** Runs a step and notes it, both or neither. */
async function runStep(sequelize: Sequelize, step: Migration): Promise<void> {
  await sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, async (transaction) => {
    const context: MigrationContext = { query: sequelize.getQueryInterface(), transaction };
    await sequelize.query(`CREATE TABLE IF NOT EXISTS ${NOTES} (name VARCHAR(255) NOT NULL UNIQUE PRIMARY KEY)`, { transaction });
    await step.up(context);
    await sequelize.query(`INSERT INTO ${NOTES} (name) VALUES (?)`, { replacements: [step.name], transaction });
  });
}

/** Name of the copy made before the steps, free of signs that a file system refuses. */
function copyName(noted: string[], now: Date): string {
  return `before-${MIGRATIONS.at(-1)!.name.slice(0, 3)}-from-${noted.at(-1)?.slice(0, 3) ?? '000'}-${now.toISOString().replace(/[:.]/g, '-')}.sqlite`;
}

/**
 * Brings the database in `folder` up to date.
 * @param log hears the path of the copy that is made before an existing database is changed.
 * Throws NewerDatabaseError where a later version has written it; then nothing is touched.
 */
export async function migrateDatabase(
  sequelize: Sequelize,
  folder: string,
  log: (line: string) => void = () => {},
  steps = MIGRATIONS,
): Promise<void> {
  const noted = await notedSteps(sequelize);
  const known = new Set(steps.map((s) => s.name));
  const later = noted.filter((n) => !known.has(n));
  if (later.length > 0)
    throw new NewerDatabaseError(
      `The database in ${folder} was written by a later version of Cold Easel (${later.join(', ')}). Update the application, or restore an earlier backup with "easel restore".`,
    );
  const pending = steps.filter((s) => !noted.includes(s.name));
  if (pending.length === 0) return;
  if (noted.length === 0) await dropUnnoted(sequelize);
  else {
    await mkdir(path.join(folder, BACKUP_FOLDER), { recursive: true });
    const copy = path.join(folder, BACKUP_FOLDER, copyName(noted, new Date()));
    await sequelize.query('VACUUM INTO ?', { replacements: [copy] });
    log(`The database is copied to ${copy} before ${pending.map((s) => s.name).join(', ')}.`);
  }
  await new Umzug({
    migrations: steps.map((step) => ({ name: step.name, up: () => runStep(sequelize, step) })),
    storage: storageOf(noted),
    logger: undefined,
  }).up();
}
