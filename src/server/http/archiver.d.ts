/** The part of archiver 8 that is used; it ships no types of its own. */
declare module 'archiver' {
  import type { Transform } from 'node:stream';

  export class ZipArchive extends Transform {
    constructor(options?: { store?: boolean });
    append(content: string | Buffer, entry: { name: string }): this;
    file(path: string, entry: { name: string }): this;
    finalize(): Promise<void>;
  }
}
