/** What IFC files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** IFC 2x3 and 4, as STEP text. */
export const ifc: ModelFormat = {
  id: 'ifc',
  noun: 'an IFC model',
  extensions: ['ifc'],
  statesUnits: true,
  sniff: ({ bytes }) => /ISO-10303-21[\s\S]*FILE_SCHEMA\s*\(\s*\(\s*'IFC/i.test(new TextDecoder('latin1').decode(bytes.subarray(0, 65_536))),
  read: async (file) => (await import('./read.js')).read(file),
};
