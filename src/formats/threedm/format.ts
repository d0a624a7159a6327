/** What 3DM files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** 3DM, the open format of openNURBS. */
export const threedm: ModelFormat = {
  id: '3dm',
  noun: 'a 3DM model',
  extensions: ['3dm'],
  statesUnits: true,
  sniff: ({ bytes }) => new TextDecoder('latin1').decode(bytes.subarray(0, 24)) === '3D Geometry File Format ',
  read: async (file) => (await import('./read.js')).read(file),
};
