/** Writes pictures as PNG (8 or 16 bits) or JPEG, sRGB, through sharp. */
import sharp from 'sharp';
import { DEFAULT_COMPRESSION, type FileFormat } from '../../core/frame/frame.js';

export const EXTENSIONS = { png: 'png', jpeg: 'jpg', exr: 'exr' } as const;

/** Pixels whose display values are made at a time: the whole of a large picture would fill the memory once more. */
const BAND_PIXELS = 2 ** 20;

/** Display values 0..1, three or (with alpha, straight) four a pixel, as an encoded file. */
export function encodeImage(display: Float32Array, width: number, height: number, format: FileFormat): Promise<Buffer> {
  const perRow = display.length / height;
  return encodeBands((top, rows) => display.subarray(top * perRow, (top + rows) * perRow), width, height, format);
}

/** As encodeImage, of values that are made rows by rows. @param band display values of so many rows from `top` on. */
export async function encodeBands(
  band: (top: number, rows: number) => Float32Array,
  width: number,
  height: number,
  format: FileFormat,
): Promise<Buffer> {
  const deep = format.type === 'png' && format.bits === 16;
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
  const image = sharp(values!, { raw: { width, height, channels }, limitInputPixels: false });
  if (format.type === 'jpeg') return image.jpeg({ quality: format.quality, chromaSubsampling: '4:4:4' }).toBuffer();
  return (deep ? image.toColourspace('rgb16') : image).png({ compressionLevel: format.level ?? DEFAULT_COMPRESSION.png }).toBuffer();
}
