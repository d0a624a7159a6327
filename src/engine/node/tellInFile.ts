/** Writes into a copy of an image file how it was made. */
import { constants } from 'node:fs';
import { copyFile, type FileHandle, mkdir, open } from 'node:fs/promises';
import path from 'node:path';
import { crc32 } from 'node:zlib';
import { XMP_PREFIX } from '../../formats/image/pngChunks.js';
import { XMP_BEGIN, XMP_BYTES } from '../../formats/image/xmp.js';

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

/**
 * Copies an image file and writes a packet over the one it has; a file without one is copied as it is.
 * @param packet as xmpPacket makes it. @returns whether the file tells it now.
 */
export async function copyTelling(from: string, to: string, packet: Buffer): Promise<boolean> {
  await mkdir(path.dirname(to), { recursive: true });
  await copyFile(from, to, constants.COPYFILE_FICLONE);
  const handle = await open(to, 'r+');
  try {
    const at = await findPacket(handle);
    if (at < 0) return false;
    await handle.write(packet, 0, packet.length, at);
    await sumChunk(handle, at);
    await handle.sync();
    return true;
  } finally {
    await handle.close();
  }
}
