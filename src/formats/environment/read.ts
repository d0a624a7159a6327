/** Equirectangular environment images: Radiance (.hdr) and OpenEXR (.exr). */
import { ModelError } from '../format.js';
import { environmentSize } from './header.js';

/** Texels across beyond which a picture is averaged down: light needs no more, and memory does. */
const MAX_WIDTH = 4096;

/** An image of light from all around. */
export interface EnvironmentImage {
  width: number;
  height: number;
  /** Linear Rec. 709, three a texel, rows from the zenith down. */
  texels: Float32Array;
}

/** What a decoder of light as numbers gives. */
export interface LightPicture {
  width: number;
  height: number;
  /** Channels of a pixel after each other. */
  data: Float32Array;
}

interface Decoded extends LightPicture {
  channels: number;
  upwards: boolean;
}

/** Decoder of OpenEXR or of Radiance HDR, whose values are floats. It is loaded where one is read: most sets have none. */
export async function lightDecoder(exr: boolean): Promise<{ parse(buffer: ArrayBuffer): object }> {
  const { FloatType } = await import('three');
  if (exr) return new (await import('three/examples/jsm/loaders/EXRLoader.js')).EXRLoader().setDataType(FloatType);
  return new (await import('three/examples/jsm/loaders/HDRLoader.js')).HDRLoader().setDataType(FloatType);
}

async function decode(name: string, bytes: Uint8Array): Promise<Decoded> {
  const buffer = bytes.slice().buffer;
  const exr = /\.exr$/i.test(name);
  const loader = await lightDecoder(exr);
  try {
    const { width, height, data } = loader.parse(buffer) as LightPicture;
    // A mantissa of Radiance is so many 256ths (Ward, "Real pixels", Graphics Gems II, 1991); the loader takes them for 255ths.
    if (!exr) for (let i = 0; i < data.length; i++) data[i] = data[i]! * (255 / 256);
    // EXR rows come from the bottom up.
    return { width, height, data, channels: Math.round(data.length / (width * height)), upwards: exr };
  } catch (e) {
    throw new ModelError(
      `"${name}" cannot be read as ${exr ? 'OpenEXR' : 'Radiance HDR'}: it is damaged, or compressed in a way that is not known here. Save it again as ${exr ? '.exr' : '.hdr'}.`,
      { cause: e },
    );
  }
}

/** Reads a picture twice as wide as high. Throws ModelError, naming the file and the remedy. */
export async function readEnvironmentMap(name: string, bytes: Uint8Array): Promise<EnvironmentImage> {
  if (!/\.(hdr|exr)$/i.test(name)) throw new ModelError(`"${name}" is not an environment image; upload a .hdr or .exr file.`);
  if (bytes.length === 0) throw new ModelError(`"${name}" is empty; save it again.`);
  const declared = environmentSize(name, bytes);
  if (Math.abs(declared.width / declared.height - 2) > 0.02)
    throw new ModelError(
      `"${name}" is ${declared.width} × ${declared.height}; an equirectangular image is twice as wide as high. Upload one that covers all directions.`,
    );
  const { width, height, data, channels, upwards } = await decode(name, bytes);
  if (channels < 3 || data.length !== width * height * channels)
    throw new ModelError(`"${name}" has no red, green and blue; save it as a colour image.`);
  const step = Math.ceil(width / MAX_WIDTH);
  const [w, h] = [Math.floor(width / step), Math.floor(height / step)];
  const texels = new Float32Array(w * h * 3);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let j = 0; j < step; j++) {
          const row = y * step + j;
          for (let i = 0; i < step; i++) {
            const v = data[((upwards ? height - 1 - row : row) * width + x * step + i) * channels + c]!;
            // What is no light, or beyond all measure, would spoil the whole picture.
            sum += v > 0 ? Math.min(v, 1e6) : 0;
          }
        }
        texels[(y * w + x) * 3 + c] = sum / (step * step);
      }
    }
  }
  return { width: w, height: h, texels };
}
