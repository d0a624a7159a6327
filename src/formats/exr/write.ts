/**
 * Writes OpenEXR: one part or several, scan lines, without compression or with ZIP of one or of 16 lines, half or single floats, any number
 * of named channels and text attributes. Layout by "OpenEXR File Layout" (openexr.com). No library in
 * the registry writes more than one layer.
 */
import { deflateSync } from 'node:zlib';
import { DataUtils } from 'three/src/extras/DataUtils.js';
import { DEFAULT_COMPRESSION, type ExrCompression } from '../../core/frame/frame.js';
import { roundToHalf } from '../../core/image/half.js';

/** A channel to be written. */
export interface ExrChannel {
  /** "R", or "layer.R". */
  name: string;
  type: 'half' | 'float';
  /** One value a pixel, rows from the top. */
  data: Float32Array;
}

/** An OpenEXR image to be written. */
export interface ExrImage {
  width: number;
  height: number;
  pixelAspect?: number;
  /** Pixels an inch across, as the optional attribute xDensity; none where absent. */
  dpi?: number | undefined;
  channels: ExrChannel[];
  /** Text attributes by name. */
  texts?: Record<string, string>;
  compression?: ExrCompression;
  /** Effort of deflate, 1..9. */
  effort?: number;
}

/** First number of every OpenEXR file, little-endian. */
export const EXR_MAGIC = 0x01312f76;
const DEFAULT_EFFORT = 6;
/** Version 2, with names of more than 31 letters. */
export const EXR_VERSION = 2 | 0x400;
/** Added to the version of a file with several parts. */
export const EXR_MULTIPART = 0x1000;
/** The standard's number of a compression, and how many lines it takes at once. */
const COMPRESSIONS: Readonly<Record<ExrCompression, { code: number; lines: number }>> = {
  none: { code: 0, lines: 1 },
  zips: { code: 2, lines: 1 },
  zip: { code: 3, lines: 16 },
};
/** Lines that are compressed at once, by the standard's number of the compression. */
export const EXR_COMPRESSION_CODES: ReadonlyMap<number, number> = new Map(Object.values(COMPRESSIONS).map((c) => [c.code, c.lines]));

class Bytes {
  private readonly parts: Buffer[] = [];
  length = 0;

  add(bytes: Buffer): this {
    this.parts.push(bytes);
    this.length += bytes.length;
    return this;
  }

  text(value: string): this {
    return this.add(Buffer.from(`${value}\0`, 'latin1'));
  }

  ints(...values: number[]): this {
    const b = Buffer.alloc(values.length * 4);
    values.forEach((v, i) => b.writeInt32LE(v | 0, i * 4));
    return this.add(b);
  }

  floats(...values: number[]): this {
    const b = Buffer.alloc(values.length * 4);
    values.forEach((v, i) => b.writeFloatLE(v, i * 4));
    return this.add(b);
  }

  byte(value: number): this {
    return this.add(Buffer.from([value]));
  }

  whole(): Buffer {
    return Buffer.concat(this.parts);
  }
}

/** @param part name of it, and its number of blocks, in a file of several. */
function header(
  { width, height, pixelAspect = 1, dpi, texts = {} }: ExrImage,
  channels: readonly ExrChannel[],
  code: number,
  part?: { name: string; blocks: number },
): Buffer {
  const out = new Bytes();
  const attribute = (name: string, type: string, value: Buffer): void => {
    out.text(name).text(type).ints(value.length).add(value);
  };
  const list = new Bytes();
  for (const c of channels) list.text(c.name).ints(c.type === 'half' ? 1 : 2, 0, 1, 1);
  attribute('channels', 'chlist', list.byte(0).whole());
  if (part) {
    attribute('chunkCount', 'int', new Bytes().ints(part.blocks).whole());
    attribute('name', 'string', Buffer.from(part.name, 'utf8'));
    attribute('type', 'string', Buffer.from('scanlineimage'));
  }
  attribute('compression', 'compression', Buffer.from([code]));
  const window = new Bytes().ints(0, 0, width - 1, height - 1).whole();
  attribute('dataWindow', 'box2i', window);
  attribute('displayWindow', 'box2i', window);
  attribute('lineOrder', 'lineOrder', Buffer.from([0]));
  attribute('pixelAspectRatio', 'float', new Bytes().floats(pixelAspect).whole());
  if (dpi !== undefined) attribute('xDensity', 'float', new Bytes().floats(dpi).whole());
  attribute('screenWindowCenter', 'v2f', new Bytes().floats(0, 0).whole());
  attribute('screenWindowWidth', 'float', new Bytes().floats(1).whole());
  for (const [name, value] of Object.entries(texts)) attribute(name, 'string', Buffer.from(value, 'utf8'));
  return out.byte(0).whole();
}

