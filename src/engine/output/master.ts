/**
 * A master: the linear light of a finished frame, as an OpenEXR file that other programs read as well. Of it files are
 * developed in another grade, type or curve, with the filter for noise on or off, without tracing anything again. Light is
 * kept at half precision, as files are made of halves anyway; in single precision only where the frame has such a file.
 */
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { readExr } from '../../formats/exr/read.js';
import { type ExrChannel, writeExr } from '../../formats/exr/write.js';
import type { LinearRender } from '../scheduler/job.js';
import { keepsSingles } from './encodeFiles.js';
import type { Film, PassSource } from './film.js';

/** Raised when the form changes: masters of another are not read. */
const MASTER_FORM = '1';
/** Noise does not compress, however hard one tries; even light does at once. */
const EFFORT = 1;
/** Sums of an unfiltered picture that would lose too much as halves. */
const SINGLES_OF_FILM: readonly number[] = [
  L.PIXEL_SCATTERED_SQ,
  L.PIXEL_DEPTH,
  L.PIXEL_COUNT,
  L.PIXEL_GUIDE_DEPTH,
  L.PIXEL_SAMPLE_NEED,
  L.PIXEL_LUMINANCE_SQ,
];

/** Light and passes of a traced frame, as they are kept to develop files from. */
export interface Master {
  /** Of the frame that was traced. */
  identity: string;
  samples: number;
  noise?: number;
  /** Whether beauty is filtered. */
  filtered: boolean;
  /** Whether light is in single precision. */
  singles: boolean;
  source: PassSource;
  /** Beauty as it was before the filter, where it is filtered. */
  unfiltered?: Float32Array;
  /** Sums that the filter reads, where beauty is not filtered. */
  film?: Pick<Film, 'sums' | 'stride'>;
}

/** Names of a pass's channels in the file: mattes are pairs of label and coverage. */
function channelNames(id: PassId): string[] {
  if (id === 'beauty') return ['R', 'G', 'B'];
  if (id === 'alpha') return ['A'];
  if (id === 'lines') return ['lines.distance'];
  if (passOf(id).needs === 'mattes') return Array.from({ length: L.MATTE_PAIRS * 2 }, (_, k) => `${id}.${k}`);
  return passOf(id).channels.map((c) => `${id}.${c}`);
}
const UNFILTERED = ['unfiltered.R', 'unfiltered.G', 'unfiltered.B'];
const FILM = Array.from({ length: L.PIXEL_FLOATS }, (_, k) => `film.${k}`);

/** Passes that the frame's files, and its lines, are made of. */
function passesOf(frame: Frame): PassId[] {
  const more: PassId[] = [...(frame.transparent ? (['alpha'] as const) : []), ...(frame.lines ? (['lines'] as const) : [])];
  return [...new Set([...frame.passes, ...more])];
}

/** Adds a channel for each name, out of values that lie side by side. */
function addPlane(channels: ExrChannel[], names: readonly string[], values: Float32Array, type: ExrChannel['type']): void {
  names.forEach((name, c) => {
    const data = new Float32Array(values.length / names.length);
    for (let i = 0; i < data.length; i++) data[i] = values[i * names.length + c]!;
    channels.push({ name, type, data });
  });
}

/** The mean colour of each pixel, unfiltered. */
function meanColour({ sums, stride }: Pick<Film, 'sums' | 'stride'>): Float32Array {
  const out = new Float32Array((sums.length / stride) * 3);
  for (let i = 0; i < out.length / 3; i++) {
    const n = sums[i * stride + L.PIXEL_COUNT]!;
    for (let c = 0; c < 3; c++) out[i * 3 + c] = n > 0 ? sums[i * stride + c]! / n : 0;
  }
  return out;
}

/** The frame's master. @param source its passes in single precision. @param noise as noiseOf has it. */
export function encodeMaster(frame: Frame, source: PassSource, film: Pick<LinearRender, 'sums' | 'stride' | 'samples'>, noise?: number): Uint8Array {
  const { width, height } = source;
  const singles = frame.files.some(keepsSingles);
  const light = singles ? 'float' : 'half';
  const channels: ExrChannel[] = [];
  for (const id of passesOf(frame)) addPlane(channels, channelNames(id), source.plane(id), passOf(id).data ? 'float' : light);
  const { sums, stride } = film;
  if (frame.sampling.denoise) addPlane(channels, UNFILTERED, meanColour(film), light);
  else {
    for (const [k, name] of FILM.entries()) {
      const data = new Float32Array(width * height);
      for (let i = 0; i < data.length; i++)
        data[i] = k === L.PIXEL_COUNT ? sums[i * stride + k]! : sums[i * stride + k]! / Math.max(1, sums[i * stride + L.PIXEL_COUNT]!);
      channels.push({ name, type: SINGLES_OF_FILM.includes(k) ? 'float' : light, data });
    }
  }
  const texts = {
    software: 'Cold Easel',
    'master/form': MASTER_FORM,
    'master/identity': frame.identity,
    'master/samples': String(film.samples),
    'master/filtered': String(frame.sampling.denoise),
    'master/precision': singles ? 'single' : 'half',
    ...(noise !== undefined && { 'master/noise': String(noise) }),
  };
  return writeExr({ width, height, pixelAspect: frame.pixelAspect, channels, texts, effort: EFFORT });
}

/** Values of several channels side by side; null where one is missing. */
function joined(channels: ReadonlyMap<string, Float32Array>, names: readonly string[]): Float32Array | null {
  const planes = names.map((n) => channels.get(n));
  const count = planes.length;
  const out = new Float32Array((planes[0]?.length ?? 0) * count);
  for (const [c, plane] of planes.entries()) {
    if (!plane) return null;
    for (let i = 0; i < plane.length; i++) out[i * count + c] = plane[i]!;
  }
  return out;
}

/** A master's content. Throws where it is damaged or of another form. */
export function decodeMaster(bytes: Buffer): Master {
  const { width, height, channels, texts } = readExr(bytes);
  if (texts['master/form'] !== MASTER_FORM) throw new Error('This master is of another version.');
  const filtered = texts['master/filtered'] === 'true';
  const noise = texts['master/noise'];
  const plane = (id: PassId): Float32Array => {
    const values = joined(channels, channelNames(id));
    if (!values) throw new Error(`This master has no ${passOf(id).label}.`);
    return values;
  };
  const unfiltered = filtered ? joined(channels, UNFILTERED) : null;
  const sums = filtered ? null : joined(channels, FILM);
  if (sums) {
    const stride = L.PIXEL_FLOATS;
    for (let at = 0; at < sums.length; at += stride)
      for (let k = 0, n = sums[at + L.PIXEL_COUNT]!; k < stride; k++) if (k !== L.PIXEL_COUNT) sums[at + k]! *= Math.max(1, n);
  }
  return {
    identity: texts['master/identity']!,
    samples: Number(texts['master/samples']),
    ...(noise !== undefined && { noise: Number(noise) }),
    filtered,
    singles: texts['master/precision'] === 'single',
    source: { width, height, plane },
    ...(unfiltered && { unfiltered }),
    ...(sums && { film: { sums, stride: L.PIXEL_FLOATS } }),
  };
}
