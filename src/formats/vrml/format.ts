/** What VRML files are; their reader is loaded where one is read. */
import { type ModelFormat, textOf } from '../format.js';

/** VRML97 (ISO/IEC 14772), which VRML 2 became. Its unit is the metre, which many writers do not keep to: it is asked. */
export const vrml: ModelFormat = {
  id: 'vrml',
  noun: 'a VRML model',
  extensions: ['wrl', 'vrml'],
  statesUnits: false,
  sniff: ({ bytes }) => /^#VRML V\d/.test(textOf(bytes.subarray(0, 64))),
  read: async (file, companions, options) => (await import('./read.js')).read(file, companions, options),
};
