/** A look into a ZIP before anything is unpacked. */
import { unzipSync } from 'fflate';
import { ModelError, type SourceFile } from '../format.js';

/** Bytes that an archive may unpack to. */
export const MAX_UNPACKED_BYTES = 2 ** 30;
const MAX_ENTRIES = 10_000;

/** Entries that `wanted` asks for. Throws where the archive is damaged or would unpack to more than a gigabyte. */
export function openZip({ name, bytes }: SourceFile, wanted: (entry: string) => boolean): Record<string, Uint8Array> {
  let total = 0;
  let count = 0;
  try {
    unzipSync(bytes, {
      filter: (f) => {
        total += f.originalSize;
        count++;
        return false;
      },
    });
    if (total > MAX_UNPACKED_BYTES || count > MAX_ENTRIES)
      throw new ModelError(
        `"${name}" would unpack to ${Math.ceil(total / 2 ** 20)} MB in ${count} files; ${MAX_UNPACKED_BYTES / 2 ** 20} MB is the most.`,
      );
    return unzipSync(bytes, { filter: (f) => wanted(f.name) });
  } catch (e) {
    if (e instanceof ModelError) throw e;
    throw new ModelError(`"${name}" is damaged: it cannot be unpacked. Export or copy it again.`);
  }
}

/** Whether these are the bytes of a ZIP archive. */
export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
