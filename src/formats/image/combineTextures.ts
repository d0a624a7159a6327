/** Textures that a material has apart, put into one as the kernel reads them. Pixels are RGBA of 8 bits. */
import sharp from 'sharp';
import type { Texture } from '../../core/model/model.js';

type Pixels = Pick<Texture, 'width' | 'height' | 'pixels'>;

/** The same image at another size. */
async function resized({ width, height, pixels }: Pixels, to: { width: number; height: number }): Promise<Uint8Array> {
  if (width === to.width && height === to.height) return pixels;
  const image = sharp(pixels, { raw: { width, height, channels: 4 } }).resize(to.width, to.height, { fit: 'fill' });
  return new Uint8Array(await image.raw().toBuffer());
}

/** The size that holds all of them without loss. */
const largest = (images: readonly Pixels[]): { width: number; height: number } => ({
  width: Math.max(...images.map((i) => i.width)),
  height: Math.max(...images.map((i) => i.height)),
});

/** Roughness in green and metalness in blue, out of the red of one image each; 255 where there is none. */
export async function metalRoughOf(roughness: Pixels | undefined, metalness: Pixels | undefined): Promise<Pixels> {
  const given = [roughness, metalness].filter((i) => i !== undefined);
  const size = largest(given);
  const pixels = new Uint8Array(size.width * size.height * 4).fill(255);
  for (const [image, channel] of [
    [roughness, 1],
    [metalness, 2],
  ] as const) {
    if (!image) continue;
    const from = await resized(image, size);
    for (let i = 0; i < pixels.length; i += 4) pixels[i + channel] = from[i]!;
  }
  return { ...size, pixels };
}

/** Whether an image says what is clear by its own alpha. */
const hasClear = ({ pixels }: Pixels): boolean => pixels.some((v, i) => i % 4 === 3 && v < 255);

/** Colour with the alpha of a cutout: its own where it has any, else its red; white where no colour is given. */
export async function withCutout(colour: Pixels | undefined, cutout: Pixels): Promise<Pixels> {
  const size = largest(colour ? [colour, cutout] : [cutout]);
  const pixels = colour ? Uint8Array.from(await resized(colour, size)) : new Uint8Array(size.width * size.height * 4).fill(255);
  const from = await resized(cutout, size);
  const channel = hasClear(cutout) ? 3 : 0;
  for (let i = 0; i < pixels.length; i += 4) pixels[i + 3] = from[i + channel]!;
  return { ...size, pixels };
}

/** Whether an image holds normals, and not heights: it is blue on the whole (common practice, no source). */
export function holdsNormals({ pixels }: Pixels): boolean {
  const sums = [0, 0, 0];
  for (let i = 0; i < pixels.length; i += 4) for (let c = 0; c < 3; c++) sums[c]! += pixels[i + c]!;
  const count = pixels.length / 4;
  const [r, g, b] = sums.map((s) => s / count) as [number, number, number];
  return b > 180 && Math.abs(r - 128) < 40 && Math.abs(g - 128) < 40;
}

/** How tall white is over black, as a share of the image's width, at strength 1 (common practice, no source). */
const HEIGHT_SHARE = 0.01;

/** Normals in tangent space, green up, of heights in red that repeat; slopes by central differences. */
export function normalsOfHeights({ width, height, pixels }: Pixels, strength: number): Pixels {
  const out = new Uint8Array(pixels.length);
  const at = (x: number, y: number): number => pixels[(((y + height) % height) * width + ((x + width) % width)) * 4]! / 255;
  const scale = (strength * HEIGHT_SHARE * width) / 2;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const slope = [(at(x + 1, y) - at(x - 1, y)) * scale, (at(x, y - 1) - at(x, y + 1)) * scale] as const;
      const length = Math.hypot(slope[0], slope[1], 1);
      const normal = [-slope[0] / length, -slope[1] / length, 1 / length];
      const to = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) out[to + c] = Math.round((normal[c]! * 0.5 + 0.5) * 255);
      out[to + 3] = 255;
    }
  }
  return { width, height, pixels: out };
}
