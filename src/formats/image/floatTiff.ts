/**
 * Writes numbers as TIFF: single floats, in strips, without compression or deflated, and without the predictor for floats that few
 * readers know. Layout by TIFF, Revision 6.0 (Adobe 1992) and "Adobe Photoshop TIFF Technical Notes" (2002; deflate). The library
 * that writes all other TIFFs cuts floats to whole numbers.
 */
import { deflateSync } from 'node:zlib';
import type { TiffCompression } from '../../core/image/fileTypes.js';
import { xmpPacket } from './xmp.js';

/** Numbers to be written. */
export interface FloatImage {
  width: number;
  height: number;
  /** 1 grey, 3 colours, or 4: colours with alpha, not multiplied by it. */
  channels: 1 | 3 | 4;
  /** So many values a pixel, rows from the top. */
  values: Float32Array;
  compression?: Exclude<TiffCompression, 'lzw'>;
  /** Pixels an inch; none where absent. */
  dpi?: number | undefined;
  /** Program that the file names. */
  maker?: string | undefined;
}

/** Bytes of a strip at most, uncompressed. */
const STRIP_BYTES = 2 ** 18;
/** White point and primaries of ITU-R BT.709-6, table 1. */
const WHITE = [0.3127, 0.329];
const PRIMARIES = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06];
/** Steps of what is told as a fraction. */
const DENOMINATOR = 10_000;

type Entry = [tag: number, type: number, count: number, value: Buffer];
const shorts = (tag: number, ...values: number[]): Entry => [tag, 3, values.length, Buffer.from(Uint16Array.from(values).buffer)];
const longs = (tag: number, ...values: number[]): Entry => [tag, 4, values.length, Buffer.from(Uint32Array.from(values).buffer)];
const fractions = (tag: number, ...values: number[]): Entry => [
  tag,
  5,
  values.length,
  Buffer.from(Uint32Array.from(values.flatMap((v) => [Math.round(v * DENOMINATOR), DENOMINATOR])).buffer),
];
const octets = (tag: number, value: Buffer): Entry => [tag, 1, value.length, value];
const text = (tag: number, value: string): Entry => {
  const bytes = Buffer.from(`${value}\0`, 'latin1');
  return [tag, 2, bytes.length, bytes];
};

/** The numbers as a file. Throws where there are others than the size says. */
export function writeFloatTiff({ width, height, channels, values, compression = 'deflate', dpi, maker }: FloatImage): Buffer {
  if (values.length !== width * height * channels) throw new Error(`${values.length} values are not ${width} × ${height} × ${channels}.`);
  const deflated = compression === 'deflate';
  const rowBytes = width * channels * 4;
  const rowsPerStrip = Math.max(1, Math.floor(STRIP_BYTES / rowBytes));
  const bytes = Buffer.from(values.buffer, values.byteOffset, values.byteLength);
  const strips: Buffer[] = [];
  for (let top = 0; top < height; top += rowsPerStrip) {
    const rows = bytes.subarray(top * rowBytes, Math.min(height, top + rowsPerStrip) * rowBytes);
    strips.push(deflated ? deflateSync(rows) : rows);
  }
  const HEADER = 8;
  const offsets: number[] = [];
  let at = HEADER;
  for (const strip of strips) {
    offsets.push(at);
    at += strip.length;
  }
  const padding = at % 2;
  const entries: Entry[] = [
    longs(256, width),
    longs(257, height),
    shorts(258, ...Array.from({ length: channels }, () => 32)),
    shorts(259, deflated ? 8 : 1),
    shorts(262, channels === 1 ? 1 : 2),
    longs(273, ...offsets),
    shorts(277, channels),
    longs(278, rowsPerStrip),
    longs(279, ...strips.map((s) => s.length)),
    ...(dpi === undefined ? [] : [fractions(282, dpi), fractions(283, dpi)]),
    shorts(284, 1),
    ...(dpi === undefined ? [] : [shorts(296, 2)]),
    ...(maker === undefined ? [] : [text(305, maker)]),
    ...(channels === 1 ? [] : [fractions(318, ...WHITE), fractions(319, ...PRIMARIES)]),
    // Alpha that colours are not multiplied by.
    ...(channels === 4 ? [shorts(338, 2)] : []),
    shorts(339, ...Array.from({ length: channels }, () => 3)),
    ...(maker === undefined ? [] : [octets(700, xmpPacket(maker))]),
  ];
  const directoryAt = at + padding;
  const directory = Buffer.alloc(2 + entries.length * 12 + 4);
  directory.writeUInt16LE(entries.length, 0);
  const beyond: Buffer[] = [];
  let next = directoryAt + directory.length;
  entries.forEach(([tag, type, count, value], i) => {
    const o = 2 + i * 12;
    directory.writeUInt16LE(tag, o);
    directory.writeUInt16LE(type, o + 2);
    directory.writeUInt32LE(count, o + 4);
    if (value.length <= 4) return void value.copy(directory, o + 8);
    directory.writeUInt32LE(next, o + 8);
    const even = value.length % 2 === 0 ? value : Buffer.concat([value, Buffer.alloc(1)]);
    beyond.push(even);
    next += even.length;
  });
  const header = Buffer.alloc(HEADER);
  header.write('II', 'latin1');
  header.writeUInt16LE(42, 2);
  header.writeUInt32LE(directoryAt, 4);
  return Buffer.concat([header, ...strips, Buffer.alloc(padding), directory, ...beyond]);
}
