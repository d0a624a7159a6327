/** Sets the passphrase of a data folder, whose server need not run. */
import path from 'node:path';
import { QueryTypes } from 'sequelize';
import { hashPassphrase, MAX_PASSPHRASE, MIN_PASSPHRASE } from '../access/secrets.js';
import { connect, DATABASE_FILE, openDatabase } from '../db/connection.js';

/** Keys in the table of settings. */
export const PASSPHRASE_KEY = 'passphrase';

/** Why a passphrase cannot be used, or null. */
export function passphraseProblem(text: string): string | null {
  if (text.length < MIN_PASSPHRASE) return `A passphrase has at least ${MIN_PASSPHRASE} characters; several words are easy to remember.`;
  if (text.length > MAX_PASSPHRASE) return `A passphrase has at most ${MAX_PASSPHRASE} characters.`;
  return new Set(text).size < 5 ? 'A passphrase has at least five different characters.' : null;
}

/** Keeps a passphrase and signs everybody out. The database is made where there is none yet. */
export async function setPassphrase(folder: string, passphrase: string): Promise<void> {
  const hash = await hashPassphrase(passphrase);
  await (await openDatabase(folder)).close();
  const db = connect(path.join(folder, DATABASE_FILE));
  try {
    const write = (sql: string, ...bind: string[]): Promise<unknown> => db.query(sql, { bind, type: QueryTypes.RAW });
    await write('INSERT INTO settings (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = excluded.value', PASSPHRASE_KEY, hash);
    await write('DELETE FROM sessions');
    await write("INSERT INTO audit (time, who, what, detail) VALUES ($1, 'command line', 'passphrase set', '')", new Date().toISOString());
  } finally {
    await db.close();
  }
}
