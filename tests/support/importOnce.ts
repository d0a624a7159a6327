/** A model that tests of one process import again and again is read once; later, what came of it is copied. */
import { createHash } from 'node:crypto';
import { cp, mkdtemp, readFile } from 'node:fs/promises';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { importFiles } from '../../src/engine/node/importModel.js';
import type { ModelDigest } from '../../src/engine/scene/prepare.js';

const kept = new Map<string, { folder: string; digest: ModelDigest }>();
process.once('exit', () => {
  for (const { folder } of kept.values()) rmSync(folder, { recursive: true, force: true });
});

/** In the place of importFiles; a file that is refused is read each time. */
export const importOnce: typeof importFiles = async (task, control) => {
  const hash = createHash('sha256').update(JSON.stringify(task.options));
  for (const { name, path: at } of task.files) hash.update(`\0${name}\0`).update(await readFile(at));
  const key = hash.digest('hex');
  const known = kept.get(key);
  if (known) {
    await cp(known.folder, task.out, { recursive: true });
    // Its warnings are added to by whoever gets it.
    return structuredClone(known.digest);
  }
  const digest = await importFiles(task, control);
  const folder = await mkdtemp(path.join(tmpdir(), 'easel-imported-'));
  await cp(task.out, folder, { recursive: true });
  kept.set(key, { folder, digest: structuredClone(digest) });
  return digest;
};
