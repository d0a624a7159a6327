/** What is different between two renders of one size: how much of the picture, by how much, and where; noise does not count. */
import { type ChangedArea, findAreas } from './areas.js';
import { ciede2000 } from './ciede2000.js';
import { meanPlane, type Plane } from './filters.js';
import { type LabPicture, toLab } from './lab.js';
import { noiseVariance } from './noise.js';
import { ssimOf } from './ssim.js';
import { DEFAULT_THRESHOLD, MIN_THRESHOLD } from './threshold.js';

/** Pixels as a canvas has them: RGBA bytes, sRGB, alpha straight. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint8Array;
}

export interface Difference {
  width: number;
  height: number;
  /** CIEDE2000 above which a pixel counts as changed. */
  threshold: number;
  /** Share of the pixels that changed, 0..1. */
  changed: number;
  /** Structural similarity of the lightness. */
  ssim: number;
  /** Largest CIEDE2000 of a changed pixel; 0 where none is. */
  largest: number;
  /** By how much each pixel differs beyond noise, in CIEDE2000; 0 where it does not. */
  values: Float32Array;
  /** 1 where changed. */
  mask: Uint8Array;
  /** Most pixels first. */
  areas: ChangedArea[];
}

/** Standard deviations of the noise that are taken off a difference before it counts. */
const NOISE_FACTOR = 3;
/** CIEDE2000 is at most about so many times the distance in L*a*b*: chroma is stretched by up to 1.5, and the rotation term adds to it. */
const MOST_PER_LAB = 2.2;

function minus(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! - b[i]!;
  return out;
}

/** By how much CIEDE2000 of the means over 3 × 3 pixels is beyond their noise; 0 where that cannot come to MIN_THRESHOLD. */
function beyondNoise(a: LabPicture, b: LabPicture, noise: Float32Array): Float32Array {
  const { width, height } = a;
  const mean = (picture: LabPicture, c: 0 | 1 | 2): Float32Array => meanPlane({ width, height, values: picture.planes[c] }, 1).values;
  const [l1, a1, b1] = [mean(a, 0), mean(a, 1), mean(a, 2)];
  const [l2, a2, b2] = [mean(b, 0), mean(b, 1), mean(b, 2)];
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) {
    const allowed = NOISE_FACTOR * Math.sqrt(noise[i]!);
    const dl = l1[i]! - l2[i]!;
    const da = a1[i]! - a2[i]!;
    const db = b1[i]! - b2[i]!;
    const least = (MIN_THRESHOLD + allowed) / MOST_PER_LAB;
    if (dl * dl + da * da + db * db < least * least) continue;
    out[i] = Math.max(0, ciede2000(l1[i]!, a1[i]!, b1[i]!, l2[i]!, a2[i]!, b2[i]!) - allowed);
  }
  return out;
}

/**
 * Compares two pictures of one size. Throws an Error where they have not.
 * @param threshold in CIEDE2000, MIN_THRESHOLD to MAX_THRESHOLD.
 */
export function differenceOf(first: Pixels, second: Pixels, threshold = DEFAULT_THRESHOLD): Difference {
  const { width, height } = first;
  if (second.width !== width || second.height !== height)
    throw new Error(`The renders are ${width} × ${height} and ${second.width} × ${second.height}; only renders of one size have a difference.`);
  const [a, b] = [toLab(first), toLab(second)];
  const plane = (values: Float32Array): Plane => ({ width, height, values });
  const noise = noiseVariance(([0, 1, 2] as const).map((c) => plane(minus(a.planes[c], b.planes[c]))));
  const values = beyondNoise(a, b, noise);
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) if (values[i]! > threshold) mask[i] = 1;
  const areas = findAreas(mask, values, width, height);
  const pixels = areas.reduce((n, area) => n + area.pixels, 0);
  return {
    width,
    height,
    threshold,
    changed: pixels / values.length,
    ssim: ssimOf(plane(a.planes[0]), plane(b.planes[0]), 100),
    largest: areas.reduce((m, area) => Math.max(m, area.largest), 0),
    values,
    mask,
    areas,
  };
}
