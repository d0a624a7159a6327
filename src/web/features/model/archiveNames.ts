/** What is in an archive that somebody is about to import, by names alone. */
import { ARCHIVE_EXTENSIONS, isArchiveContent } from '../../../core/model/fileExtensions.js';
import { endsIn } from './endsIn.js';

/** Names of files, with those in ZIP archives in the place of the archives'; nothing is unpacked. */
export async function namesInside(files: readonly File[]): Promise<string[]> {
  const names: string[] = [];
  for (const file of files) {
    if (endsIn(file.name, ['gz'])) names.push(file.name.replace(/\.gz$/i, ''));
    else if (!endsIn(file.name, ARCHIVE_EXTENSIONS)) names.push(file.name);
    else {
      const { unzipSync } = await import('fflate');
      try {
        unzipSync(new Uint8Array(await file.arrayBuffer()), {
          filter: ({ name }) => {
            if (isArchiveContent(name)) names.push(name);
            return false;
          },
        });
      } catch {
        // What is wrong with it is said where it is imported.
        names.push(file.name);
      }
    }
  }
  return names;
}
