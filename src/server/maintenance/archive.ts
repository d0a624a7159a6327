/**
 * The file of a backup: a plain tar archive (POSIX.1-2001), which any tar reads. First come the database and the files
 * under their paths in the data folder, last a manifest with the SHA-256 of each.
 */
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import tar from 'tar-stream';

/** Name of the list in a backup. */
export const MANIFEST_NAME = 'manifest.json';
const BACKUP_FORMAT = 'cold-easel.backup';
const BACKUP_VERSION = 1;

/** A file of a backup. */
export interface ManifestFile {
  path: string;
  bytes: number;
  sha256: string;
}

/** What a backup holds. */
export interface Manifest {
  format: typeof BACKUP_FORMAT;
  version: typeof BACKUP_VERSION;
  /** When it was made, ISO 8601. */
  made: string;
  /** Parts of the data folder that were left out. */
  without: string[];
  files: ManifestFile[];
}

/** Writes entries one after another, and their checksums into the manifest. */
export class ArchiveWriter {
  private readonly pack = tar.pack();
  private readonly files: ManifestFile[] = [];
  private readonly written: Promise<void>;

  constructor(file: string) {
    this.written = pipeline(this.pack, createWriteStream(file, { flags: 'wx' }));
    // Whoever adds or finishes hears of it.
    this.written.catch(() => undefined);
  }

  private entry(name: string, size: number): NodeJS.WritableStream {
    return this.pack.entry({ name, size, mtime: new Date(0) });
  }

  /** Adds a file as it is at this moment; false where it does not exist. */
  async add(name: string, file: string): Promise<boolean> {
    const handle = await open(file, 'r').catch((e: NodeJS.ErrnoException) => {
      if (e.code === 'ENOENT') return null;
      throw e;
    });
    if (!handle) return false;
    try {
      // A file is replaced by renaming, never changed: what is open stays what it was.
      const { size } = await handle.stat();
      const hash = createHash('sha256');
      const source = handle.createReadStream({ autoClose: false, start: 0, ...(size > 0 && { end: size - 1 }) });
      source.on('data', (d) => hash.update(d));
      await Promise.race([
        pipeline(source, this.entry(name, size)),
        this.written.then(() => {
          throw new Error('The archive was closed early.');
        }),
      ]);
      this.files.push({ path: name, bytes: size, sha256: hash.digest('hex') });
      return true;
    } finally {
      await handle.close();
    }
  }

  /** Adds the manifest and closes the archive. */
  async finish(without: readonly string[]): Promise<Manifest> {
    const manifest: Manifest = {
      format: BACKUP_FORMAT,
      version: BACKUP_VERSION,
      made: new Date().toISOString(),
      without: [...without],
      files: this.files,
    };
    const text = Buffer.from(JSON.stringify(manifest, null, 1));
    this.entry(MANIFEST_NAME, text.length).end(text);
    this.pack.finalize();
    await this.written;
    return manifest;
  }

  /** Gives the archive up. */
  destroy(): void {
    this.pack.destroy();
  }
}

/** What a backup may hold: the database, and files in folders of the store, under former names too. */
const SAFE_PATH = /^(cold-easel\.sqlite|(checkpoints|environments|models|originals|pictures|sounds|textures|films|surrounds)\/[^\0]+)$/;

/** The backup is no backup, or not whole; the message says what is wrong. */
export class BackupError extends Error {
  override name = 'BackupError';
}

/**
 * Reads an archive to its end, comparing every file with the manifest.
 * @param onFile takes a file's bytes; the file is skipped where it returns null.
 * Rejects with BackupError where the archive is damaged, or holds a file that it should not.
 */
export async function readArchive(file: string, onFile: (path: string) => Promise<NodeJS.WritableStream | null>): Promise<Manifest> {
  const extract = tar.extract();
  const found = new Map<string, ManifestFile>();
  let manifest: Manifest | null = null;
  const damaged = (why: string): BackupError => new BackupError(`${file} cannot be restored: ${why}.`);
  const reading = pipeline(createReadStream(file), extract).catch((e: Error) => {
    throw e instanceof BackupError ? e : (e as NodeJS.ErrnoException).code?.startsWith('E') ? e : damaged('it is damaged or no backup');
  });
  reading.catch(() => undefined);
  try {
    for await (const entry of extract) {
      const { name, type } = entry.header;
      if (type !== 'file' || (name !== MANIFEST_NAME && (!SAFE_PATH.test(name) || name.split('/').includes('..'))))
        throw damaged(`it has an entry "${name}", which no backup has`);
      const hash = createHash('sha256');
      let bytes = 0;
      const chunks: Buffer[] = [];
      const target = name === MANIFEST_NAME ? null : await onFile(name);
      for await (const chunk of entry as AsyncIterable<Buffer>) {
        hash.update(chunk);
        bytes += chunk.length;
        if (name === MANIFEST_NAME) chunks.push(chunk);
        else if (target && !target.write(chunk)) await new Promise((resolve) => target.once('drain', resolve));
      }
      if (target) await new Promise<void>((resolve, reject) => target.once('error', reject).end(() => resolve()));
      if (name === MANIFEST_NAME) manifest = JSON.parse(Buffer.concat(chunks).toString()) as Manifest;
      else found.set(name, { path: name, bytes, sha256: hash.digest('hex') });
    }
    await reading;
  } catch (e) {
    if (e instanceof BackupError || (e as NodeJS.ErrnoException).code?.startsWith('E')) throw e;
    throw damaged('it is damaged or no backup');
  }
  if (!manifest) throw damaged('it is cut short, or no backup: its manifest is missing');
  if (manifest.format !== BACKUP_FORMAT) throw damaged('it is no backup of Cold Easel');
  if (manifest.version > BACKUP_VERSION) throw damaged('it was made by a later version; update the application');
  for (const { path, sha256 } of manifest.files) {
    const there = found.get(path);
    if (!there) throw damaged(`"${path}" is missing in it`);
    if (there.sha256 !== sha256) throw damaged(`"${path}" is not as it was backed up`);
    found.delete(path);
  }
  const [extra] = found.keys();
  if (extra !== undefined) throw damaged(`its manifest does not name "${extra}"`);
  return manifest;
}
