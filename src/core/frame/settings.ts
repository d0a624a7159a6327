/** What a frame can be asked for: size, quality, files, passes. */
import { CHROMA, EXR_SPLITS, TIFF_COMPRESSIONS } from '../image/fileTypes.js';
import * as z from 'zod';
import { parseRate } from '../units/rate.js';
import { PASS_IDS } from '../image/passes.js';
import { EXR_COMPRESSIONS, FILTERS, type Sampling } from './frame.js';

/** Pixels that a frame's side has at least. */
export const MIN_SIDE = 16;

/** Pixels that a frame's side has at most. */
export const MAX_SIDE = 16_384;

/** A1 at 300 dpi has 70 million. What is made of a frame in the end is held in memory, at least 24 bytes a pixel. */
export const MAX_PIXELS = 100_000_000;

/** Larger frames are rendered in strips on any machine: their film and the denoiser's planes would take 170 to 280 bytes a pixel. */
export const MAX_WHOLE_PIXELS = 2 ** 25;

/** Samples a pixel of each level. Quick is shaded, the others are path traced. */
export const QUALITY_LEVELS = { quick: 4, draft: 16, review: 64, final: 256 } as const;

/** A key of {@link QUALITY_LEVELS}. */
export type QualityLevel = keyof typeof QUALITY_LEVELS;

/** Where a quick picture is as even as this after two samples, two more would not be seen. */
const QUICK_NOISE = 0.02;

const DEFAULT_SAMPLING = {
  mode: 'traced' as Sampling['mode'],
  bounces: 6,
  refractionDepth: 12,
  denoise: true,
  fireflyClamp: 4,
  noise: 0,
  seconds: 0,
  caustics: false,
  filter: { kind: 'gauss', width: 2 } as Sampling['filter'],
};

/** A custom quality: samples a pixel, depths and noise. */
export const customQualitySchema = z.strictObject({
  samples: z.int().min(1).max(65_536),
  depth: z
    .strictObject({
      bounces: z.int().min(1).max(64).default(DEFAULT_SAMPLING.bounces),
      refractionDepth: z.int().min(0).max(64).default(DEFAULT_SAMPLING.refractionDepth),
    })
    .optional(),
  denoise: z.boolean().default(DEFAULT_SAMPLING.denoise),
  fireflyClamp: z.number().min(0).max(1e6).default(DEFAULT_SAMPLING.fireflyClamp),
  /** Mean relative error at which a part of the picture stops before its samples; 0 never. */
  noise: z.number().min(0).max(1).default(DEFAULT_SAMPLING.noise),
  /** Seconds after which a picture is taken as it is; 0 never. */
  seconds: z.number().min(0).max(604_800).default(DEFAULT_SAMPLING.seconds),
  caustics: z.boolean().default(DEFAULT_SAMPLING.caustics),
  /** Reconstruction filter, its width in pixels. */
  filter: z.strictObject({ kind: z.enum(FILTERS), width: z.number().min(0.1).max(8) }).default(DEFAULT_SAMPLING.filter),
});

/** What {@link customQualitySchema} reads. */
export type CustomQuality = z.infer<typeof customQualitySchema>;

/** A named level of quality, or a custom one. */
export const qualitySchema = z.union([z.enum(['quick', 'draft', 'review', 'final']), customQualitySchema]);

/** What {@link qualitySchema} reads. */
export type Quality = z.infer<typeof qualitySchema>;

/** Pixels of a frame, limited by its sides and by their product. */
export const sizeSchema = z
  .strictObject({ width: z.int().min(MIN_SIDE).max(MAX_SIDE), height: z.int().min(MIN_SIDE).max(MAX_SIDE) })
  .refine((s) => s.width * s.height <= MAX_PIXELS, `At most ${Math.floor(MAX_PIXELS / 1e6)} million pixels; make width or height smaller.`);

/** A file type with its settings. */
export const fileSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('png'),
    bits: z.union([z.literal(8), z.literal(16)]).default(8),
    /** Level of deflate. */
    compression: z.int().min(0).max(9).optional(),
  }),
  z.strictObject({ type: z.literal('jpeg'), quality: z.int().min(1).max(100).default(92), chroma: z.enum(CHROMA).optional() }),
  z.strictObject({
    type: z.literal('tiff'),
    /** 32: linear light as floats. */
    bits: z.union([z.literal(8), z.literal(16), z.literal(32)]).default(16),
    compression: z.enum(TIFF_COMPRESSIONS).optional(),
  }),
  z.strictObject({ type: z.literal('webp'), quality: z.int().min(1).max(100).default(90), lossless: z.boolean().optional() }),
  z.strictObject({ type: z.literal('avif'), quality: z.int().min(1).max(100).default(80) }),
  z.strictObject({ type: z.literal('bmp') }),
  z.strictObject({
    type: z.literal('exr'),
    bits: z.union([z.literal(16), z.literal(32)]).default(16),
    compression: z.enum(EXR_COMPRESSIONS).optional(),
    /** All passes in one part where absent. */
    split: z.enum(EXR_SPLITS).optional(),
  }),
  /** Radiance: linear light with a common exponent a pixel. */
  z.strictObject({ type: z.literal('hdr') }),
]);

/** Frames per second, as a number or a fraction such as 30000/1001. */
export const rateSchema = z.string().superRefine((text, context) => {
  try {
    parseRate(text);
  } catch (e) {
    context.addIssue({ code: 'custom', message: (e as Error).message });
  }
});

/** File types of a frame, each once. */
export const filesSchema = z
  .array(fileSchema)
  .min(1, 'Choose at least one file type.')
  .refine((f) => new Set(f.map((x) => x.type)).size === f.length, 'A file type is listed twice.');

/** Passes of a frame, each once. */
export const passesSchema = z
  .array(z.enum(PASS_IDS))
  .min(1, 'Choose at least one pass; beauty is the render itself.')
  .refine((p) => new Set(p).size === p.length, 'A pass is listed twice.');

/** Degrees of a rotary shutter: 360 is open for the whole frame, 0 for an instant. */
export const shutterSchema = z.number().min(0).max(360);

/** What a shot may override of the sheet. */
export const overridesSchema = z.strictObject({
  size: sizeSchema.optional(),
  rate: rateSchema.optional(),
  quality: qualitySchema.optional(),
  passes: passesSchema.optional(),
  files: filesSchema.optional(),
  alpha: z.boolean().optional(),
  shutter: shutterSchema.optional(),
});

/** What {@link overridesSchema} reads. */
export type Overrides = z.infer<typeof overridesSchema>;

/** What a quality means. Quick pictures have no paths, so nothing else of it counts there. */
export function resolveSampling(quality: Quality): Sampling {
  if (quality === 'quick') return { ...DEFAULT_SAMPLING, mode: 'quick', samples: QUALITY_LEVELS.quick, noise: QUICK_NOISE };
  if (typeof quality === 'string') return { ...DEFAULT_SAMPLING, samples: QUALITY_LEVELS[quality] };
  const { depth, ...own } = quality;
  return { ...DEFAULT_SAMPLING, ...depth, ...own };
}