/** Bytes split into even and odd ones, then each as its difference to the one before, then deflated. */
function compress(raw: Buffer, effort: number): Buffer {
  const turned = Buffer.allocUnsafe(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) turned[(i & 1) * half + (i >> 1)] = raw[i]!;
  let before = turned[0]!;
  for (let i = 1; i < turned.length; i++) {
    const now = turned[i]!;
    turned[i] = (now - before + 384) & 255;
    before = now;
  }
  const packed = deflateSync(turned, { level: effort });
  return packed.length < raw.length ? packed : raw;
}

/** Lines that are compressed together, and the first of them. */
interface Block {
  y: number;
  packed: Buffer;
}

/** Channels in the order of their names, with what each compresses to. Throws where one has another number of values than pixels. */
function packImage(image: ExrImage): { channels: ExrChannel[]; code: number; blocks: Block[] } {
  const { width, height, compression = DEFAULT_COMPRESSION.exr, effort = DEFAULT_EFFORT } = image;
  const { code, lines: linesPerBlock } = COMPRESSIONS[compression];
  const wrong = image.channels.find((c) => c.data.length !== width * height);
  if (wrong) throw new Error(`Channel "${wrong.name}" has ${wrong.data.length} values for ${width * height} pixels.`);
  const channels = image.channels
    .map((c) => ({ ...c, data: c.type === 'half' ? roundToHalf(c.data) : c.data }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const lineBytes = channels.reduce((n, c) => n + (c.type === 'half' ? 2 : 4) * width, 0);
  const blocks: Block[] = [];
  for (let y0 = 0; y0 < height; y0 += linesPerBlock) {
    const lines = Math.min(linesPerBlock, height - y0);
    const raw = Buffer.allocUnsafe(lines * lineBytes);
    let p = 0;
    for (let y = y0; y < y0 + lines; y++) {
      for (const { type, data } of channels) {
        for (let i = y * width, end = i + width; i < end; i++) {
          if (type === 'half') p = raw.writeUInt16LE(DataUtils.toHalfFloat(data[i]!), p);
          else p = raw.writeFloatLE(data[i]!, p);
        }
      }
    }
    blocks.push({ y: y0, packed: compression === 'none' ? raw : compress(raw, effort) });
  }
  return { channels, code, blocks };
}

/** Tables of offsets and all blocks, of which the first begins at `at` and those tables. @param isMultipart whether each names its part. */
function layBlocks(parts: readonly (readonly Block[])[], at: number, isMultipart: boolean): Buffer[] {
  const tables: Buffer[] = [];
  const bodies: Buffer[] = [];
  const head = isMultipart ? 12 : 8;
  let next = at + parts.reduce((n, blocks) => n + blocks.length * 8, 0);
  parts.forEach((blocks, part) => {
    const table = Buffer.alloc(blocks.length * 8);
    blocks.forEach(({ y, packed }, k) => {
      table.writeBigUInt64LE(BigInt(next), k * 8);
      bodies.push(new Bytes().ints(...(isMultipart ? [part] : []), y, packed.length).whole(), packed);
      next += head + packed.length;
    });
    tables.push(table);
  });
  return [...tables, ...bodies];
}

/** The image as a file of one part. Throws where a channel has another number of values than there are pixels. */
export function writeExr(image: ExrImage): Buffer {
  const { channels, code, blocks } = packImage(image);
  const start = Buffer.concat([new Bytes().ints(EXR_MAGIC, EXR_VERSION).whole(), header(image, channels, code)]);
  return Buffer.concat([start, ...layBlocks([blocks], start.length, false)]);
}

/** Images of one size as parts of one file, each by its name. Throws as writeExr does. */
export function writeExrParts(parts: readonly (ExrImage & { name: string })[]): Buffer {
  const packed = parts.map((image) => ({ image, ...packImage(image) }));
  const headers = packed.map(({ image, channels, code, blocks }) => header(image, channels, code, { name: image.name, blocks: blocks.length }));
  const start = Buffer.concat([new Bytes().ints(EXR_MAGIC, EXR_VERSION | EXR_MULTIPART).whole(), ...headers, Buffer.alloc(1)]);
  return Buffer.concat([
    start,
    ...layBlocks(
      packed.map((p) => p.blocks),
      start.length,
      true,
    ),
  ]);
}
