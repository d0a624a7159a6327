/** What 3MF files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';
import { isZip } from '../scene/zip.js';

/** 3MF with its core specification's meshes and materials. */
export const threemf: ModelFormat = {
  id: '3mf',
  noun: 'a 3MF model',
  extensions: ['3mf'],
  statesUnits: true,
  sniff: ({ bytes }) => isZip(bytes),
  read: async (file) => (await import('./read.js')).read(file),
};
