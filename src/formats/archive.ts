/** Archives that models come in: a ZIP of a model with its textures, under any of its names, or one file made smaller by gzip. */
import { ARCHIVE_EXTENSIONS, isArchiveContent } from '../core/model/fileExtensions.js';
import { extensionOf, ModelError, type SourceFile } from './format.js';
import { listNames } from './report.js';
import { isZip, MAX_UNPACKED_BYTES, openZip } from './scene/zip.js';

const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b;

/** Whether the name is that of an archive. */
export const isArchiveName = (name: string): boolean => ARCHIVE_EXTENSIONS.includes(extensionOf(name));

async function unpackGzip({ name, bytes }: SourceFile, most: number): Promise<SourceFile> {
  const { gunzipSync } = await import('node:zlib');
  try {
    return { name: name.replace(/\.gz$/i, ''), bytes: new Uint8Array(gunzipSync(bytes, { maxOutputLength: most })) };
  } catch (e) {
    const tooLarge = (e as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE';
    throw new ModelError(
      tooLarge
        ? `"${name}" would unpack to more than ${most / 2 ** 20} MB, which is the most.`
        : `"${name}" is damaged: it cannot be unpacked. Export or copy it again.`,
    );
  }
}

/**
 * The files with archives among them replaced by what is in them, each under its name without folders.
 * @param modelsAmong the models among files that stand for themselves: layers of one scene are one.
 * @param most bytes that one file may unpack to.
 * @throws ModelError where an archive is damaged, too large, or holds no model or several.
 */
export async function openArchives(
  files: readonly SourceFile[],
  modelsAmong: (files: readonly SourceFile[]) => SourceFile[],
  most = MAX_UNPACKED_BYTES,
): Promise<SourceFile[]> {
  const out: SourceFile[] = [];
  for (const file of files) {
    const { name, bytes } = file;
    if (!isArchiveName(name)) out.push(file);
    else if (isGzip(bytes)) out.push(await unpackGzip(file, most));
    else if (!isZip(bytes)) throw new ModelError(`"${name}" is no archive; choose the one that you made, or the model itself.`);
    else {
      const entries = Object.entries(openZip(file, isArchiveContent)).map(([entry, content]) => ({ name: entry.split('/').pop()!, bytes: content }));
      const models = modelsAmong(entries).map((e) => e.name);
      if (models.length === 0) throw new ModelError(`"${name}" holds no model; pack one that can be imported, with its textures.`);
      if (models.length > 1) throw new ModelError(`"${name}" holds ${models.length} models: ${listNames(models)}. Pack one of them.`);
      out.push(...entries);
    }
  }
  return out;
}
