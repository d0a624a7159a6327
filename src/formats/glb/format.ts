/** What GLB and glTF files are; their readers are loaded where a file is read. */
import { type ModelFormat, textOf } from '../format.js';

/** The first four bytes of a GLB, as a little-endian number. */
const MAGIC = 0x46546c67;

/** glTF 2.0 in one binary file. */
export const glb: ModelFormat = {
  id: 'glb',
  noun: 'a GLB model',
  extensions: ['glb'],
  statesUnits: true,
  sniff: ({ bytes }) => bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === MAGIC,
  read: async (file) => (await import('./read.js')).read(file),
};

/** glTF 2.0 as JSON, with its files beside it. */
export const gltf: ModelFormat = {
  id: 'gltf',
  noun: 'a glTF model',
  extensions: ['gltf'],
  statesUnits: true,
  sniff: ({ bytes }) => /^\s*\{/.test(textOf(bytes.subarray(0, 256))),
  read: async (file, companions) => (await import('./gltf.js')).read(file, companions),
};
