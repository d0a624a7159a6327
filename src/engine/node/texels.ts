/** Decoded environment images as files: width and height as u32, then three f32 a texel, little endian. */
import type { EnvironmentImage } from '../../formats/environment/read.js';

const HEADER = 8;

/** The image as bytes: its width and height, then its texels as they lie in memory. */
export function encodeTexels({ width, height, texels }: EnvironmentImage): Uint8Array {
  const out = new Uint8Array(HEADER + texels.byteLength);
  new Uint32Array(out.buffer, 0, 2).set([width, height]);
  new Float32Array(out.buffer, HEADER).set(texels);
  return out;
}

/** Null where the bytes are not whole. */
export function decodeTexels(bytes: Uint8Array): EnvironmentImage | null {
  if (bytes.length < HEADER || bytes.byteOffset % 4 !== 0) return null;
  const [width, height] = new Uint32Array(bytes.buffer, bytes.byteOffset, 2) as unknown as [number, number];
  if (bytes.length !== HEADER + width * height * 12) return null;
  return { width, height, texels: new Float32Array(bytes.buffer, bytes.byteOffset + HEADER, width * height * 3) };
}
