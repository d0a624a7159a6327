/** Reads the files of a package themselves, and has them judged. */
import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { type AuditFault, type FileFacts, judgeFile, judgePackage } from '../../core/handover/audit.js';
import type { FileEntry, Manifest } from '../../core/handover/manifest.js';
import { readExr } from '../../formats/exr/read.js';
import { readRadianceSize } from '../../formats/image/radiance.js';
import { probeMovie } from './ffmpeg.js';
import { hashFile } from './hashFile.js';
import { openImageFile } from './openImage.js';

const BITS: Readonly<Record<string, number>> = { uchar: 8, ushort: 16, float: 32 };

/** Throws where a sheet is not whole. */
async function readSheet(file: string): Promise<void> {
  if (file.endsWith('.png')) await (await openImageFile(file)).stats();
  else if (file.endsWith('.html')) {
    if (!(await readFile(file, 'utf8')).trimEnd().endsWith('</html>')) throw new Error('The page is cut short.');
  } else if (!(await readFile(file)).subarray(0, 5).equals(Buffer.from('%PDF-'))) throw new Error('It is no PDF file.');
}

/** What an image is, read whole, so that a torn one is found. */
async function imageFacts(file: string): Promise<Omit<FileFacts, 'bytes' | 'sha256'>> {
  if (file.endsWith('.exr')) {
    const { width, height, channels, halves } = readExr(await readFile(file));
    return { type: `exr ${halves ? 16 : 32}`, width, height, alpha: channels.has('A') };
  }
  if (file.endsWith('.hdr')) return { type: 'hdr 32', ...readRadianceSize(await readFile(file)), alpha: false };
  const image = await openImageFile(file);
  const { format, depth, width, height, hasAlpha } = await image.metadata();
  await image.stats();
  // What is opened as pixels alone is BMP.
  const type = format === 'heif' ? 'avif' : format === 'raw' || format === undefined ? 'bmp' : format;
  return { type: `${type} ${BITS[depth ?? ''] ?? '?'}`, width: width!, height: height!, alpha: hasAlpha ?? false };
}

/** Facts of one file; null where there is none. */
export async function readFacts(file: string, kind: FileEntry['kind'], signal?: AbortSignal): Promise<FileFacts | null> {
  const size = await stat(file).then(
    (s) => (s.isFile() ? s.size : null),
    () => null,
  );
  if (size === null) return null;
  const facts = { bytes: size, sha256: await hashFile(file) };
  try {
    if (kind === 'render') return { ...facts, ...(await imageFacts(file)) };
    if (kind === 'movie') {
      const { codec, width, height, ...movie } = await probeMovie(file, signal);
      return { ...facts, type: codec, width, height, movie };
    }
    if (kind === 'sheet') await readSheet(file);
    return facts;
  } catch (e) {
    if (signal?.aborted) throw e;
    return { ...facts, problem: (e as Error).message.split('\n')[0]! };
  }
}

/** Paths of all files below a folder, with "/" between their parts. */
export async function filesBelow(folder: string): Promise<string[]> {
  const all = await readdir(folder, { recursive: true, withFileTypes: true });
  return all.filter((f) => f.isFile()).map((f) => path.relative(folder, path.join(f.parentPath, f.name)).split(path.sep).join('/'));
}

/** What checking a package found. */
export interface Audit {
  ok: boolean;
  /** How many files were read. */
  files: number;
  faults: AuditFault[];
}

/**
 * Audits the package in a folder. Rejects only where the folder cannot be read.
 * @param onProgress files that were read, and of how many. @param read how facts are read; in this process where absent.
 */
export async function auditPackage(
  folder: string,
  manifest: Manifest,
  { onProgress, signal, read = readFacts }: { onProgress?: (done: number, of: number) => void; signal?: AbortSignal; read?: typeof readFacts } = {},
): Promise<Audit> {
  const faults: AuditFault[] = [];
  let done = 0;
  for (const entry of manifest.files) {
    signal?.throwIfAborted();
    faults.push(...judgeFile(entry, await read(path.join(folder, entry.path), entry.kind, signal)));
    onProgress?.(++done, manifest.files.length);
  }
  faults.push(...judgePackage(manifest, await filesBelow(folder)));
  return { ok: faults.length === 0, files: manifest.files.length, faults };
}
