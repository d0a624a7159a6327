/** What STL files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';
import { binaryCount } from './layout.js';

/** STL, as text and binary. */
export const stl: ModelFormat = {
  id: 'stl',
  noun: 'an STL model',
  extensions: ['stl'],
  statesUnits: false,
  sniff: (file) => binaryCount(file) !== null || /^\s*solid/i.test(new TextDecoder().decode(file.bytes.subarray(0, 200))),
  read: async (file, companions, options) => (await import('./read.js')).read(file, companions, options),
};
