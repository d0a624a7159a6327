/** Writes pictures as PNG (8 or 16 bits) or JPEG, sRGB, through sharp. */
import sharp from 'sharp';
import { DEFAULT_COMPRESSION, type FileFormat } from '../../core/frame/frame.js';

export const EXTENSIONS = { png: 'png', jpeg: 'jpg', exr: 'exr' } as const;

/** Display values 0..1, three or (with alpha, straight) four a pixel, as an encoded file. */
export async function encodeImage(display: Float32Array, width: number, height: number, format: FileFormat): Promise<Buffer> {
  const channels = (display.length / (width * height)) as 3 | 4;
  const deep = format.type === 'png' && format.bits === 16;
  const values = deep ? new Uint16Array(display.length) : new Uint8Array(display.length);
  const top = deep ? 65_535 : 255;
  for (let i = 0; i < display.length; i++) values[i] = Math.round(display[i]! * top);
  const image = sharp(values, { raw: { width, height, channels }, limitInputPixels: false });
  if (format.type === 'jpeg') return image.jpeg({ quality: format.quality, chromaSubsampling: '4:4:4' }).toBuffer();
  return (deep ? image.toColourspace('rgb16') : image).png({ compressionLevel: format.level ?? DEFAULT_COMPRESSION.png }).toBuffer();
}
