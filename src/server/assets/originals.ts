/** Files as they were uploaded, beside the canonical form that was made of them: by content, so that the same file is kept once. */
import { copyFile, readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { TEMPORARY_SUFFIX, commitFile } from '../../engine/node/files.js';
import type { AssetStore } from './assetStore.js';
import { hashFile } from '../../engine/node/hashFile.js';

/** A file of a model as it was uploaded. */
export interface Original {
  name: string;
  bytes: number;
  sha256: string;
}

async function usedBytes(folder: string): Promise<number> {
  const sizes = await Promise.all((await readdir(folder)).map(async (f) => (await stat(path.join(folder, f))).size));
  return sizes.reduce((a, b) => a + b, 0);
}

/**
 * Keeps uploaded files within the store's budget. Beyond it they are not kept, and the warning says so; what is
 * kept already is never removed for new ones.
 */
export async function keepOriginals(
  store: AssetStore,
  files: readonly { name: string; path: string }[],
): Promise<{ originals: Original[]; warning?: string }> {
  const originals: Original[] = [];
  for (const { name, path: at } of files) originals.push({ name, bytes: (await stat(at)).size, sha256: await hashFile(at) });
  const fresh = [];
  for (const [i, o] of originals.entries()) if (!(await store.exists(store.original(o.sha256)))) fresh.push({ ...o, path: files[i]!.path });
  const more = fresh.reduce((n, f) => n + f.bytes, 0);
  const budget = store.originalsBytes;
  if (more > 0 && (await usedBytes(path.join(store.root, 'originals'))) + more > budget)
    return {
      originals: [],
      warning: `The file as uploaded was not kept: the ${(budget / 2 ** 30).toLocaleString('en')} GB for originals are used up. The model itself is kept.`,
    };
  for (const { sha256, path: at } of fresh) {
    const target = store.original(sha256);
    await copyFile(at, `${target}${TEMPORARY_SUFFIX}`);
    await commitFile(`${target}${TEMPORARY_SUFFIX}`, target);
  }
  return { originals };
}
