/** The film of a picture in strips, on the disk: rows of sums, written and read again as strips need them; and how far the work is. */
import { type FileHandle, mkdir, open, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { writeFileAtomic } from './files.js';

/** How far a picture in strips is. */
export interface StripProgress {
  /** Of the frame. */
  identity: string;
  /** Floats a row of the film has, and rows of a strip: sums of another form must not be gone on with. */
  form: string;
  /** Strips whose even samples, and all samples, are in the film. */
  even: number[];
  whole: number[];
  /** What the needs come to together, once all even samples are there. */
  scale?: number;
}

const PROGRESS = 'progress.json';
const FILM = 'film';

/** Sums of a frame that is traced strip by strip, on disk. */
export class FilmFile {
  private noting: Promise<void> = Promise.resolve();
  private readonly spare: ArrayBuffer[] = [];

  private constructor(
    private readonly folder: string,
    private readonly file: FileHandle,
    private readonly rowFloats: number,
    private readonly roomBytes: number,
    readonly progress: StripProgress,
  ) {}

  /** Opens what is there of this identity and form, or begins anew. @param mostRows that are read at a time. */
  static async open(folder: string, identity: string, form: string, rowFloats: number, mostRows: number): Promise<FilmFile> {
    const room = mostRows * rowFloats * 4;
    await mkdir(folder, { recursive: true });
    const known = await readFile(path.join(folder, PROGRESS), 'utf8')
      .then((text) => JSON.parse(text) as StripProgress)
      .catch(() => null);
    const fits = known?.identity === identity && known.form === form;
    const file = await open(path.join(folder, FILM), fits ? 'r+' : 'w+').catch(() => null);
    if (file) return new FilmFile(folder, file, rowFloats, room, fits ? known : { identity, form, even: [], whole: [] });
    // Progress without a film: it was removed by hand.
    return new FilmFile(folder, await open(path.join(folder, FILM), 'w+'), rowFloats, room, { identity, form, even: [], whole: [] });
  }

  /** Does something with rows of the film, which are there until it is over. Throws where they are not all there. */
  async with<T>(top: number, height: number, act: (sums: Float32Array) => Promise<T> | T): Promise<T> {
    const bytes = height * this.rowFloats * 4;
    // Used again: what is left to be collected as garbage would fill the memory before anybody looked.
    const at = this.spare.findIndex((b) => b.byteLength >= bytes);
    const buffer = at >= 0 ? this.spare.splice(at, 1)[0]! : new ArrayBuffer(Math.max(bytes, this.roomBytes));
    try {
      let from = 0;
      while (from < bytes) {
        const { bytesRead } = await this.file.read(new Uint8Array(buffer, from, bytes - from), 0, bytes - from, top * this.rowFloats * 4 + from);
        if (bytesRead === 0) throw new Error('The film of this frame is cut short.');
        from += bytesRead;
      }
      return await act(new Float32Array(buffer, 0, bytes / 4));
    } finally {
      this.spare.push(buffer);
    }
  }

  async write(top: number, sums: Float32Array): Promise<void> {
    const bytes = new Uint8Array(sums.buffer, sums.byteOffset, sums.byteLength);
    let from = 0;
    while (from < bytes.length) {
      const { bytesWritten } = await this.file.write(bytes, from, bytes.length - from, top * this.rowFloats * 4 + from);
      from += bytesWritten;
    }
  }

  /** Notes how far the work is, once what was written is on the disk. */
  note(values: Partial<StripProgress>): Promise<void> {
    Object.assign(this.progress, values);
    const text = JSON.stringify(this.progress);
    // One after another: several strips are in work.
    this.noting = this.noting
      .catch(() => undefined)
      .then(() => this.file.datasync())
      .then(() => writeFileAtomic(path.join(this.folder, PROGRESS), text));
    return this.noting;
  }

  async close(): Promise<void> {
    await this.file.close();
  }

  /** Closes it, and removes what is on the disk. */
  async remove(): Promise<void> {
    await this.close();
    await rm(this.folder, { recursive: true, force: true });
  }
}
