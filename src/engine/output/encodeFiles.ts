/** Files of a frame out of its passes: graded, and written in every type. They may come from a film or from a master. */
import * as L from '../../../kernel/layout.js';
import { type DeliveryFileType, EXTENSIONS, fileTypeOf, holdsAllPasses, isLinear } from '../../core/image/fileTypes.js';
import { hasAlpha, passOf, type PassId } from '../../core/image/passes.js';
import { compositeLines } from '../../core/image/mix.js';
import { applyGrade, type Grade } from '../../core/image/grade.js';
import { ENGINE_VERSION, type FileFormat, type Frame } from '../../core/frame/frame.js';
import { type ExrChannel, type ExrImage, writeExr, writeExrParts } from '../../formats/exr/write.js';
import { writeFloatTiff } from '../../formats/image/floatTiff.js';
import { burnLegend } from '../../formats/image/legend.js';
import { writeRadiance } from '../../formats/image/radiance.js';
import { encodeBands, encodeImage } from '../../formats/image/write.js';
import type { MatteNames } from '../scene/matteNames.js';
import { cryptomatteHash } from '../upload/memoryViews.js';
import { mixedSource } from './mixedSource.js';
import type { PassSource } from './film.js';
import { halfSource, passToDisplay, withLineCover } from './passes.js';

/** A file of a frame. */
export interface RenderedFile {
  /** Name with extension, by the plan. */
  name: string;
  bytes: Buffer;
}

/** What image files name as their maker. */
const MAKER = `Cold Easel, engine ${ENGINE_VERSION}`;

/** Whether a file keeps light in single precision; all others are made of halves, so that a master makes the same ones. */
export function keepsSingles({ type, bits }: FileFormat): boolean {
  return type === 'exr' && bits === 32;
}

/** What each of a frame's files is. */
export interface FileDescription {
  name: string;
  type: DeliveryFileType;
  /** "all" where the file holds every pass. */
  pass: PassId | 'all';
  alpha: boolean;
}

/** Whether a file of that pass says where it is clear. */
function keepsAlpha(id: PassId, { transparent }: Pick<Frame, 'transparent'>): boolean {
  return hasAlpha(id) || (transparent && id === 'beauty');
}

/** Of each pass in each format; OpenEXR holds all passes in one, unless it is split into files. */
export function describeFiles(frame: Frame): FileDescription[] {
  return frame.files.flatMap((f): FileDescription[] => {
    const type = fileTypeOf(f);
    if (holdsAllPasses(f))
      return [{ name: `${frame.name}.exr`, type, pass: 'all', alpha: frame.passes.some((p) => keepsAlpha(p, frame) || p === 'alpha') }];
    return frame.passes.map((pass, i) => ({ name: `${frame.passNames[i]!}.${EXTENSIONS[f.type]}`, type, pass, alpha: keepsAlpha(pass, frame) }));
  });
}

/** File names of a frame, as describeFiles has them. */
export const fileNames = (frame: Frame): string[] => describeFiles(frame).map((f) => f.name);

/** Premultiplied RGBA of what a file keeps with alpha: the pass's own, or that of the whole picture. */
function premultiplied(source: PassSource, id: PassId): Float32Array {
  const values = source.plane(id);
  if (hasAlpha(id)) return values;
  const alpha = source.plane('alpha');
  return Float32Array.from({ length: alpha.length * 4 }, (_, i) => (i % 4 === 3 ? alpha[i >> 2]! : values[(i >> 2) * 3 + (i % 4)]!));
}

/** RGB that alpha is not multiplied into, of premultiplied RGBA. */
function straightColour(values: Float32Array): Float32Array {
  return Float32Array.from({ length: (values.length / 4) * 3 }, (_, i) => {
    const at = Math.floor(i / 3) * 4;
    return values[at + (i % 3)]! / Math.max(values[at + 3]!, 1e-4);
  });
}

/** RGB and alpha side by side. */
function withAlphaOf(premultiplied: Float32Array, colour: Float32Array): Float32Array {
  return premultiplied.map((alpha, i) => (i % 4 === 3 ? Math.min(1, alpha) : colour[(i >> 2) * 3 + (i % 4)]!));
}

