/** Writes into a copy of an image file how it was made. */
import { constants } from 'node:fs';
import { copyFile, type FileHandle, mkdir, open } from 'node:fs/promises';
import path from 'node:path';
import { crc32 } from 'node:zlib';
import { XMP_PREFIX } from '../../formats/image/pngChunks.js';
import { makerIn, type RenderFacts, XMP_BEGIN, XMP_BYTES, xmpPacket } from '../../formats/image/xmp.js';

/** Bytes that are searched at a time. */
const WINDOW = 2 ** 20;

/** Where the packet begins in a file; -1 where it has none. Most types have it before their pixels, some behind. */
async function findPacket(handle: FileHandle): Promise<number> {
  const wanted = Buffer.from(XMP_BEGIN);
  const window = Buffer.alloc(WINDOW + wanted.length);
  for (let from = 0; ; from += WINDOW) {
    const { bytesRead } = await handle.read(window, 0, window.length, from);
    const at = window.subarray(0, bytesRead).indexOf(wanted);
    if (at >= 0) return from + at;
    if (bytesRead < window.length) return -1;
  }
}

/** Sums the chunk of a PNG anew that holds the packet. */
async function sumChunk(handle: FileHandle, packetAt: number): Promise<void> {
  const start = packetAt - XMP_PREFIX.length - 4;
  const told = Buffer.alloc(4 + XMP_PREFIX.length + XMP_BYTES);
  await handle.read(told, 0, told.length, start);
  if (told.toString('latin1', 0, 4) !== 'iTXt') return;
  const sum = Buffer.alloc(4);
  sum.writeUInt32BE(crc32(told));
  await handle.write(sum, 0, 4, start + told.length);
}

/** Where the packet of a file begins, and what it says; null where it has none. */
async function packetOf(file: string): Promise<{ at: number; said: string } | null> {
  const handle = await open(file, 'r');
  try {
    const at = await findPacket(handle);
    if (at < 0) return null;
    const packet = Buffer.alloc(XMP_BYTES);
    await handle.read(packet, 0, XMP_BYTES, at);
    return { at, said: packet.toString() };
  } finally {
    await handle.close();
  }
}

/**
 * Copies an image file and writes over its packet how it was made; who made it stays. Rejects where the file is not there.
 * @returns whether it was done: a file without a packet is not copied.
 */
export async function copyTelling(from: string, to: string, facts: RenderFacts): Promise<boolean> {
  const known = await packetOf(from);
  if (!known) return false;
  await mkdir(path.dirname(to), { recursive: true });
  await copyFile(from, to, constants.COPYFILE_FICLONE);
  const handle = await open(to, 'r+');
  try {
    await handle.write(xmpPacket(makerIn(known.said), facts), 0, XMP_BYTES, known.at);
    await sumChunk(handle, known.at);
    await handle.sync();
    return true;
  } finally {
    await handle.close();
  }
}
