/** Equirectangular environment images: Radiance, OpenEXR, portable float maps, TIFF of floats. */
import { ENVIRONMENT_ENDINGS } from '../../core/model/fileExtensions.js';
import { ModelError } from '../format.js';
import { endingOf, environmentSize, pfmHeader } from './header.js';

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

/** A portable float map: rows from the bottom up, grey or RGB. */
function decodePfm(name: string, bytes: Uint8Array): Decoded {
  const { width, height, channels, littleEndian, start } = pfmHeader(name, bytes);
  const count = width * height * channels;
  if (start + count * 4 > bytes.length) throw new ModelError(`"${name}" is cut short: it ends within its pixels. Save it again as .pfm.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset + start);
  const data = Float32Array.from({ length: count }, (_, i) => view.getFloat32(i * 4, littleEndian));
  return { width, height, data, channels, upwards: true };
}

/** Numbers of a TIFF's first picture as they are. The library is loaded where one is read. */
async function decodeTiff(bytes: Uint8Array): Promise<Decoded> {
  const [image] = (await import('tiff')).decode(bytes, { pages: [0] });
  const { width, height, data, samplesPerPixel: channels } = image!;
  return { width, height, channels, data: Float32Array.from(data), upwards: false };
}

async function decodeWithThree(exr: boolean, bytes: Uint8Array): Promise<Decoded> {
  const loader = await lightDecoder(exr);
  const { width, height, data } = loader.parse(bytes.slice().buffer) as LightPicture;
  // A mantissa of Radiance is so many 256ths (Ward, "Real pixels", Graphics Gems II, 1991); the loader takes them for 255ths.
  if (!exr) for (let i = 0; i < data.length; i++) data[i] = data[i]! * (255 / 256);
  // EXR rows come from the bottom up.
  return { width, height, data, channels: Math.round(data.length / (width * height)), upwards: exr };
}

/** What each ending is called where it cannot be read. */
const TYPE_NAMES: Readonly<Record<string, string>> = { exr: 'OpenEXR', hdr: 'Radiance HDR', tif: 'TIFF', tiff: 'TIFF' };

async function decode(name: string, bytes: Uint8Array): Promise<Decoded> {
  const ending = endingOf(name);
  if (ending === 'pfm') return decodePfm(name, bytes);
  try {
    return await (ending.startsWith('tif') ? decodeTiff(bytes) : decodeWithThree(ending === 'exr', bytes));
  } catch (e) {
    throw new ModelError(
      `"${name}" cannot be read as ${TYPE_NAMES[ending]}: it is damaged, or compressed in a way that is not known here. Save it again as .${ending}.`,
      { cause: e },
    );
  }
}

/** Reads a picture twice as wide as high. Throws ModelError, naming the file and the remedy. */
export async function readEnvironmentMap(name: string, bytes: Uint8Array): Promise<EnvironmentImage> {
  if (!ENVIRONMENT_ENDINGS.includes(endingOf(name)))
    throw new ModelError(`"${name}" is not an environment image; upload a .hdr, .exr, .pfm or .tif file.`);
  if (bytes.length === 0) throw new ModelError(`"${name}" is empty; save it again.`);
  const declared = await environmentSize(name, bytes);
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
