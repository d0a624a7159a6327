/** What the commands share that work on a data folder from outside the server. */
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { Option } from 'commander';
import { distFile, projectRoot } from '../engine/node/assets.js';
import type * as Maintenance from '../server/maintenance/index.js';
import { InputError } from './command.js';

/** Options of commands that work on the data folder. */
export interface FolderOptions {
  data?: string;
}

/** The option that names the data folder. */
export const dataOption = (): Option => new Option('--data <folder>', 'the data folder, instead of COLD_EASEL_DATA or the one beside the program');

/** Loaded where it is asked for alone: the other commands need no database. */
export const loadMaintenance = async (): Promise<typeof Maintenance> =>
  (await import(pathToFileURL(distFile('maintenance.mjs')).href)) as typeof Maintenance;

/** The data folder that is meant: of --data, of the environment, or beside the program. */
export function dataFolder({ data }: FolderOptions): string {
  return path.resolve(data ?? process.env.COLD_EASEL_DATA ?? path.join(projectRoot(), 'data'));
}

/** Runs `work`; faults of what was named count as wrong input. */
export async function withMaintenance<T>(work: (m: typeof Maintenance) => Promise<T>): Promise<T> {
  const m = await loadMaintenance();
  try {
    return await work(m);
  } catch (e) {
    throw e instanceof m.BackupError || e instanceof m.FolderInUseError ? new InputError(e.message) : e;
  }
}

/** Bytes as a person reads them. */
export const toMegabytes = (bytes: number): string => `${(bytes / 2 ** 20).toFixed(1)} MB`;
