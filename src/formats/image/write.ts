/** Writes pictures as PNG, JPEG, TIFF, WebP or AVIF through sharp, and as BMP; sRGB, and told so in the file. */
import { crc32 } from 'node:zlib';
import { encode as encodeBmp } from 'fast-bmp';
import sharp, { type Sharp } from 'sharp';
import { DEFAULT_COMPRESSION, type FileFormat } from '../../core/frame/frame.js';

/** Pixels whose display values are made at a time: the whole of a large picture would fill the memory once more. */
const BAND_PIXELS = 2 ** 20;

const inXml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** What made a file, as XMP (ISO 16684-1). It names no frame: one file serves all frames of equal pixels. */
export const xmpOf = (maker: string): string =>
  `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:CreatorTool="${inXml(maker)}"/></rdf:RDF></x:xmpmeta>`;

/** Display values 0..1, three or (with alpha, straight) four a pixel, as an encoded file. @param maker program that the file names. */
export function encodeImage(display: Float32Array, width: number, height: number, format: FileFormat, maker?: string): Promise<Buffer> {
  const perRow = display.length / height;
  return encodeBands((top, rows) => display.subarray(top * perRow, (top + rows) * perRow), width, height, format, maker);
}

/** As encodeImage, of values that are made rows by rows. @param band display values of so many rows from `top` on. */
export async function encodeBands(
  band: (top: number, rows: number) => Float32Array,
  width: number,
  height: number,
  format: FileFormat,
  maker?: string,
): Promise<Buffer> {
  const deep = format.bits === 16;
  const scale = deep ? 65_535 : 255;
  const step = Math.max(1, Math.floor(BAND_PIXELS / width));
  let values: Uint16Array | Uint8Array | undefined;
  for (let top = 0; top < height; top += step) {
    const rows = Math.min(step, height - top);
    const display = band(top, rows);
    const perRow = display.length / rows;
    values ??= deep ? new Uint16Array(perRow * height) : new Uint8Array(perRow * height);
    for (let i = 0, at = top * perRow; i < display.length; i++) values[at + i] = Math.round(display[i]! * scale);
  }
  const channels = (values!.length / (width * height)) as 3 | 4;
  if (format.type === 'bmp') return bmpOf(values as Uint8Array, width, height, channels, format.dpi);
  const image = sharp(values!, { raw: { width, height, channels }, limitInputPixels: false });
  if (maker !== undefined) image.withXmp(xmpOf(maker));
  // With a profile sharp converts 16 bits by it, and other values come out; PNG has a chunk that says the same.
  if (deep) image.toColourspace('rgb16');
  else if (format.dpi === undefined) image.withIccProfile('srgb');
  // It sets the same profile.
  else image.withMetadata({ density: format.dpi });
  const bytes = await inType(image, format).toBuffer();
  return deep && format.type === 'png' ? withChunks(bytes, format.dpi) : bytes;
}

/** With a header of version 5, which says sRGB, and alpha that colours are not multiplied by. */
function bmpOf(data: Uint8Array, width: number, height: number, channels: 3 | 4, dpi: number | undefined): Buffer {
  const density = dpi === undefined ? {} : { xPixelsPerMeter: Math.round(dpi / 0.0254), yPixelsPerMeter: Math.round(dpi / 0.0254) };
  return Buffer.from(encodeBmp({ width, height, channels, components: channels, bitsPerPixel: 8 * channels, data, ...density }));
}

function inType(image: Sharp, { type, quality, level, lossless, tiffCompression, chroma, dpi }: FileFormat): Sharp {
  switch (type) {
    case 'jpeg':
      return image.jpeg({ quality, chromaSubsampling: chroma ?? '4:4:4' });
    case 'tiff':
      return image.tiff({
        compression: tiffCompression ?? DEFAULT_COMPRESSION.tiff,
        predictor: 'horizontal',
        // Pixels a millimetre.
        ...(dpi !== undefined && { xres: dpi / 25.4, yres: dpi / 25.4, resolutionUnit: 'inch' as const }),
      });
    case 'webp':
      return image.webp(lossless ? { lossless: true } : { quality });
    case 'avif':
      return image.avif({ quality, chromaSubsampling: '4:4:4' });
    default:
      return image.png({ compressionLevel: level ?? DEFAULT_COMPRESSION.png });
  }
}

/** Length of the signature and the first chunk of a PNG, IHDR. */
const AFTER_HEADER = 8 + 25;
/** The chunk sRGB with perceptual intent, with its length and CRC (PNG, Third Edition, 11.3.2.5). */
const SRGB_CHUNK = Buffer.from('0000000173524742' + '00' + 'aece1ce9', 'hex');

/** The chunk pHYs: pixels a metre either way (11.3.4.3). */
function densityChunk(dpi: number): Buffer {
  const chunk = Buffer.alloc(21);
  chunk.writeUInt32BE(9, 0);
  chunk.write('pHYs', 4, 'latin1');
  chunk.writeUInt32BE(Math.round(dpi / 0.0254), 8);
  chunk.writeUInt32BE(Math.round(dpi / 0.0254), 12);
  chunk.writeUInt8(1, 16);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 17)), 17);
  return chunk;
}

/** Says sRGB, and the density in place of the library's own where there is one. */
function withChunks(png: Buffer, dpi: number | undefined): Buffer {
  const rest = png.subarray(AFTER_HEADER);
  const after = dpi === undefined ? [rest] : [densityChunk(dpi), ...chunksOf(rest).filter((c) => c.toString('latin1', 4, 8) !== 'pHYs')];
  return Buffer.concat([png.subarray(0, AFTER_HEADER), SRGB_CHUNK, ...after]);
}

function chunksOf(bytes: Buffer): Buffer[] {
  const chunks: Buffer[] = [];
  for (let at = 0; at < bytes.length;) {
    const end = at + bytes.readUInt32BE(at) + 12;
    chunks.push(bytes.subarray(at, end));
    at = end;
  }
  return chunks;
}
