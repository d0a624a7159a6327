/** How much room there is on the disk of the data folder, looked at before and during a batch. */
import { statfs } from 'node:fs/promises';
import { ServerError } from '../errors.js';

const megabytes = (bytes: number): string => `${Math.floor(bytes / 2 ** 20).toLocaleString('en')} MB`;

/** Bytes that may still be written to the disk of a folder. */
export async function freeBytes(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
}

/** Throws ServerError 'disk-full' where less than the reserve is free. */
export async function checkRoom(folder: string, reserve: number): Promise<void> {
  const free = await freeBytes(folder);
  if (free < reserve)
    throw new ServerError(
      'disk-full',
      `Only ${megabytes(free)} are free on the disk of the data folder, and ${megabytes(reserve)} are kept in reserve.`,
    );
}
