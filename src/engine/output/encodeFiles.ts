/** Files of a frame out of its passes: graded, and written in every type. They may come from a film or from a master. */
import * as L from '../../../kernel/layout.js';
import { EXTENSIONS } from '../../core/image/fileTypes.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { compositeLines } from '../../core/image/mix.js';
import { applyGrade, type Grade } from '../../core/image/grade.js';
import { ENGINE_VERSION, type FileFormat, type Frame } from '../../core/frame/frame.js';
import { type ExrChannel, writeExr } from '../../formats/exr/write.js';
import { burnLegend } from '../../formats/image/legend.js';
import { encodeBands, encodeImage } from '../../formats/image/write.js';
import type { MatteNames } from '../scene/matteNames.js';
import { cryptomatteHash } from '../upload/memoryViews.js';
import { mixedSource } from './mixedSource.js';
import { halfSource, passToDisplay, type PassSource, withLineCover } from './passes.js';

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
  /** Type and bits a channel, as "png 16". */
  type: string;
  /** "all" where the file holds every pass. */
  pass: PassId | 'all';
  alpha: boolean;
}

/** Of each pass in each format; OpenEXR holds all passes in one. */
export function describeFiles(frame: Frame): FileDescription[] {
  const clear = (pass: PassId): boolean => frame.transparent && pass === 'beauty';
  return frame.files.flatMap((f): FileDescription[] => {
    const type = `${f.type} ${f.bits}`;
    if (f.type === 'exr') return [{ name: `${frame.name}.exr`, type, pass: 'all', alpha: frame.passes.some((p) => clear(p) || p === 'alpha') }];
    return frame.passes.map((pass, i) => ({ name: `${frame.passNames[i]!}.${EXTENSIONS[f.type]}`, type, pass, alpha: clear(pass) }));
  });
}

/** File names of a frame: of each pass in each format; OpenEXR holds all passes in one. */
export const fileNames = (frame: Frame): string[] => describeFiles(frame).map((f) => f.name);

/** Beauty with straight alpha: the picture stands premultiplied in the film, so it is divided first. */
function transparentDisplay(source: PassSource, grade: Grade): Float32Array {
  const alpha = source.plane('alpha');
  const colour = source.plane('beauty').map((c, i) => c / Math.max(alpha[Math.floor(i / 3)]!, 1e-4));
  const display = new Float32Array(colour.length);
  applyGrade(colour, display, grade, source);
  return Float32Array.from({ length: alpha.length * 4 }, (_, i) => (i % 4 === 3 ? Math.min(1, alpha[i >> 2]!) : display[(i >> 2) * 3 + (i % 4)]!));
}

function exrOf(frame: Frame, source: PassSource, { bits, exrCompression, dpi }: FileFormat, names: MatteNames): Buffer {
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
  for (const id of frame.passes) {
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
  }
  if (frame.transparent && frame.passes.includes('beauty')) add('', ['A'], source.plane('alpha'), colour);
  return writeExr({ width: source.width, height: source.height, pixelAspect: frame.pixelAspect, dpi, channels, texts, compression: exrCompression });
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
    id === 'beauty' && frame.transparent ? transparentDisplay(source, frame.grade) : passToDisplay(source, id, frame.grade);
  const files: RenderedFile[] = [];
  for (const format of frame.files) {
    if (format.type === 'exr') {
      const source = keepsSingles(format) ? drawnOver(withLineCover(traced, frame.lines), frame) : halves;
      files.push({ name: `${frame.name}.exr`, bytes: exrOf(frame, source, format, names) });
      continue;
    }
    for (const [i, id] of frame.passes.entries()) {
      const name = `${frame.passNames[i]!}.${EXTENSIONS[format.type]}`;
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
