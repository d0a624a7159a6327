/** Texture images in and out. */
import sharp from 'sharp';
import type { Texture } from '../../core/model/model.js';
import type { TextureBudget } from '../budget.js';
import { ModelError, MAX_TEXTURE_SIDE } from '../format.js';

/** First bytes of the types that are read; a library would also take SVG and others for a picture. */
const SIGNATURES: [string, (b: Uint8Array) => boolean][] = [
  ['png', (b) => b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e && b[3] === 0x47],
  ['jpeg', (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff],
  [
    'webp',
    (b) => b[0] === 0x52 && b[1] === 0x49 && b[2] === 0x46 && b[3] === 0x46 && b[8] === 0x57 && b[9] === 0x45 && b[10] === 0x42 && b[11] === 0x50,
  ],
];

/** The type of a texture by its first bytes, whatever its name says; null where it is none that is read. */
export function textureType(bytes: Uint8Array): 'png' | 'jpeg' | 'webp' | null {
  return (SIGNATURES.find(([, matches]) => matches(bytes))?.[0] ?? null) as 'png' | 'jpeg' | 'webp' | null;
}

function unreadable(name: string): ModelError {
  return new ModelError(`The texture "${name}" cannot be read; it must be PNG, JPEG or WebP, at most ${MAX_TEXTURE_SIDE} × ${MAX_TEXTURE_SIDE}.`);
}

/** The size that a texture declares, before anything is decoded. Throws ModelError where it is none, or too large. */
export async function textureSize(name: string, bytes: Uint8Array): Promise<{ width: number; height: number }> {
  if (!textureType(bytes)) throw unreadable(name);
  const { width, height } = await sharp(bytes, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw unreadable(name);
    });
  if (width > MAX_TEXTURE_SIDE || height > MAX_TEXTURE_SIDE) throw unreadable(name);
  return { width, height };
}

/**
 * Decodes a PNG, JPEG or WebP to 8-bit sRGB with alpha. Throws ModelError where it is none, or too large.
 * @param budget what all textures of the model share; one that does not fit is read smaller.
 */
export async function decodeTexture(name: string, bytes: Uint8Array, budget?: TextureBudget): Promise<Pick<Texture, 'width' | 'height' | 'pixels'>> {
  const own = await textureSize(name, bytes);
  const wanted = budget?.take(name, own.width, own.height) ?? own;
  try {
    let image = sharp(bytes, { limitInputPixels: MAX_TEXTURE_SIDE * MAX_TEXTURE_SIDE });
    if (wanted.width !== own.width) image = image.resize(wanted.width, wanted.height, { fit: 'fill' });
    const { data, info } = await image.toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, pixels: new Uint8Array(data) };
  } catch {
    throw unreadable(name);
  }
}

/** The texture as a PNG. */
export async function encodeTexture(texture: Texture): Promise<Uint8Array> {
  const png = await sharp(texture.pixels, { raw: { width: texture.width, height: texture.height, channels: 4 } })
    .png()
    .toBuffer();
  return new Uint8Array(png);
}
