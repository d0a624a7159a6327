/** Reads one damaged file after another, as the import process does; built by soak.ts. */
import { readFile } from 'node:fs/promises';
import { readModel } from '../../src/formats/formats.js';
import { serveTasks } from '../../src/engine/node/serveTasks.js';

serveTasks<{ name: string; path: string }, { triangles: number }>(async ({ name, path }) => {
  const model = await readModel([{ name, bytes: new Uint8Array(await readFile(path)) }], { unit: 'mm', up: 'z' });
  return { triangles: model.meshes.reduce((n, m) => n + m.indices.length / 3, 0) };
});
