/** An image sequence: a ZIP of a movie's frames, numbered from 1. */
import { createWriteStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { ZipArchive } from 'archiver';
import type { MovieFrame } from './movieFrames.js';

/** Digits of a number at least, as programs that read sequences expect them. */
const DIGITS = 4;

/**
 * Packs the pictures one after another as `NAME_0001.png`; images are compressed already. Rejects where one cannot be read,
 * or the signal stops it.
 */
export async function packSequence(
  { sequence, pictures }: { sequence: string; pictures: readonly MovieFrame[] },
  out: string,
  signal: AbortSignal,
  onShare: (share: number) => void,
): Promise<void> {
  const zip = new ZipArchive({ store: true });
  const written = pipeline(zip, createWriteStream(out), { signal });
  written.catch(() => undefined);
  const digits = Math.max(DIGITS, String(pictures.length).length);
  for (const [i, picture] of pictures.entries()) {
    signal.throwIfAborted();
    onShare(i / pictures.length);
    const [bytes, ending] = typeof picture === 'string' ? [await readFile(picture), path.extname(picture)] : [await picture(), '.png'];
    // The next one is read when this one is in: only a few are in memory.
    const added = new Promise<void>((resolve, reject) => {
      zip.once('entry', () => resolve());
      written.catch(reject);
    });
    zip.append(bytes, { name: `${sequence}_${String(i + 1).padStart(digits, '0')}${ending}` });
    await added;
  }
  await Promise.all([zip.finalize(), written]);
}
