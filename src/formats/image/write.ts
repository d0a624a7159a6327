/** Writes pictures as PNG, JPEG, TIFF, WebP or AVIF through sharp, and as BMP; sRGB, and told so in the file. */
import { encode as encodeBmp } from 'fast-bmp';
import sharp, { type Sharp } from 'sharp';
import { DEFAULT_COMPRESSION, type FileFormat } from '../../core/frame/frame.js';
import { AFTER_HEADER, pngChunk, pngChunks, XMP_PREFIX } from './pngChunks.js';
import { xmpPacket } from './xmp.js';

/** Pixels whose display values are made at a time: the whole of a large picture would fill the memory once more. */
const BAND_PIXELS = 2 ** 20;

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
  if (deep) image.toColourspace('rgb16');
  if (format.type === 'png') return withChunks(await inType(image, format).toBuffer(), format.dpi, maker);
  if (maker !== undefined) image.withXmp(xmpPacket(maker).toString());
  // With a profile sharp converts 16 bits by it, and other values come out.
  if (!deep && format.dpi === undefined) image.withIccProfile('srgb');
  // It sets the same profile.
  else if (!deep) image.withMetadata({ density: format.dpi });
  return inType(image, format).toBuffer();
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

/** The chunk sRGB with perceptual intent (PNG, Third Edition, 11.3.2.5). */
const SRGB_CHUNK = pngChunk('sRGB', Buffer.alloc(1));

/** The chunk pHYs: pixels a metre either way (11.3.4.3). */
function densityChunk(dpi: number): Buffer {
  const content = Buffer.alloc(9);
  content.writeUInt32BE(Math.round(dpi / 0.0254), 0);
  content.writeUInt32BE(Math.round(dpi / 0.0254), 4);
  content.writeUInt8(1, 8);
  return pngChunk('pHYs', content);
}

/**
 * Says that it is sRGB, its density, and what made it: the library would send each pixel through a profile, which takes longer than the
 * rest of a small file and is undone by each reader, and has another chunk for XMP than readers expect.
 */
function withChunks(png: Buffer, dpi: number | undefined, maker: string | undefined): Buffer {
  const own = [
    SRGB_CHUNK,
    ...(dpi === undefined ? [] : [densityChunk(dpi)]),
    ...(maker === undefined ? [] : [pngChunk('iTXt', Buffer.concat([XMP_PREFIX, xmpPacket(maker)]))]),
  ];
  const rest = png.subarray(AFTER_HEADER);
  const others = dpi !== undefined ? pngChunks(rest).filter((c) => c.toString('latin1', 4, 8) !== 'pHYs') : [rest];
  return Buffer.concat([png.subarray(0, AFTER_HEADER), ...own, ...others]);
}
