/** What OFF files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** Object File Format as text. */
export const off: ModelFormat = {
  id: 'off',
  noun: 'an OFF model',
  extensions: ['off'],
  statesUnits: false,
  sniff: ({ bytes }) => /^(?:\s|#[^\n]*\n)*(?:ST)?C?N?4?n?OFF\b/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 1024))),
  read: async (file, _companions, options) => (await import('./read.js')).read(file, options),
};