/** A pass with straight alpha. */
function transparentDisplay(source: PassSource, id: PassId, grade: Grade): Float32Array {
  const values = premultiplied(source, id);
  const colour = straightColour(values);
  const display = new Float32Array(colour.length);
  applyGrade(colour, display, id === 'beauty' ? grade : { ...grade, glow: undefined }, source);
  return withAlphaOf(values, display);
}

/** A pass as an OpenEXR image of its own. */
function exrPass(id: PassId, frame: Frame, source: PassSource, { bits, exrCompression, dpi }: FileFormat, names: MatteNames): ExrImage {
  const channels: ExrChannel[] = [];
  const texts: Record<string, string> = {
    software: 'Cold Easel',
    'frame/identity': frame.identity,
    'frame/shot': frame.shot,
    'frame/view': frame.view,
  };
  const colour = bits === 16 ? 'half' : 'float';
  const add = (layer: string, names: readonly string[], values: Float32Array, type: ExrChannel['type']): void => {
    names.forEach((name, c) => {
      const data = Float32Array.from({ length: values.length / names.length }, (_, i) => values[i * names.length + c]!);
      channels.push({ name: layer ? `${layer}.${name}` : name, type, data });
    });
  };
  const pass = passOf(id);
  const values = source.plane(id);
  if (pass.needs === 'mattes') {
    for (let k = 0; k < L.MATTE_PAIRS / 2; k++) {
      // Bits of labels must come through as they are: copied, not converted.
      const layer = new Float32Array(values.length / 2);
      const [from, to] = [new Uint32Array(values.buffer, values.byteOffset, values.length), new Uint32Array(layer.buffer)];
      for (let i = 0; i < layer.length; i++) to[i] = from[(i >> 2) * L.MATTE_PAIRS * 2 + k * 4 + (i & 3)]!;
      add(`${id}0${k}`, ['R', 'G', 'B', 'A'], layer, 'float');
    }
    Object.assign(texts, matteTexts(id, names));
  } else add(id === 'beauty' ? '' : id, pass.channels, values, pass.data ? 'float' : colour);
  if (frame.transparent && id === 'beauty') add('', ['A'], source.plane('alpha'), colour);
  return { width: source.width, height: source.height, pixelAspect: frame.pixelAspect, dpi, channels, texts, compression: exrCompression };
}

/** The passes as one file, in one part or in a part each, or as a file each. */
function exrFiles(frame: Frame, source: PassSource, format: FileFormat, names: MatteNames): RenderedFile[] {
  const images = frame.passes.map((id, i) => ({ ...exrPass(id, frame, source, format, names), name: id, file: frame.passNames[i]! }));
  if (format.exrSplit === 'files') return images.map((image) => ({ name: `${image.file}.exr`, bytes: writeExr(image) }));
  const name = `${frame.name}.exr`;
  if (format.exrSplit === 'parts') return [{ name, bytes: writeExrParts(images) }];
  const texts = Object.assign({}, ...images.map((image) => image.texts)) as Record<string, string>;
  return [{ name, bytes: writeExr({ ...images[0]!, channels: images.flatMap((image) => image.channels), texts }) }];
}

/** A pass before the grade, of a type that holds one a file. */
function linearFile(id: PassId, frame: Frame, source: PassSource, { type, tiffCompression, dpi }: FileFormat): Buffer {
  const { width, height } = source;
  const compression = tiffCompression === 'none' ? 'none' : 'deflate';
  const told = { width, height, compression, dpi, maker: MAKER } as const;
  if (type !== 'hdr' && keepsAlpha(id, frame)) {
    const values = premultiplied(source, id);
    return writeFloatTiff({ ...told, channels: 4, values: withAlphaOf(values, straightColour(values)) });
  }
  const isMatte = passOf(id).needs === 'mattes';
  // Labels are no numbers: what a person sees of them is.
  const plain = isMatte ? passToDisplay(source, id) : source.plane(id);
  const channels = plain.length / (width * height);
  if (type !== 'hdr') return writeFloatTiff({ ...told, channels: channels as 1 | 3, values: plain });
  const colours = channels === 3 ? plain : Float32Array.from({ length: width * height * 3 }, (_, i) => plain[Math.floor(i / 3)]!);
  return writeRadiance(colours, width, height, MAKER, frame.pixelAspect);
}

