/** What a start finds in the data folder that the database does not name, or that was cut off while it was written. */
import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { TEMPORARY_SUFFIX } from '../../engine/node/files.js';
import type { AssetStore } from './assetStore.js';

/** Moves what was being uploaded or written when the power went into the trash; returns how many there were. */
export async function collectTorn(store: AssetStore): Promise<number> {
  const torn = (await readdir(store.uploads())).map((name) => path.join('uploads', name));
  for (const folder of store.folders.filter((f) => f !== 'uploads'))
    for (const name of await readdir(path.join(store.root, folder), { recursive: true }))
      if (name.endsWith(TEMPORARY_SUFFIX)) torn.push(path.join(folder, name));
  await store.trash.take(torn);
  return torn.length;
}

/**
 * Moves files of models that no revision names into the trash: of an import that was cut off. Where the database is new,
 * or most models would go, it is the database that is not the one of these files: then nothing is moved.
 * @param known hashes that revisions name.
 * @param log hears what was done and why.
 */
export async function collectOrphanModels(store: AssetStore, known: ReadonlySet<string>, log: (line: string) => void): Promise<void> {
  const names = await readdir(path.join(store.root, 'models'));
  const hashOf = (name: string): string => name.split('.')[0]!;
  const orphans = names.filter((n) => !known.has(hashOf(n)));
  if (orphans.length === 0) return;
  const unknown = new Set(orphans.map(hashOf)).size;
  const all = new Set(names.map(hashOf)).size;
  if (known.size === 0 || unknown > all / 2) {
    log(
      `${unknown} of ${all} models in ${store.root} are not named by the database and are left where they are: it may not be the database of this folder.`,
    );
    return;
  }
  const moved = await store.trash.take(orphans.map((n) => path.join('models', n)));
  log(`${unknown} models that no revision names are moved to the trash for ${store.trash.days} days: ${moved.join(', ')}`);
}

/** Gives revisions their files back that an earlier start moved to the trash; returns the hashes whose models are still missing. */
export async function recoverModels(store: AssetStore, known: ReadonlySet<string>, log: (line: string) => void): Promise<string[]> {
  const missing: string[] = [];
  for (const hash of known) {
    for (const file of [store.glb(hash), store.scene(hash), store.viewport(hash)]) {
      if (await store.exists(file)) continue;
      if (await store.trash.restore(path.relative(store.root, file))) log(`${file} is back from the trash: a revision names it.`);
    }
    if (!(await store.exists(store.glb(hash)))) missing.push(hash);
  }
  return missing;
}
