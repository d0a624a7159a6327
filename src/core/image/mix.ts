/** Mixing parts of the light after it was traced: diffuse and specular by factors, occlusion, fog by depth. */
import * as z from 'zod';
import { hexSchema, parseHex, type Rgb } from '../units/colour.js';
import type { PassId } from './passes.js';
import { EXPOSURE } from './tone.js';

const factor = z.number().min(0).max(4);
/** Factors by which passes are put together anew. */
export const mixSchema = z.strictObject({
  /** Factor of the light that the first surface scatters, and reflects; 1 where absent. */
  diffuse: factor.optional(),
  specular: factor.optional(),
  /** How much of ambient occlusion is multiplied over the render, 0..1. */
  occlusion: z.number().min(0).max(1).optional(),
  fog: z
    .strictObject({
      colour: hexSchema.default('#c8d0d8'),
      /** Metres from the camera where it begins. */
      start: z.number().min(0).max(1e6).default(0),
      /** Metres after which half of the light behind is left. */
      half: z.number().min(0.001).max(1e6).default(50),
    })
    .optional(),
});
/** What {@link mixSchema} reads. */
export type Mix = z.infer<typeof mixSchema>;

/** Farther than anything: no surface is there, and no fog is drawn. */
export const NO_DEPTH = 1e10;
/** Depths from there on are none; half floats become infinite before. */
const FARTHEST = 60_000;

/** Passes that a mix reads. */
export function passesOfMix({ diffuse = 1, specular = 1, occlusion = 0, fog }: Mix): PassId[] {
  return [
    ...(diffuse !== 1 ? (['diffuse'] as const) : []),
    ...(specular !== 1 ? (['specular'] as const) : []),
    ...(occlusion > 0 ? (['occlusion'] as const) : []),
    ...(fog ? (['depth'] as const) : []),
  ];
}

/**
 * Beauty with its parts mixed anew, as a new array. What the render has no pass for stays as it is. Fog by the law of
 * Lambert and Beer: c e^(−σ d) + fog (1 − e^(−σ d)), with σ = ln 2 / half.
 * @param planeOf values of a pass, or null. @param alpha coverage where light is premultiplied.
 * @param exposure stops of the grade: fog has its colour after them.
 */
export function mixBeauty(
  beauty: Float32Array,
  planeOf: (id: PassId) => Float32Array | null,
  mix: Mix,
  exposure: number,
  alpha: Float32Array | null,
): Float32Array {
  const out = beauty.slice();
  const addPart = (id: 'diffuse' | 'specular', share: number): void => {
    const part = share === 1 ? null : planeOf(id);
    if (part) for (let i = 0; i < out.length; i++) out[i] = Math.max(0, out[i]! + (share - 1) * part[i]!);
  };
  addPart('diffuse', mix.diffuse ?? 1);
  addPart('specular', mix.specular ?? 1);
  const { occlusion = 0, fog } = mix;
  const open = occlusion > 0 ? planeOf('occlusion') : null;
  if (open)
    for (let i = 0; i < open.length; i++) {
      const k = 1 - occlusion * (1 - Math.min(1, open[i]!));
      for (let c = 0; c < 3; c++) out[i * 3 + c]! *= k;
    }
  const depth = fog ? planeOf('depth') : null;
  if (fog && depth) {
    const scale = EXPOSURE * 2 ** exposure;
    const light = parseHex(fog.colour).map((c) => c / scale) as Rgb;
    const sigma = Math.LN2 / fog.half;
    for (let i = 0; i < depth.length; i++) {
      const d = depth[i]!;
      if (!(d < FARTHEST)) continue;
      const left = Math.exp(-sigma * Math.max(0, d - fog.start));
      const cover = alpha ? alpha[i]! : 1;
      for (let c = 0; c < 3; c++) out[i * 3 + c] = out[i * 3 + c]! * left + light[c]! * (1 - left) * cover;
    }
  }
  return out;
}

/** Light with lines of this colour over it. @param cover share of each pixel that lines cover. */
export function compositeLines(colour: Float32Array, cover: Float32Array, line: Rgb): Float32Array {
  const out = colour.slice();
  for (let i = 0; i < cover.length; i++) {
    const k = cover[i]!;
    if (k > 0) for (let c = 0; c < 3; c++) out[i * 3 + c] = colour[i * 3 + c]! + (line[c]! - colour[i * 3 + c]!) * k;
  }
  return out;
}