/** What readers of Cryptomatte look for: the layer's name, its hash, and which label is which name. */
function matteTexts(id: PassId, { parts, materials }: MatteNames): Record<string, string> {
  const names = id === 'parts' ? parts : materials;
  const hex = (n: number): string => n.toString(16).padStart(8, '0');
  const key = `cryptomatte/${hex(cryptomatteHash(id)).slice(0, 7)}`;
  return {
    [`${key}/name`]: id,
    [`${key}/hash`]: 'MurmurHash3_32',
    [`${key}/conversion`]: 'uint32_to_float32',
    [`${key}/manifest`]: JSON.stringify(Object.fromEntries(names.map((n) => [n, hex(cryptomatteHash(n))]))),
  };
}

/** The passes with the frame's lines drawn over its beauty. */
function drawnOver(source: PassSource, { lines }: Frame): PassSource {
  if (!lines) return source;
  let beauty: Float32Array | undefined;
  return {
    ...source,
    plane: (id) => (id === 'beauty' ? (beauty ??= compositeLines(source.plane('beauty'), source.plane('lines'), lines.colour)) : source.plane(id)),
  };
}

/** Whether each row of a pass is displayed by itself: not so where it goes by the least and the most of all, or something lies over several. */
function displaysInBands(id: PassId, { legend, grade }: Frame): boolean {
  if (id === 'depth' || id === 'position') return false;
  return id !== 'beauty' || (!legend && !grade.glow);
}

/** Some rows of the passes. */
function rowsOf(source: PassSource, top: number, rows: number): PassSource {
  const { width, height } = source;
  return {
    width,
    height: rows,
    plane(id) {
      const values = source.plane(id);
      const perRow = values.length / height;
      return values.subarray(top * perRow, (top + rows) * perRow);
    },
  };
}

/** The frame's files, in the order of fileNames. @param traced passes in single precision, as they are kept. */
export async function encodeFiles(frame: Frame, traced: PassSource, names: MatteNames): Promise<RenderedFile[]> {
  const { width, height } = traced;
  const halvesOf = (source: PassSource): PassSource => withLineCover(halfSource(source), frame.lines);
  const halved = halvesOf(traced);
  const halves = drawnOver(halved, frame);
  /** What a person sees, of passes in halves. */
  const shown = (source: PassSource): PassSource => drawnOver(mixedSource(source, frame), frame);
  /** Rows of a pass as they are displayed. */
  const displayOf = (id: PassId, source: PassSource): Float32Array =>
    keepsAlpha(id, frame) ? transparentDisplay(source, id, frame.grade) : passToDisplay(source, id, frame.grade);
  const files: RenderedFile[] = [];
  for (const format of frame.files) {
    if (format.type === 'exr') {
      const source = keepsSingles(format) ? drawnOver(withLineCover(traced, frame.lines), frame) : halves;
      files.push(...exrFiles(frame, source, format, names));
      continue;
    }
    for (const [i, id] of frame.passes.entries()) {
      const name = `${frame.passNames[i]!}.${EXTENSIONS[format.type]}`;
      if (isLinear(format)) {
        files.push({ name, bytes: linearFile(id, frame, halves, format) });
        continue;
      }
      if (displaysInBands(id, frame)) {
        const band = (top: number, rows: number): Float32Array => displayOf(id, shown(halvesOf(rowsOf(traced, top, rows))));
        files.push({ name, bytes: await encodeBands(band, width, height, format, MAKER) });
        continue;
      }
      const display = displayOf(id, shown(halved));
      if (id === 'beauty' && frame.legend) await burnLegend(display, width, height, frame.legend, frame.pixelAspect);
      files.push({ name, bytes: await encodeImage(display, width, height, format, MAKER) });
    }
  }
  return files;
}
