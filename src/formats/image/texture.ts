/** Texture images in and out. */
import sharp from 'sharp';
import type { Texture } from '../../core/model/model.js';
import type { TextureBudget } from '../budget.js';
import { ModelError, MAX_TEXTURE_SIDE } from '../format.js';
import type { RawImage } from './imageType.js';
import { KTX2 } from './ktx2.js';
import { BMP, TGA } from './oldImages.js';

/** First bytes of the types that the image library is given, "?" for any; it would also take SVG and others for a picture. */
const SIGNATURES = ['\x89PNG', '\xff\xd8\xff', 'RIFF????WEBP', 'II*\0', 'MM\0*'];

/** Whether the library reads a texture, by its first bytes, whatever its name says. */
const isKnown = (bytes: Uint8Array): boolean =>
  SIGNATURES.some((signature) => [...signature].every((c, i) => c === '?' || c.charCodeAt(0) === bytes[i]));

/** What reads an image of a type that the library does not; null where it is none of them. @param name with its ending. */
function otherImage(name: string, bytes: Uint8Array): { width: number; height: number; decode: () => Promise<RawImage> } | null {
  const type = [KTX2, BMP, TGA].find((t) => t.matches(name, bytes));
  return type ? { ...type.size(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)), decode: () => type.decode(bytes) } : null;
}

function unreadable(name: string): ModelError {
  return new ModelError(
    `The texture "${name}" cannot be read; it must be PNG, JPEG, WebP, TIFF, BMP, TGA or KTX2 (Basis), at most ${MAX_TEXTURE_SIDE} × ${MAX_TEXTURE_SIDE}.`,
  );
}

/** The size that a texture declares, before anything is decoded. Throws ModelError where it is none, or too large. */
export async function textureSize(name: string, bytes: Uint8Array): Promise<{ width: number; height: number }> {
  const other = otherImage(name, bytes);
  if (!other && !isKnown(bytes)) throw unreadable(name);
  const { width, height } =
    other ??
    (await sharp(bytes, { limitInputPixels: false })
      .metadata()
      .catch(() => {
        throw unreadable(name);
      }));
  if (!(width > 0 && height > 0) || width > MAX_TEXTURE_SIDE || height > MAX_TEXTURE_SIDE) throw unreadable(name);
  return { width, height };
}

/**
 * Decodes an image of these types to 8-bit sRGB with alpha. Throws ModelError where it is none, or too large.
 * @param budget what all textures of the model share; one that does not fit is read smaller.
 */
export async function decodeTexture(name: string, bytes: Uint8Array, budget?: TextureBudget): Promise<Pick<Texture, 'width' | 'height' | 'pixels'>> {
  const own = await textureSize(name, bytes);
  const wanted = budget?.take(name, own.width, own.height) ?? own;
  try {
    const other = await otherImage(name, bytes)?.decode();
    let image = other
      ? sharp(other.pixels, { raw: { width: other.width, height: other.height, channels: 4 } })
      : sharp(bytes, { limitInputPixels: MAX_TEXTURE_SIDE * MAX_TEXTURE_SIDE });
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
