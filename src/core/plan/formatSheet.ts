/** The format sheet: what every shot of a set shares. */
import {
  MIN_SIDE,
  MAX_SIDE,
  MAX_PIXELS,
  MAX_WHOLE_PIXELS,
  qualitySchema,
  sizeSchema,
  rateSchema,
  filesSchema,
  passesSchema,
  shutterSchema,
  type Overrides,
} from '../frame/settings.js';
import { FRAMINGS } from '../camera/framing.js';
import { lineStyleSchema } from '../image/lineStyle.js';
import * as z from 'zod';
import { hasAlpha, passOf } from '../image/passes.js';
import type { FileFormat } from '../frame/frame.js';
import { patternProblem } from './fileNames.js';
import { idSchema } from '../camera/view.js';

const extraSizeSchema = z
  .strictObject({
    id: idSchema,
    width: z.int().min(MIN_SIDE).max(MAX_SIDE),
    height: z.int().min(MIN_SIDE).max(MAX_SIDE),
    framing: z.enum(FRAMINGS).default('fitSubject'),
  })
  .refine((s) => s.width * s.height <= MAX_PIXELS, `At most ${Math.floor(MAX_PIXELS / 1e6)} million pixels; make width or height smaller.`);
/** What {@link extraSizeSchema} reads. */
export type ExtraSize = z.infer<typeof extraSizeSchema>;

const pattern = (moving: boolean): z.ZodString =>
  z
    .string()
    .max(200)
    .superRefine((text, context) => {
      const message = patternProblem(text, moving);
      if (message) context.addIssue({ code: 'custom', message });
    });

/** What a resolution on paper may be, in pixels an inch. */
export const MIN_DPI = 20;
/** Dots per inch at most. */
export const MAX_DPI = 2400;

/** What all shots of a set share, where they do not say otherwise. */
export const formatSheetSchema = z.strictObject({
  size: sizeSchema.default({ width: 1920, height: 1080 }),
  pixelAspect: z.number().min(0.25).max(4).default(1),
  /** Pixels an inch that the files tell a printer; nothing where absent. */
  dpi: z.number().min(MIN_DPI).max(MAX_DPI).optional(),
  rate: rateSchema.default('24'),
  /** Every shot is made in these sizes too. */
  sizes: z.array(extraSizeSchema).max(12).optional(),
  files: filesSchema.default([{ type: 'png', bits: 8 }]),
  passes: passesSchema.default(['beauty']),
  /** The backdrop is left out, and the files have alpha. */
  alpha: z.boolean().default(false),
  /** The model's lines over the picture: width in pixels, colour as #rrggbb. */
  lines: lineStyleSchema.optional(),
  /** Shutter angle in degrees of the frame's time; 0 no motion blur. */
  shutter: shutterSchema.default(0),
  quality: qualitySchema.default('review'),
  names: z
    .strictObject({
      still: pattern(false).default('{set}/{shot}/{view}_{pass}'),
      moving: pattern(true).default('{set}/{shot}/{shot}_{pass}.{frame:4}'),
    })
    .default({ still: '{set}/{shot}/{view}_{pass}', moving: '{set}/{shot}/{shot}_{pass}.{frame:4}' }),
  firstNumber: z.int().min(0).max(1_000_000).default(1),
});

/** What {@link formatSheetSchema} reads. */
export type FormatSheet = z.infer<typeof formatSheetSchema>;

/** The sheet as a shot takes it. */
export function effectiveSettings(sheet: FormatSheet, shot: { overrides?: Overrides }): FormatSheet {
  return shot.overrides ? { ...sheet, ...Object.fromEntries(Object.entries(shot.overrides).filter(([, v]) => v !== undefined)) } : sheet;
}

/** Names of the sheet's fields that a shot takes otherwise: those that differ, not those that are repeated. */
export function overriddenFields(sheet: FormatSheet, shot: { overrides?: Overrides }): (keyof Overrides)[] {
  return (Object.keys(shot.overrides ?? {}) as (keyof Overrides)[]).filter(
    (k) => shot.overrides![k] !== undefined && JSON.stringify(shot.overrides![k]) !== JSON.stringify(sheet[k]),
  );
}

/** File types with what their settings mean where they are not said. */
export function fileFormats(sheet: FormatSheet): FileFormat[] {
  return sheet.files.map((f) => ({
    type: f.type,
    bits: 'bits' in f ? f.bits : f.type === 'hdr' ? 32 : 8,
    quality: 'quality' in f ? f.quality : 100,
    ...(f.type === 'png' && f.compression !== undefined && { level: f.compression }),
    ...(f.type === 'exr' && f.compression && { exrCompression: f.compression }),
    ...(f.type === 'exr' && f.split && { exrSplit: f.split }),
    ...(f.type === 'tiff' && f.compression && { tiffCompression: f.compression }),
    ...(f.type === 'webp' && f.lossless && { lossless: true as const }),
    ...(f.type === 'jpeg' && f.chroma && { chroma: f.chroma }),
    ...(sheet.dpi !== undefined && { dpi: sheet.dpi }),
  }));
}

/** Why files and passes do not go together, or null. */
export function validateOutputs(
  sheet: Pick<FormatSheet, 'files' | 'alpha' | 'passes' | 'quality'> & Partial<Pick<FormatSheet, 'size' | 'sizes'>>,
): string | null {
  const largest = [sheet.size, ...(sheet.sizes ?? [])].find((s) => s && s.width * s.height > MAX_WHOLE_PIXELS);
  if (largest && typeof sheet.quality === 'object' && sheet.quality.seconds > 0)
    return `${largest.width} × ${largest.height} is rendered in strips, which have no time limit together; set the limit to 0 and choose samples or a noise level.`;
  const opaque = sheet.files.find((f) => f.type === 'jpeg' || f.type === 'hdr');
  const clear = sheet.passes.filter((p) => hasAlpha(p));
  if (opaque && (sheet.alpha || clear.length > 0)) {
    const way = clear.length > 0 ? `remove the pass ${clear.map((p) => passOf(p).label).join(', ')}` : 'switch alpha off';
    return `${opaque.type === 'jpeg' ? 'JPEG' : 'Radiance HDR'} has no alpha; choose another type, or ${way}.`;
  }
  if (sheet.files.some((f) => f.type === 'tiff' && f.bits === 32 && f.compression === 'lzw'))
    return 'TIFF of floats has no LZW; choose Deflate or no compression.';
  const numbers = sheet.passes.filter((p) => passOf(p).data);
  if (numbers.length > 0 && sheet.files.some((f) => f.type === 'hdr'))
    return `Radiance HDR holds light alone, and no ${numbers.map((p) => passOf(p).label).join(', ')}; choose OpenEXR, or remove the pass.`;
  const light = sheet.passes.filter((p) => (passOf(p).needs === 'light' || passOf(p).needs === 'apart') && p !== 'occlusion' && p !== 'position');
  if (sheet.quality === 'quick' && light.length > 0)
    return `A quick render is not traced, so it has no ${light.map((p) => passOf(p).label).join(', ')}; choose draft or better, or remove the pass.`;
  return null;
}
