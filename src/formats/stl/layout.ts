/** How a binary STL is laid out. */
import type { SourceFile } from '../format.js';

/** Bytes before the first triangle, its count among them. */
export const HEAD = 84;
/** Bytes of a triangle. */
export const FACET = 50;

/** Triangles of a binary file by its count, or null where it is text. */
export function binaryCount({ bytes }: SourceFile): number | null {
  if (bytes.length < HEAD) return null;
  const count = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true);
  if (bytes.length === HEAD + FACET * count) return count;
  // Writers of binary files begin with "solid" too; text has no zero bytes.
  return bytes.subarray(0, 1024).includes(0) ? count : null;
}
