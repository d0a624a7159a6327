/** Opens images of finished renders that hold no numbers of light. */
import { readFile } from 'node:fs/promises';
import { decode as decodeBmp } from 'fast-bmp';
import sharp, { type Sharp } from 'sharp';

const OPTIONS = { failOn: 'truncated', limitInputPixels: false } as const;

/** An image file as sharp has it; of BMP, which sharp does not read, its pixels. @param name of the file, for its ending. Throws where BMP is damaged. */
export function openImage(bytes: Buffer, name: string): Sharp {
  if (!name.endsWith('.bmp')) return sharp(bytes, OPTIONS);
  const { width, height, channels, data } = decodeBmp(bytes);
  return sharp(data as Uint8Array, { raw: { width, height, channels: channels as 3 | 4 } });
}

/** The same of a file that is read as it is needed. Rejects where BMP cannot be read. */
export async function openImageFile(file: string): Promise<Sharp> {
  return file.endsWith('.bmp') ? openImage(await readFile(file), file) : sharp(file, OPTIONS);
}
