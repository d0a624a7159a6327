/** Custom materials: every value that the engine knows of a surface, and textures that affect them. */
import * as z from 'zod';
import { absorptionOf, DEFAULT_MATERIAL, type Material, MAPPINGS, TEXTURE_SLOTS, type TextureUse } from './material.js';
import { hexSchema, parseHex, type Rgb } from '../units/colour.js';

/** Name of a material. */
export const materialNameSchema = z.string().min(1).max(120);
const fractionSchema = z.number().min(0).max(1);

/** What a texture affects. */
export const CUSTOM_TEXTURE_SLOTS = TEXTURE_SLOTS;

/** A texture on a custom material. */
export const materialTextureSchema = z.strictObject({
  slot: z.enum(CUSTOM_TEXTURE_SLOTS),
  /** Beside the set file; the application keeps it by content hash. */
  file: z.string().min(1).max(200),
  /** By a box: metres that one picture is wide. By the model's coordinates: units of them. */
  scale: z.number().min(1e-6).max(1e6).default(1),
  /** Degrees counterclockwise. */
  rotation: z.number().min(-360).max(360).default(0),
  /** Shares of the picture, to the right and down. */
  offset: z.tuple([z.number().min(-1e4).max(1e4), z.number().min(-1e4).max(1e4)]).default([0, 0]),
  mapping: z.enum(MAPPINGS).default('box'),
});

/** What {@link materialTextureSchema} reads. */
export type MaterialTexture = z.infer<typeof materialTextureSchema>;

/** A custom material. */
export const customMaterialSchema = z.strictObject({
  name: materialNameSchema,
  colour: hexSchema,
  metalness: fractionSchema.default(0),
  roughness: fractionSchema.default(0.5),
  /** Share of light that enters, as glass. */
  transmission: fractionSchema.default(0),
  /** A pane without thickness. */
  thin: z.boolean().default(false),
  ior: z.number().min(1).max(4).default(1.5),
  coat: fractionSchema.default(0),
  coatRoughness: fractionSchema.default(0.1),
  /** Share of diffuse light that passes, as through paper. */
  translucency: fractionSchema.default(0),
  /** Of what passes; the colour of the surface is multiplied. */
  translucentColour: hexSchema.optional(),
  /** Strength of the light it gives, in its own colour or in another. */
  glow: z.number().min(0).max(10_000).default(0),
  glowColour: hexSchema.optional(),
  /** A body of it shows this colour after so many metres (Beer and Lambert). */
  tint: z.strictObject({ colour: hexSchema, depth: z.number().min(1e-5).max(1e4) }).optional(),
  /** Weight and colour of the highlight of what is not metal. */
  specular: fractionSchema.optional(),
  specularColour: hexSchema.optional(),
  /** The shimmer of cloth: its colour, black for none. */
  sheen: hexSchema.optional(),
  sheenRoughness: fractionSchema.optional(),
  /** Brushed: how much, and degrees of the brushing from the tangent, counterclockwise. */
  anisotropy: fractionSchema.optional(),
  anisotropyAngle: z.number().min(-360).max(360).optional(),
  /** How much there is of it: less shows what stands behind. */
  opacity: fractionSchema.optional(),
  /** Nothing is there where the picture's alpha is below this. */
  cutoff: fractionSchema.optional(),
  /** Shows its colour whatever the light. */
  unlit: z.boolean().optional(),
  /** Strength of normal pictures. */
  normalScale: z.number().min(-10).max(10).optional(),
  coatNormalScale: z.number().min(-10).max(10).optional(),
  /** Strength of an occlusion picture, which quick pictures use. */
  occlusion: fractionSchema.optional(),
  /** Multiply what the numbers say; of each slot one. */
  textureFiles: z
    .array(materialTextureSchema)
    .max(CUSTOM_TEXTURE_SLOTS.length)
    .refine((p) => new Set(p.map((x) => x.slot)).size === p.length, 'There are two textures of that kind.')
    .optional(),
});

/** What {@link customMaterialSchema} reads. */
export type CustomMaterial = z.infer<typeof customMaterialSchema>;

/** A material with the pictures that are still to be loaded. */
export type TexturedMaterial = Material & { textureFiles?: MaterialTexture[] };

/** The material with all that is not said filled in as is usual. */
export function toMaterial(own: CustomMaterial): TexturedMaterial {
  // What is not said must not stand in the way of what is usual.
  const said = Object.fromEntries(Object.entries(own).filter(([, v]) => v !== undefined)) as CustomMaterial;
  const { colour, glow, glowColour, tint, translucentColour, specularColour, sheen, anisotropyAngle, opacity, cutoff, ...values } = said;
  const base = parseHex(colour);
  const glows = glowColour === undefined ? base : parseHex(glowColour);
  return {
    ...DEFAULT_MATERIAL,
    ...values,
    base,
    emission: glows.map((c) => c * glow) as Rgb,
    ...(tint && { absorption: absorptionOf(parseHex(tint.colour), tint.depth) }),
    ...(translucentColour !== undefined && { translucentColour: parseHex(translucentColour) }),
    ...(specularColour !== undefined && { specularColour: parseHex(specularColour) }),
    ...(sheen !== undefined && { sheen: parseHex(sheen) }),
    ...(anisotropyAngle !== undefined && { anisotropyAngle: (anisotropyAngle * Math.PI) / 180 }),
    ...(opacity !== undefined && opacity < 1 && { alpha: opacity, alphaMode: 'blend' }),
    ...(cutoff !== undefined && { cutoff, alphaMode: 'mask' }),
  };
}

/**
 * Where a picture lies: u' = R (u, v) / scale + offset, turned about the corner. By a box it keeps its shape;
 * by the model's coordinates it fills their unit, as those have it.
 */
export function textureMatrix({ scale, rotation, offset, mapping }: MaterialTexture, size: { width: number; height: number }): TextureUse['matrix'] {
  const [c, s] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  const tall = mapping === 'box' ? size.width / size.height : 1;
  // v goes down, so that counterclockwise in the picture is this way round.
  return [c / scale, -s / scale, offset[0], (s * tall) / scale, (c * tall) / scale, offset[1]].map(Math.fround) as TextureUse['matrix'];
}

/** Files of the textures that assigned materials need. */
export function textureFilesOf(materials: readonly TexturedMaterial[]): string[] {
  return [...new Set(materials.flatMap((f) => (f.textureFiles ?? []).map((p) => p.file)))];
}
