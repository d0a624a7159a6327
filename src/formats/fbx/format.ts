/** What FBX files are; their reader is loaded where one is read. */
import type { ModelFormat } from '../format.js';
import { isBinaryFbx, isTextFbx } from './version.js';

/** FBX, binary and text, of version 6.4 (text: 7.0) and later. */
export const fbx: ModelFormat = {
  id: 'fbx',
  noun: 'an FBX model',
  extensions: ['fbx'],
  statesUnits: true,
  sniff: ({ bytes }) => isBinaryFbx(bytes) || isTextFbx(bytes),
  read: async (file, companions) => (await import('./read.js')).read(file, companions),
};
