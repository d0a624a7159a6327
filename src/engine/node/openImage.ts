/** Opens images of finished renders that hold no numbers of light. */
import { decode as decodeBmp } from 'fast-bmp';
import sharp, { type Sharp } from 'sharp';

/** An image file as sharp has it; of BMP, which sharp does not read, its pixels. @param name of the file, for its ending. Throws where BMP is damaged. */
export function openImage(bytes: Buffer, name: string): Sharp {
  if (!name.endsWith('.bmp')) return sharp(bytes, { failOn: 'truncated', limitInputPixels: false });
  const { width, height, channels, data } = decodeBmp(bytes);
  return sharp(data as Uint8Array, { raw: { width, height, channels: channels as 3 | 4 } });
}
