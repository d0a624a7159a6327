/** What PLY files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** PLY, as text and binary of both byte orders. */
export const ply: ModelFormat = {
  id: 'ply',
  noun: 'a PLY model',
  extensions: ['ply'],
  statesUnits: false,
  sniff: ({ bytes }) => /^ply\s/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 8))),
  read: async (file, companions, options) => (await import('./read.js')).read(file, companions, options),
};
