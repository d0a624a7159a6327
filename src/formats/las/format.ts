/** What LAS and LAZ files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';

/** Point clouds of scanners, plain and compressed. */
export const las: ModelFormat = {
  id: 'las',
  noun: 'a LAS point cloud',
  extensions: ['las', 'laz'],
  statesUnits: true,
  sniff: ({ bytes }) => new TextDecoder('latin1').decode(bytes.subarray(0, 4)) === 'LASF',
  read: async (file, _companions, options) => (await import('./read.js')).read(file, options),
};
