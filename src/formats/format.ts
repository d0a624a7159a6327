/** What a model format is: one folder each, registered in formats.ts. */
import type { Model } from '../core/model/model.js';
import type { Units } from '../core/model/fileExtensions.js';

export { extensionOf } from '../core/model/fileExtensions.js';

/** A file with the name that it came under. */
export interface SourceFile {
  name: string;
  bytes: Uint8Array;
}

/** What is known of a file that does not say it itself. */
export interface ReadOptions extends Units {
  /** What of that somebody said; the rest is assumed. */
  asked?: Partial<Units>;
  /** Every face of a solid is a group of its own and can have its own material, in files that have faces (STEP, IGES, BREP). */
  facesApart?: boolean;
}

/** What a person says of a file; units that are not said are assumed where the file leaves them open. */
export type AskedOptions = Partial<Units> & Pick<ReadOptions, 'facesApart'>;

/** A format that models are read from. */
export interface ModelFormat {
  id: string;
  noun: string;
  extensions: string[];
  /** Whether the file states its unit and up axis; where not, they are asked. */
  statesUnits: boolean;
  sniff(file: SourceFile): boolean;
  /** Throws ModelError where the file cannot be read. `companions` are the files that came with it. */
  read(file: SourceFile, companions: SourceFile[], options: ReadOptions): Promise<Model>;
}

/** A file is at fault; the message is one clear sentence or two: what is wrong, and the remedy. */
export class ModelError extends Error {
  override name = 'ModelError';
}

/** What a reader of ours found wrong, as the end of a sentence about the file: "it has a coordinate that is not a number". */
export class DamageError extends Error {
  override name = 'DamageError';
}

/** Triangles of a model at most. */
export const MAX_TRIANGLES = 10_000_000;
/** Faces that are kept apart: each is a mesh for viewport and kernel. */
export const MAX_SEPARATE_FACES = 20_000;
/** Bytes of an upload at most. */
export const MAX_UPLOAD_BYTES = 512 * 2 ** 20;
/** Pixels along a side of a texture; larger ones are scaled down. */
export const MAX_TEXTURE_SIDE = 8192;

const KNOWN_SIGNATURES: [string, number[]][] = [
  ['a PNG image', [0x89, 0x50, 0x4e, 0x47]],
  ['a JPEG image', [0xff, 0xd8, 0xff]],
  ['a ZIP archive', [0x50, 0x4b, 0x03, 0x04]],
  ['a PDF document', [0x25, 0x50, 0x44, 0x46]],
  ['a GLB model', [0x67, 0x6c, 0x54, 0x46]],
];

/** What the first bytes say a file is, for error messages; null where they say nothing. */
export function describeSignature(bytes: Uint8Array): string | null {
  return KNOWN_SIGNATURES.find(([, head]) => head.every((b, i) => bytes[i] === b))?.[0] ?? null;
}

/** The text of a file, by its byte order mark: UTF-16 of either order, else UTF-8; Windows-1252 where it is no UTF-8. */
export function textOf(bytes: Uint8Array): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** An address as a path is written; as it stands where it is no proper address. */
export function decodedUri(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}
