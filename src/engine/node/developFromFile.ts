/** Reads a master from the disk and develops a frame's files of it. */
import { readFile } from 'node:fs/promises';
import type { Frame } from '../../core/frame/frame.js';
import { type Development, developFrame } from '../output/develop.js';
import { decodeMaster } from '../output/master.js';
import type { MatteNames } from '../scene/matteNames.js';
import { type HashedFile, sha256Of, withChecksums } from './hashedFiles.js';

/** Files of a frame to be written anew from its master. */
export interface DevelopTask {
  frame: Frame;
  /** Path of the master, and the SHA-256 that was recorded of it. */
  master: { path: string; sha256: string };
  names: MatteNames;
  /** Beauty as the filter made it of the sums that an earlier answer gave. */
  beauty?: Float32Array;
}

/** A development whose files have checksums. */
export type HashedDevelopment<File = HashedFile> =
  | (Omit<Extract<Development, { kind: 'files' }>, 'files'> & { files: File[] })
  | Exclude<Development, { kind: 'files' }>;

/** As developFrame. Throws where the master is gone, or is not as it was written. */
export async function developFromFile({ frame, master, names, beauty }: DevelopTask): Promise<HashedDevelopment> {
  const bytes = await readFile(master.path);
  if (sha256Of(bytes) !== master.sha256) throw new Error('The master is not as it was written.');
  const done = await developFrame(frame, decodeMaster(bytes), names, beauty);
  return done.kind === 'files' ? withChecksums(done) : done;
}
