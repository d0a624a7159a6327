/** What USD files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';
import { isZip } from '../scene/zip.js';

/** USD as text, binary and archive. */
export const usd: ModelFormat = {
  id: 'usd',
  noun: 'a USD model',
  extensions: ['usdz', 'usda', 'usdc', 'usd'],
  statesUnits: true,
  sniff: ({ bytes }) => isZip(bytes) || /^(#usda|PXR-USDC)/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 8))),
  read: async (file, companions) => (await import('./read.js')).read(file, companions),
};
