/** The folders of a data folder, and how those of earlier versions come to their present names. */
import { mkdir, readdir, rename, rmdir } from 'node:fs/promises';
import path from 'node:path';
import { exists } from './exists.js';

/** `pictures` holds the rendered files, under the names that people chose. */
export const FOLDERS = [
  'checkpoints',
  'environments',
  'masters',
  'models',
  'originals',
  'pictures',
  'sounds',
  'textures',
  'thumbnails',
  'uploads',
] as const;

/** Names that earlier versions used; backups made by them hold these still. */
export const FORMER_FOLDERS: Readonly<Record<string, (typeof FOLDERS)[number]>> = {
  films: 'checkpoints',
  small: 'thumbnails',
  surrounds: 'environments',
};

/** Makes the folders that are missing. What lies in a folder of a former name is moved; nothing is overwritten. */
export async function prepareFolders(root: string): Promise<void> {
  for (const folder of FOLDERS) await mkdir(path.join(root, folder), { recursive: true });
  for (const [former, present] of Object.entries(FORMER_FOLDERS)) {
    const from = path.join(root, former);
    if (!(await exists(from))) continue;
    for (const name of await readdir(from)) {
      const to = path.join(root, present, name);
      if (!(await exists(to))) await rename(path.join(from, name), to);
    }
    // Stays where something of the same name was there already.
    await rmdir(from).catch(() => undefined);
  }
}
