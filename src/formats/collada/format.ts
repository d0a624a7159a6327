/** What Collada files are; their reader is loaded where one is read. */
import { type ModelFormat, textOf } from '../format.js';

/** Collada 1.4 and 1.5. */
export const collada: ModelFormat = {
  id: 'collada',
  noun: 'a Collada model',
  extensions: ['dae'],
  statesUnits: true,
  sniff: ({ bytes }) => /<COLLADA\b/.test(textOf(bytes.subarray(0, 4096))),
  read: async (file, companions) => (await import('./read.js')).read(file, companions),
};
