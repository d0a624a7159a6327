/** What OBJ with its MTL files are; their reader is loaded where one is read. */
import { type ModelFormat, textOf } from '../format.js';

/** Wavefront OBJ with its MTL. */
export const obj: ModelFormat = {
  id: 'obj',
  noun: 'an OBJ model',
  extensions: ['obj'],
  statesUnits: false,
  // Text without zero bytes in which some line is a vertex.
  sniff: ({ bytes }) => {
    const text = textOf(bytes.subarray(0, 1 << 20));
    return !text.slice(0, 4096).includes('\0') && /(^|\n)\s*v\s/.test(text);
  },
  read: async (file, companions, options) => (await import('./read.js')).read(file, companions, options),
};
