/** What DXF files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** DXF as text. */
export const dxf: ModelFormat = {
  id: 'dxf',
  noun: 'a DXF drawing',
  extensions: ['dxf'],
  statesUnits: true,
  // Codes and values by turns, each on a line: 0 begins a section; comments (999) may come before.
  sniff: ({ bytes }) =>
    /^(?:\s*999\r?\n[^\n]*\n)*\s*0\s*\r?\nSECTION/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 4096)).replace(/^\ufeff/, '')),
  read: async (file, _companions, options) => (await import('./read.js')).read(file, options),
};
