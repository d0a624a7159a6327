/** The grade: how traced light becomes a picture to look at. Render once, grade later: no pixel is traced again for it. */
import * as z from 'zod';
import { luminance } from '../units/colour.js';
import { CURVE_LIST, CURVES, quantizeSrgb, EXPOSURE } from './tone.js';
import { type Matrix, whiteMatrix } from './whiteBalance.js';
import { applyLook, lookFields } from './look.js';
import { mixSchema } from './mix.js';
import { lineStyleSchema } from './lineStyle.js';
import { MIN_KELVIN, MAX_KELVIN, NEUTRAL_KELVIN } from '../units/colourTemperature.js';

/** What is done to the light of a render before it is displayed. */
export const gradeSchema = z.strictObject({
  /** Stops over the stage's own exposure. */
  exposure: z.number().min(-30).max(30).default(0),
  /** Light of so many kelvin comes out neutral. */
  whiteBalance: z.number().min(MIN_KELVIN).max(MAX_KELVIN).default(NEUTRAL_KELVIN),
  curve: z.enum(CURVES).default('shoulder'),
  /** A veil around what is brighter than white: its share, and how far it reaches, of the long side. */
  glow: z.strictObject({ strength: z.number().min(0).max(1), reach: z.number().min(0.001).max(0.2) }).optional(),
  /** Parts of the light mixed anew, where their passes are rendered. */
  mix: mixSchema.optional(),
  /** Weight and colour of drawn lines instead of those of the format sheet, where it has lines. */
  lines: lineStyleSchema.optional(),
  /** Whether noise is filtered, instead of what the quality says. */
  denoise: z.boolean().optional(),
  ...lookFields,
});

/** What {@link gradeSchema} reads. */
export type Grade = z.infer<typeof gradeSchema>;
/** Changes nothing. */
export const NEUTRAL_GRADE: Grade = gradeSchema.parse({});

/** Blurs a plane of `width` × `height` by a box of 2 r + 1, along rows, and turns rows and columns over. */
function blurTransposed(from: Float32Array, to: Float32Array, width: number, height: number, r: number): void {
  const span = 2 * r + 1;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    // Beyond the edge nothing shines.
    let sum = 0;
    for (let x = 0; x < Math.min(r, width); x++) sum += from[row + x]!;
    for (let x = 0; x < width; x++) {
      if (x + r < width) sum += from[row + x + r]!;
      if (x - r > 0) sum -= from[row + x - r - 1]!;
      to[x * height + y] = sum / span;
    }
  }
}

/** Adds the veil to graded light, in place. Three boxes one after another come within 3 % of a Gaussian. */
function addGlow(light: Float32Array, width: number, height: number, { strength, reach }: NonNullable<Grade['glow']>): void {
  const count = width * height;
  // Three boxes of 2 r + 1 have the variance r (r + 1): as a Gaussian of a third of the reach.
  const r = Math.max(1, Math.round((reach * Math.max(width, height)) / 3));
  const [a, b] = [new Float32Array(count), new Float32Array(count)];
  for (let c = 0; c < 3; c++) {
    for (let i = 0; i < count; i++) {
      const l = luminance(light[i * 3]!, light[i * 3 + 1]!, light[i * 3 + 2]!);
      a[i] = l > 1 ? light[i * 3 + c]! * (1 - 1 / l) : 0;
    }
    for (let pass = 0; pass < 3; pass++) {
      blurTransposed(a, b, width, height, r);
      blurTransposed(b, a, height, width, r);
    }
    for (let i = 0; i < count; i++) light[i * 3 + c]! += strength * a[i]!;
  }
}

/** What is done to light before the tone curve, as a matrix by rows over linear Rec. 709, and the least that it gives. */
export function exposureMatrix({ exposure, whiteBalance }: Pick<Grade, 'exposure' | 'whiteBalance'>): { matrix: Matrix; floor: number } {
  const scale = EXPOSURE * 2 ** exposure;
  const white = whiteMatrix(whiteBalance);
  const matrix = (white ?? [1, 0, 0, 0, 1, 0, 0, 0, 1]).map((v) => v * scale) as Matrix;
  return { matrix, floor: white ? 0 : -Infinity };
}

/** Light with exposure, white balance and glare, as a new array: what the tone curve is applied to. */
export function exposedLight(colour: Float32Array, grade: Grade, size?: { width: number; height: number }): Float32Array {
  const { matrix: m } = exposureMatrix(grade);
  const light = new Float32Array(colour.length);
  for (let i = 0; i < colour.length; i += 3) {
    const [r, g, b] = [colour[i]!, colour[i + 1]!, colour[i + 2]!];
    light[i] = Math.max(0, m[0] * r + m[1] * g + m[2] * b);
    light[i + 1] = Math.max(0, m[3] * r + m[4] * g + m[5] * b);
    light[i + 2] = Math.max(0, m[6] * r + m[7] * g + m[8] * b);
  }
  if (grade.glow && size) addGlow(light, size.width, size.height, grade.glow);
  return light;
}

/**
 * Display values 0..1 of linear pixels, three a pixel, into `out`, which may be the same array. Colour
 * is kept while luminance is compressed; what still lies outside is clipped. `mix`, `lines` and `denoise` are not done here: see
 * mixBeauty and planFrames.
 */
export function applyGrade(colour: Float32Array, out: Float32Array, grade: Grade = NEUTRAL_GRADE, size?: { width: number; height: number }): void {
  const plain = grade.whiteBalance === NEUTRAL_KELVIN && !(grade.glow && size);
  const from = plain ? colour : exposedLight(colour, grade, size);
  const gain = plain ? EXPOSURE * 2 ** grade.exposure : 1;
  const { map } = CURVE_LIST[grade.curve];
  for (let i = 0; i < colour.length; i += 3) {
    const r = from[i]! * gain;
    const g = from[i + 1]! * gain;
    const b = from[i + 2]! * gain;
    const l = luminance(r, g, b);
    const k = l > 0 ? map(l) / l : 0;
    out[i] = quantizeSrgb(r * k);
    out[i + 1] = quantizeSrgb(g * k);
    out[i + 2] = quantizeSrgb(b * k);
  }
  applyLook(out, grade);
}

/** What metering looks for. Reinhard 2002, section 3.1: 0.18 for a usual scene, 0.36 for a bright one, as things shown on a stage are. */
const KEY = 0.36;

/**
 * Stops that bring the picture's log-average luminance to its key value (Reinhard et al. 2002, equation
 * 1), over what is covered; 0 where nothing is. Pixels at black and the brightest hundredth are left out.
 */
export function autoExposure(colour: Float32Array, covered: (pixel: number) => boolean = () => true): number {
  const values: number[] = [];
  for (let i = 0; i < colour.length / 3; i++) {
    const l = luminance(colour[i * 3]!, colour[i * 3 + 1]!, colour[i * 3 + 2]!);
    if (l > 0 && covered(i)) values.push(l);
  }
  if (values.length === 0) return 0;
  values.sort((a, b) => a - b);
  const counted = values.slice(Math.floor(values.length * 0.01), Math.max(1, Math.ceil(values.length * 0.99)));
  const mean = Math.exp(counted.reduce((s, l) => s + Math.log(l), 0) / counted.length);
  return Math.log2(KEY / (mean * EXPOSURE));
}
