/**
 * Light apart, by what it comes from and by layer, out of a traced picture. Sums are as they were traced; what the filter for
 * noise changed of beauty is shared out, so that the sources add up to beauty, and the layers compose to it, as exactly as
 * numbers allow.
 */
import * as L from '../../../kernel/layout.js';
import type { PassId } from '../../core/image/passes.js';
import type { Film } from './film.js';

/** Ids of the sources of light, as LIGHT_SOURCE numbers them. */
const SOURCES = [
  'surroundings',
  'sunlight',
  'model-lights',
  'light-1',
  'light-2',
  'light-3',
  'light-4',
  'light-5',
  'light-6',
  'light-7',
  'light-8',
] as const satisfies readonly PassId[];
type SourceId = (typeof SOURCES)[number];

/** Less of a pixel than this is nothing: what a layer looks like there cannot be told. */
const LEAST_COVER = 1e-6;

/**
 * Light of one source, RGB a pixel: beauty by the share that the source has of the traced sum. Where nothing was traced, and
 * the filter brought light from beside, the surroundings have it.
 */
function sourcePlane({ width, height, sums, stride, colour }: Film, source: number): Float32Array {
  const out = new Float32Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) {
      const at = i * stride + L.PIXEL_SOURCES + c;
      let all = 0;
      for (let k = 0; k < L.SOURCES; k++) all += sums[at + k * 3]!;
      const share = all > 0 ? sums[at + source * 3]! / all : source === L.SOURCE_SURROUNDINGS ? 1 : 0;
      out[i * 3 + c] = colour[i * 3 + c]! * share;
    }
  }
  return out;
}

type LayerId = Extract<PassId, 'subject' | 'ground-shadow' | 'ground' | 'backdrop'>;

/** Colours of one pixel's layers, one channel of it. */
interface LayerValues {
  subject: number;
  shadow: number;
  ground: number;
  backdrop: number;
}

/** What of the pixel each layer covers: ground over backdrop, the subject over both. */
interface Covers {
  subject: number;
  ground: number;
  backdrop: number;
}

/**
 * One channel of the layers, premultiplied: subject + (1 - its cover) shadow (ground + (1 - ground's cover) backdrop) is beauty.
 * The shadow is what arrives of ground and backdrop, of what would arrive without anything in the way of their light.
 */
function layerValues(film: Film, pixel: number, channel: number, covers: Covers): LayerValues {
  const { sums, stride, colour, transparent } = film;
  const at = pixel * stride;
  const n = Math.max(1, sums[at + L.PIXEL_COUNT]!);
  const of = (field: number): number => sums[at + field + channel]! / n;
  const beauty = colour[pixel * 3 + channel]!;
  // What the filter added or took, by the share of the pixel.
  const filtered = beauty - of(L.PIXEL_COLOUR);
  const behind = covers.ground + covers.backdrop;
  if (behind < LEAST_COVER) return { subject: beauty, shadow: 1, ground: 0, backdrop: 0 };
  const seen = of(L.PIXEL_GROUND) + of(L.PIXEL_BACKDROP) + behind * filtered;
  let ground = of(L.PIXEL_GROUND) + of(L.PIXEL_GROUND_LOST) + covers.ground * filtered;
  let backdrop = of(L.PIXEL_BACKDROP) + of(L.PIXEL_BACKDROP_LOST) + covers.backdrop * filtered;
  let shadow = seen / (ground + backdrop);
  if (transparent && covers.ground === 0) shadow = 1 - sums[at + L.PIXEL_SHADOW_COVER]! / n / covers.backdrop;
  else if (!(shadow >= 0 && shadow <= 1) || ground + backdrop < LEAST_COVER) {
    // Noise of what is lost is more than the shadow: there is none.
    const whole = ground + backdrop;
    shadow = 1;
    [ground, backdrop] = whole > LEAST_COVER ? [(seen * ground) / whole, (seen * backdrop) / whole] : [covers.ground * seen, covers.backdrop * seen];
  }
  return { subject: beauty - seen, shadow, ground: ground / behind, backdrop: covers.backdrop < LEAST_COVER ? 0 : backdrop / covers.backdrop };
}

/** A layer's numbers: RGBA of subject and ground, RGB of the others. */
function layerPlane(film: Film, id: LayerId): Float32Array {
  const { width, height, sums, stride } = film;
  const size = id === 'subject' || id === 'ground' ? 4 : 3;
  const out = new Float32Array(width * height * size);
  for (let i = 0; i < width * height; i++) {
    const at = i * stride;
    const n = Math.max(1, sums[at + L.PIXEL_COUNT]!);
    const [ground, backdrop] = [sums[at + L.PIXEL_GROUND_COVER]! / n, sums[at + L.PIXEL_BACKDROP_COVER]! / n];
    const covers = { ground, backdrop, subject: 1 - ground - backdrop };
    for (let c = 0; c < 3; c++) {
      const values = layerValues(film, i, c, covers);
      out[i * size + c] = id === 'ground-shadow' ? values.shadow : values[id];
    }
    if (id === 'subject') out[i * size + 3] = covers.subject;
    if (id === 'ground') out[i * size + 3] = ground + backdrop < LEAST_COVER ? 0 : ground / (ground + backdrop);
  }
  return out;
}

/** A pass that needs light apart. */
export type ApartId = SourceId | LayerId;

/** Numbers of that pass. @param film traced with light apart. */
export function apartPlane(film: Film, id: ApartId): Float32Array {
  const source = SOURCES.findIndex((s) => s === id);
  return source >= 0 ? sourcePlane(film, source) : layerPlane(film, id as LayerId);
}
