/** Looks over a data folder: the database, and every file that it names. Changes nothing. */
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { QueryTypes } from 'sequelize';
import { hashFile } from '../../engine/node/hashFile.js';
import { connect, DATABASE_FILE } from '../db/connection.js';
import { readSetText } from '../setText.js';
import { inventory, type NamedFile } from './inventory.js';

/** Something in the data folder that is not as the database says. */
export interface Fault {
  /** What is at fault: a path, or a thing of the database. */
  what: string;
  problem: string;
  remedy: string;
}

/** What a check of the data folder found. */
export interface CheckResult {
  ok: boolean;
  folder: string;
  files: number;
  bytes: number;
  faults: Fault[];
}

/** How closely it is looked at, and who hears of its progress. */
export interface CheckOptions {
  /** Whether files are read whole and compared with their checksums. */
  whole?: boolean;
  onProgress?: (files: number) => void;
}

const REMEDY: Record<NamedFile['kind'], string> = {
  model: 'Restore a backup, or import its file again.',
  original: 'Nothing that is rendered needs it; import the file again to have it.',
  texture: 'Import the texture again in the Model step.',
  sound: 'Choose the file of the sound again when the movie is made again.',
  environment: 'Import the environment image again in the Stage step.',
  picture: 'Render it again: open the batch and choose Render damaged frames.',
  movie: 'Make the movie again in the Review step.',
  checkpoint: 'The still is rendered from the beginning when it resumes.',
};

async function faultOf(folder: string, file: NamedFile, whole: boolean): Promise<{ bytes: number; fault?: Fault }> {
  const at = path.join(folder, file.path);
  const fault = (problem: string): { bytes: number; fault: Fault } => ({
    bytes: 0,
    fault: { what: file.path, problem: `${problem} It belongs to ${file.of}.`, remedy: REMEDY[file.kind] },
  });
  const found = await stat(at).catch(() => null);
  if (!found) return file.optional ? { bytes: 0 } : fault('The file is missing.');
  if (file.bytes !== undefined && found.size !== file.bytes) return fault(`The file has ${found.size} bytes; it was written with ${file.bytes}.`);
  if (whole && file.sha256 !== undefined && (await hashFile(at)) !== file.sha256)
    return fault('The file is not as it was written: its checksum differs.');
  return { bytes: found.size };
}

/** Checks a data folder. Works beside a running server, whose batch may finish frames meanwhile. */
export async function checkFolder(folder: string, { whole = true, onProgress }: CheckOptions = {}): Promise<CheckResult> {
  const result: CheckResult = { ok: false, folder, files: 0, bytes: 0, faults: [] };
  const restore = 'Stop the server and restore a backup with "easel restore FILE".';
  const file = path.join(folder, DATABASE_FILE);
  if (!(await stat(file).catch(() => null))) {
    result.faults.push({
      what: file,
      problem: 'There is no database in this folder.',
      remedy: 'Name another folder with --data, or restore a backup.',
    });
    return result;
  }
  const db = connect(file);
  try {
    const select = <T extends object>(sql: string): Promise<T[]> => db.query<T>(sql, { type: QueryTypes.SELECT });
    for (const { integrity_check: said } of await select<{ integrity_check: string }>('PRAGMA integrity_check(20)'))
      if (said !== 'ok') result.faults.push({ what: file, problem: `The database is damaged (${said}).`, remedy: restore });
    for (const { table } of await select<{ table: string }>('PRAGMA foreign_key_check'))
      result.faults.push({ what: file, problem: `A row of "${table}" refers to one that does not exist.`, remedy: restore });
    for (const { id, file: text } of await select<{ id: number; file: string }>('SELECT id, file FROM sets')) {
      try {
        readSetText(text);
      } catch (e) {
        result.faults.push({
          what: `set ${id}`,
          problem: `The set cannot be read. ${(e as Error).message}`,
          remedy: 'Export it as it is, correct it and import it again.',
        });
      }
    }
    for await (const named of inventory(db)) {
      const { bytes, fault } = await faultOf(folder, named, whole);
      result.files++;
      result.bytes += bytes;
      if (fault) result.faults.push(fault);
      onProgress?.(result.files);
    }
  } catch (e) {
    const said = (e as Error).message.replace(/\.?$/, '.');
    result.faults.push({ what: file, problem: `The database cannot be read: ${said}`, remedy: restore });
  } finally {
    await db.close().catch(() => undefined);
  }
  result.ok = result.faults.length === 0;
  return result;
}
