/** What a data folder's batches say of forecasts on this machine; beside a running server too. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { type Learnt, learnFrom, NOTHING_LEARNT } from '../../core/forecast/learnt.js';
import { connect, DATABASE_FILE } from '../db/connection.js';
import { machineOf, pastBatches } from '../forecast/pastBatches.js';

/**
 * Nothing where the folder has no database yet. Throws an Error that names the file where it cannot be read.
 * @param workers that render.
 */
export async function learntHere(folder: string, workers: number): Promise<Learnt> {
  const file = path.join(folder, DATABASE_FILE);
  if (!existsSync(file)) return NOTHING_LEARNT;
  const db = connect(file);
  try {
    return learnFrom(await pastBatches(db, machineOf(workers)));
  } catch (e) {
    throw new Error(`What earlier batches took cannot be read from ${file}: ${(e as Error).message}. Look it over with "easel check".`);
  } finally {
    await db.close();
  }
}
