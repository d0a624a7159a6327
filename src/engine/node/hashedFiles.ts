/** Files of a frame with what they are known by later. */
import { createHash } from 'node:crypto';
import type { RenderedFile } from '../output/encodeFiles.js';
import type { EncodedFrame } from '../output/encodeFrame.js';

/** A written file with its checksum. */
export interface HashedFile extends RenderedFile {
  /** SHA-256 of its bytes in hexadecimal. */
  sha256: string;
}

/** Files of a frame with their checksums. */
export interface HashedFrame extends EncodedFrame {
  files: HashedFile[];
}

/** SHA-256 in 64 hexadecimal digits. */
export const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Adds the checksum of each file. */
export function withChecksums<T extends { files: RenderedFile[] }>(made: T): T & { files: HashedFile[] } {
  return { ...made, files: made.files.map((f) => ({ ...f, sha256: sha256Of(f.bytes) })) };
}
