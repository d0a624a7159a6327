/**
 * Light apart, by what it comes from and by layer, out of a traced picture. Sums are as they were traced; what the filter for
 * noise changed of beauty is shared out, so that the sources add up to beauty, and the layers compose to it, as exactly as
 * numbers allow.
 */
import * as L from '../../../kernel/layout.js';
import { type PassId, passOf } from '../../core/image/passes.js';
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
      const at = i * stride + c;
      const all = sums[at + L.PIXEL_COLOUR]!;
      const share = all > 0 ? sums[at + L.PIXEL_SOURCES + source * 3]! / all : source === L.SOURCE_SURROUNDINGS ? 1 : 0;
      out[i * 3 + c] = colour[i * 3 + c]! * share;
    }
  }
  return out;
}

type LayerId = Extract<PassId, 'subject' | 'ground-shadow' | 'ground' | 'backdrop'>;

/** The layers of a picture: RGBA of subject and ground, RGB of the others, premultiplied. */
export type Layers = Record<LayerId, Float32Array>;

/** Whether a pass is one of the layers, which are made together. */
export const isLayer = (id: PassId): id is LayerId => passOf(id).group === 'layers';

/**
 * All layers at once: subject + (1 - its alpha) shadow (ground + (1 - ground's alpha) backdrop) is beauty. The shadow is what
 * arrives of ground and backdrop, of what would arrive without anything in the way of their light.
 */
export function layersOf({ width, height, sums, stride, colour, transparent }: Film): Layers {
  const count = width * height;
  const [subject, groundLayer] = [new Float32Array(count * 4), new Float32Array(count * 4)];
  const [shadowLayer, backdropLayer] = [new Float32Array(count * 3), new Float32Array(count * 3)];
  for (let i = 0, at = 0; i < count; i++, at += stride) {
    const n = Math.max(1, sums[at + L.PIXEL_COUNT]!);
    const groundCover = sums[at + L.PIXEL_GROUND_COVER]! / n;
    const backdropCover = sums[at + L.PIXEL_BACKDROP_COVER]! / n;
    const behind = groundCover + backdropCover;
    subject[i * 4 + 3] = 1 - behind;
    if (behind < LEAST_COVER) {
      for (let c = 0; c < 3; c++) subject[i * 4 + c] = colour[i * 3 + c]!;
      shadowLayer.fill(1, i * 3, i * 3 + 3);
      continue;
    }
    groundLayer[i * 4 + 3] = groundCover / behind;
    // Of a clear picture the shadow is in alpha, not in light.
    const clear = transparent && groundCover === 0 ? 1 - sums[at + L.PIXEL_SHADOW_COVER]! / n / backdropCover : -1;
    for (let c = 0; c < 3; c++) {
      const beauty = colour[i * 3 + c]!;
      const [seenGround, seenBackdrop] = [sums[at + L.PIXEL_GROUND + c]! / n, sums[at + L.PIXEL_BACKDROP + c]! / n];
      // What the filter added or took, by the share of the pixel.
      const filtered = beauty - sums[at + L.PIXEL_COLOUR + c]! / n;
      const seen = seenGround + seenBackdrop + behind * filtered;
      let ground = seenGround + sums[at + L.PIXEL_GROUND_LOST + c]! / n + groundCover * filtered;
      let backdrop = seenBackdrop + sums[at + L.PIXEL_BACKDROP_LOST + c]! / n + backdropCover * filtered;
      const whole = ground + backdrop;
      let shadow = clear >= 0 ? clear : seen / whole;
      if (clear < 0 && (!(shadow >= 0 && shadow <= 1) || whole < LEAST_COVER)) {
        // Noise of what is lost is more than the shadow: there is none.
        shadow = 1;
        const share = whole > LEAST_COVER ? ground / whole : groundCover / behind;
        ground = seen * share;
        backdrop = seen - ground;
      }
      subject[i * 4 + c] = beauty - seen;
      shadowLayer[i * 3 + c] = shadow;
      groundLayer[i * 4 + c] = ground / behind;
      backdropLayer[i * 3 + c] = backdropCover < LEAST_COVER ? 0 : backdrop / backdropCover;
    }
  }
  return { subject, 'ground-shadow': shadowLayer, ground: groundLayer, backdrop: backdropLayer };
}

/** Numbers of a source of light. @param film traced with light apart. */
export const lightOf = (film: Film, id: SourceId): Float32Array => sourcePlane(film, SOURCES.indexOf(id));
