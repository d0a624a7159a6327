/** Chunks of PNG files (PNG, Third Edition, 5.3): length, type, content and a CRC over the last two. */
import { crc32 } from 'node:zlib';

/** Length of the signature and the first chunk of a PNG, IHDR. */
export const AFTER_HEADER = 8 + 25;
/** What stands in an iTXt chunk before its text: keyword, no compression, no language (11.3.3.4; the keyword by ISO 16684-3). */
export const XMP_PREFIX = Buffer.from('XML:com.adobe.xmp\0\0\0\0\0', 'latin1');

/** A chunk. @param type four letters. */
export function pngChunk(type: string, content: Buffer): Buffer {
  const chunk = Buffer.alloc(12 + content.length);
  chunk.writeUInt32BE(content.length, 0);
  chunk.write(type, 4, 'latin1');
  content.copy(chunk, 8);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 8 + content.length)), 8 + content.length);
  return chunk;
}

/** Chunks from some place on, each with its length and CRC. */
export function pngChunks(bytes: Buffer): Buffer[] {
  const chunks: Buffer[] = [];
  for (let at = 0; at < bytes.length;) {
    const end = at + bytes.readUInt32BE(at) + 12;
    chunks.push(bytes.subarray(at, end));
    at = end;
  }
  return chunks;
}
