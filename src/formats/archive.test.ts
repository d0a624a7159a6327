import { gzipSync, strToU8, zipSync } from 'fflate';
import { expect, it } from 'vitest';
import { openArchives } from './archive.js';
import type { SourceFile } from './format.js';

const models = (files: readonly SourceFile[]): SourceFile[] => files.filter(({ name }) => /\.(obj|dae)$/.test(name));
const names = async (name: string, bytes: Uint8Array): Promise<string[]> => (await openArchives([{ name, bytes }], models)).map((f) => f.name);
const model = strToU8('v 0 0 0');

it('are opened, whatever their ending says they hold; files beside them stay', async () => {
  const zip = zipSync({ 'lamp/lamp.obj': model, 'lamp/maps/tiles.png': new Uint8Array(3), '__MACOSX/._lamp.obj': model, 'lamp/.hidden.obj': model });
  for (const name of ['lamp.zip', 'lamp.zae', 'LAMP.ifczip']) expect(await names(name, zip)).toEqual(['lamp.obj', 'tiles.png']);
  const both = await openArchives(
    [
      { name: 'lamp.obj.gz', bytes: gzipSync(model) },
      { name: 'lamp.mtl', bytes: model },
    ],
    models,
  );
  expect(both.map((f) => [f.name, f.bytes.length])).toEqual([
    ['lamp.obj', model.length],
    ['lamp.mtl', model.length],
  ]);
});

it('are refused by name where they hold no model, several, or are damaged', async () => {
  await expect(names('a.zip', zipSync({ 'notes.txt': model }))).rejects.toThrow('"a.zip" holds no model');
  await expect(names('a.zip', zipSync({ 'a.obj': model, 'b/b.dae': model }))).rejects.toThrow(
    '"a.zip" holds 2 models: "a.obj", "b.dae". Pack one of them.',
  );
  await expect(names('a.zip', strToU8('no archive'))).rejects.toThrow('"a.zip" is no archive');
  await expect(names('a.obj.gz', gzipSync(new Uint8Array(500)).subarray(0, 15))).rejects.toThrow('"a.obj.gz" is damaged');
  await expect(names('a.zip', zipSync({ 'a.obj': new Uint8Array(500) }).subarray(0, 60))).rejects.toThrow('"a.zip" is damaged');
});

it('that would unpack to more than there is room for are not unpacked', async () => {
  const bytes = gzipSync(new Uint8Array(3 * 2 ** 20));
  await expect(openArchives([{ name: 'a.obj.gz', bytes }], models, 2 ** 20)).rejects.toThrow('"a.obj.gz" would unpack to more than 1 MB');
});
