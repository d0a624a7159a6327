/**
 * Textures in KTX 2.0 as glTF has them (KHR_texture_basisu): ETC1S and UASTC, also packed by Zstandard. Transcoded by Basis
 * Universal's own decoder, which comes with three.js as a script for browsers.
 */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { compileFunction } from 'node:vm';
import type { ImageType } from './imageType.js';

/** A file in the transcoder's memory. */
interface TranscoderFile {
  isValid(): boolean;
  startTranscoding(): number;
  getImageTranscodedSizeInBytes(level: number, layer: number, face: number, format: number): number;
  transcodeImage(pixels: Uint8Array, level: number, layer: number, face: number, format: number, flags: number, row: number, rows: number): number;
  close(): void;
  delete(): void;
}

interface Transcoder {
  initializeBasis(): void;
  KTX2File: new (bytes: Uint8Array) => TranscoderFile;
}

const SCRIPT = 'three/examples/jsm/libs/basis/basis_transcoder.js';
/** Number of plain RGBA of 8 bits among the transcoder's targets. */
const RGBA = 13;
/** The first bytes of a file (KTX 2.0, 3.1). */
const SIGNATURE = Buffer.from('\xabKTX 20\xbb\r\n\x1a\n', 'latin1');
/** Bytes of the header and of the index of what follows it (KTX 2.0, 3). */
const HEADER_BYTES = 80;

let transcoder: Promise<Transcoder> | null = null;

/** Starts the transcoder; once a process, since that takes a while. */
async function startTranscoder(): Promise<Transcoder> {
  const require = createRequire(import.meta.url);
  const file = require.resolve(SCRIPT);
  // The script is no module, though its package says that all of its files are.
  const make = compileFunction(`${readFileSync(file, 'utf8')}\nreturn BASIS;`, ['require', '__filename', '__dirname'])(
    require,
    file,
    '',
  ) as (options: { wasmBinary: Uint8Array }) => Promise<Transcoder>;
  const started = await make({ wasmBinary: readFileSync(file.replace(/js$/, 'wasm')) });
  started.initializeBasis();
  return started;
}

/** The first image of the largest level. */
export const KTX2: ImageType = {
  matches: (_name, bytes) => bytes.length > HEADER_BYTES && SIGNATURE.equals(bytes.subarray(0, SIGNATURE.length)),
  size: (view) => ({ width: view.getUint32(20, true), height: view.getUint32(24, true) }),
  async decode(bytes) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const { width, height } = KTX2.size(view);
    if (view.getUint32(12, true) !== 0) throw new Error('A KTX2 texture that is not packed by Basis Universal is not read.');
    transcoder ??= startTranscoder();
    const { KTX2File } = await transcoder;
    const file = new KTX2File(bytes);
    try {
      const pixels = new Uint8Array(width * height * 4);
      const fits = file.isValid() && file.startTranscoding() && file.getImageTranscodedSizeInBytes(0, 0, 0, RGBA) === pixels.length;
      if (!fits || !file.transcodeImage(pixels, 0, 0, 0, RGBA, 0, -1, -1)) throw new Error('The KTX2 texture is damaged.');
      return { width, height, pixels };
    } catch (e) {
      // What broke off within may have left its memory in disorder.
      transcoder = null;
      throw e;
    } finally {
      file.close();
      file.delete();
    }
  },
};
