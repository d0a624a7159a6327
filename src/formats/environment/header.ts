/** What an environment image declares of itself, read with bounds before a library decodes anything. */
import { ModelError } from '../format.js';

/** Texels of the largest environment image: 8192 × 4096. */
export const MAX_ENVIRONMENT_TEXELS = 8192 * 4096;

const EXR_MAGIC = 0x01312f76;
const EXR_MULTI_PART = 0x1000;
const EXR_DEEP = 0x800;
const MAX_ATTRIBUTES = 1000;
const MAX_HDR_HEADER = 65_536;
const EXR_COMPRESSIONS = 10;

interface Declared {
  width: number;
  height: number;
}

/** Size of the data window of an OpenEXR file (OpenEXR file layout, openexr.com: magic, version, attributes up to an empty name). */
function exrSize(name: string, bytes: Uint8Array): Declared {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const short = (): ModelError => new ModelError(`"${name}" is cut short: it ends within its header. Save it again as .exr.`);
  if (bytes.length < 9) throw short();
  if (view.getUint32(0, true) !== EXR_MAGIC)
    throw new ModelError(`"${name}" cannot be read as OpenEXR: it is not an OpenEXR file. Save it again as .exr.`);
  if (view.getUint32(4, true) & (EXR_MULTI_PART | EXR_DEEP))
    throw new ModelError(`"${name}" has several parts or deep data, which are not read. Save it as a plain .exr.`);
  let at = 8;
  const word = (): string => {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end - at > 255) throw short();
    const text = String.fromCharCode(...bytes.subarray(at, end));
    at = end + 1;
    return text;
  };
  let size: Declared | null = null;
  const found = new Set<string>();
  for (let n = 0; ; n++) {
    if (n > MAX_ATTRIBUTES) throw new ModelError(`"${name}" has more than ${MAX_ATTRIBUTES} attributes. Save it again as .exr.`);
    const attribute = word();
    if (attribute === '') break;
    word();
    if (at + 4 > bytes.length) throw short();
    const length = view.getInt32(at, true);
    at += 4;
    if (length < 0 || at + length > bytes.length) throw short();
    found.add(attribute);
    if (attribute === 'dataWindow' && length === 16) {
      const [x0, y0, x1, y1] = [0, 4, 8, 12].map((k) => view.getInt32(at + k, true)) as [number, number, number, number];
      size = { width: x1 - x0 + 1, height: y1 - y0 + 1 };
    }
    if (attribute === 'compression' && (length !== 1 || bytes[at]! >= EXR_COMPRESSIONS))
      throw new ModelError(`"${name}" is compressed in a way that is not read. Save it with ZIP compression.`);
    at += length;
  }
  if (!size || !found.has('channels') || !found.has('compression'))
    throw new ModelError(`"${name}" does not say its size, channels or compression. Save it again as .exr.`);
  return size;
}

/** Size in the resolution line of a Radiance picture (Ward, "Real Pixels", Graphics Gems II, 1991: header lines, an empty one, then it). */
function hdrSize(name: string, bytes: Uint8Array): Declared {
  const head = String.fromCharCode(...bytes.subarray(0, 2)) === '#?' ? new TextDecoder('latin1').decode(bytes.subarray(0, MAX_HDR_HEADER)) : '';
  const line = /\n\n-Y (\d{1,7}) \+X (\d{1,7})\n/.exec(head.replaceAll('\r\n', '\n'));
  if (!line) throw new ModelError(`"${name}" cannot be read as Radiance HDR: its header has no size. Save it again as .hdr.`);
  return { width: Number(line[2]), height: Number(line[1]) };
}

/** The header of a portable float map: its kind, its size and a number whose sign tells the order of bytes, each before white space. */
export function pfmHeader(name: string, bytes: Uint8Array): Declared & { channels: 1 | 3; littleEndian: boolean; start: number } {
  const said = /^(PF|Pf)\s+(\d{1,7})\s+(\d{1,7})\s+(-?[\d.eE+-]+)\s/.exec(new TextDecoder('latin1').decode(bytes.subarray(0, 256)));
  const scale = Number(said?.[4]);
  if (!said || !Number.isFinite(scale) || scale === 0)
    throw new ModelError(`"${name}" cannot be read as a portable float map: its header is none. Save it again as .pfm.`);
  return { width: Number(said[2]), height: Number(said[3]), channels: said[1] === 'PF' ? 3 : 1, littleEndian: scale < 0, start: said[0].length };
}

/** Size of the first picture of a TIFF, of floats. */
async function tiffSize(name: string, bytes: Uint8Array): Promise<Declared> {
  const { decode } = await import('tiff');
  const damaged = (cause?: unknown): ModelError =>
    new ModelError(`"${name}" cannot be read as TIFF: it is damaged. Save it again as .tif.`, { cause });
  let first: ReturnType<typeof decode>[number] | undefined;
  try {
    [first] = decode(bytes, { ignoreImageData: true, pages: [0] });
  } catch (e) {
    throw damaged(e);
  }
  if (!first) throw damaged();
  // Sample format 3: numbers of IEEE 754 (TIFF 6.0, section 19).
  if (first.sampleFormat !== 3)
    throw new ModelError(`"${name}" holds display values, and no light. Save it as a TIFF of floats, or as .exr or .hdr.`);
  return { width: first.width, height: first.height };
}

/** Ending of an environment image, in small letters. */
export const endingOf = (name: string): string => name.slice(name.lastIndexOf('.') + 1).toLowerCase();

async function declaredSize(name: string, bytes: Uint8Array): Promise<Declared> {
  switch (endingOf(name)) {
    case 'exr':
      return exrSize(name, bytes);
    case 'pfm':
      return pfmHeader(name, bytes);
    case 'tif':
    case 'tiff':
      return tiffSize(name, bytes);
    default:
      return hdrSize(name, bytes);
  }
}

/** The size that an image declares. Throws ModelError where its header is damaged, or it is larger than is read. */
export async function environmentSize(name: string, bytes: Uint8Array): Promise<Declared> {
  const { width, height } = await declaredSize(name, bytes);
  if (!(width >= 1 && height >= 1)) throw new ModelError(`"${name}" says that it is ${width} × ${height}. Save it again.`);
  if (width * height > MAX_ENVIRONMENT_TEXELS) throw new ModelError(`"${name}" is ${width} × ${height}; 8192 × 4096 is the most. Save it smaller.`);
  return { width, height };
}
