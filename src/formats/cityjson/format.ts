/** What CityJSON files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** Buildings, terrain and other objects of a town (CityJSON 1.0 to 2.0). */
export const cityjson: ModelFormat = {
  id: 'cityjson',
  noun: 'a CityJSON model',
  extensions: ['city.json', 'cityjson'],
  statesUnits: true,
  sniff: ({ bytes }) => /^\s*\{[^]*?"type"\s*:\s*"CityJSON(Feature)?"/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 4096))),
  read: async (file, _companions, options) => (await import('./read.js')).read(file, options),
};
