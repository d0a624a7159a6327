/** BMP and TGA, which modelling programs still write beside their models, and which the image library does not read. */
import { decode } from 'bmp-ts';
import type { ImageType } from './imageType.js';

/** Header of a Windows bitmap: size from byte 18, bits of a pixel at byte 28. */
export const BMP: ImageType = {
  matches: (_name, bytes) => bytes[0] === 0x42 && bytes[1] === 0x4d && bytes.length > 54,
  size: (view) => ({ width: view.getInt32(18, true), height: Math.abs(view.getInt32(22, true)) }),
  decode: async (bytes) => {
    const bits = new DataView(bytes.buffer, bytes.byteOffset).getUint16(28, true);
    if (bits !== 8 && bits !== 24 && bits !== 32) throw new Error(`A BMP of ${bits} bits is not read.`);
    const { width, height, data } = decode(Buffer.from(bytes), { toRGBA: true });
    const pixels = new Uint8Array(data);
    // The library leaves colours of a palette as ABGR, and only 32 bits have alpha.
    if (bits === 8) for (let i = 0; i < pixels.length; i += 4) pixels.subarray(i, i + 4).reverse();
    if (bits < 32) for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255;
    return { width, height, pixels };
  },
};

/** Whether a TGA has all of its pixels: the library takes what is missing for black. By the header's fields; runs are counted. */
function isWhole(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const size = Math.ceil(bytes[16]! / 8);
  const palette = bytes[1]! === 1 ? view.getUint16(5, true) * Math.ceil(bytes[7]! / 8) : 0;
  const pixels = view.getUint16(12, true) * view.getUint16(14, true);
  let at = 18 + bytes[0]! + palette;
  if (bytes[2]! < 8) return at + pixels * size <= bytes.length;
  // A packet: its number of pixels less one, with the highest bit where one pixel stands for all.
  for (let done = 0; done < pixels && at < bytes.length;) {
    const packet = bytes[at]!;
    const count = (packet & 127) + 1;
    at += 1 + (packet > 127 ? size : size * count);
    done += count;
    if (done >= pixels) return at <= bytes.length;
  }
  return false;
}

/** Truevision TGA has no signature: its name says it, and a kind of image that there is. */
export const TGA: ImageType = {
  matches: (name, bytes) => /\.tga$/i.test(name) && bytes.length > 18 && [1, 2, 3, 9, 10, 11].includes(bytes[2]!),
  size: (view) => ({ width: view.getUint16(12, true), height: view.getUint16(14, true) }),
  decode: async (bytes) => {
    if (!isWhole(bytes)) throw new Error('The TGA is cut short.');
    const { TGALoader } = await import('three/examples/jsm/loaders/TGALoader.js');
    const { width, height, data } = new TGALoader().parse(new Uint8Array(bytes).buffer) as { width: number; height: number; data: Uint8Array };
    return { width, height, pixels: new Uint8Array(data) };
  },
};
