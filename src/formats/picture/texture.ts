/** Texture pictures in and out. */
import sharp from 'sharp';
import { type Texture } from '../../core/model/model.js';
import { ModelError, MOST_TEXTURE_SIDE } from '../format.js';

/** Decodes a PNG, JPEG or WebP. Throws ModelError where it is none, or too large. */
export async function decodeTexture(name: string, bytes: Uint8Array): Promise<Pick<Texture, 'width' | 'height' | 'pixels'>> {
  try {
    const image = sharp(bytes, { limitInputPixels: MOST_TEXTURE_SIDE * MOST_TEXTURE_SIDE });
    const { data, info } = await image.toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, pixels: new Uint8Array(data) };
  } catch {
    throw new ModelError(`The texture "${name}" cannot be read; it must be PNG, JPEG or WebP, at most ${MOST_TEXTURE_SIDE} × ${MOST_TEXTURE_SIDE}.`);
  }
}

export async function encodeTexture(texture: Texture): Promise<Uint8Array> {
  const png = await sharp(texture.pixels, { raw: { width: texture.width, height: texture.height, channels: 4 } })
    .png()
    .toBuffer();
  return new Uint8Array(png);
}
