/** What a surface is made of: metallic-roughness as in glTF 2.0 with its ratified extensions. */
import type { Rgb } from '../units/colour.js';

/** An image on a surface. */
export interface Texture {
  name: string;
  width: number;
  height: number;
  /** 8 bits a channel and alpha, rows from the top. Colours are sRGB, all else is linear: the slot says which. */
  pixels: Uint8Array;
  wrapU: 'repeat' | 'clamp' | 'mirror';
  wrapV: 'repeat' | 'clamp' | 'mirror';
}

/** What a texture can steer, in the order of the kernel's slots; colours are decoded from sRGB. */
export const TEXTURE_SLOTS = [
  'base',
  'metalRough',
  'normal',
  'occlusion',
  'emission',
  'transmission',
  'coat',
  'sheen',
  'specular',
  'specularColour',
  'coatRoughness',
  'sheenRoughness',
  'anisotropy',
  'translucency',
  'translucentColour',
  'coatNormal',
] as const;
/** One of {@link TEXTURE_SLOTS}. */
export type TextureSlot = (typeof TEXTURE_SLOTS)[number];
/** Slots whose images are colours, in sRGB; all others hold plain values. */
export const COLOUR_SLOTS: readonly TextureSlot[] = ['base', 'emission', 'sheen', 'specularColour', 'translucentColour'];

/**
 * Where a texture's coordinates come from, in the order of the kernel's: the mesh's first or second set, or a box around
 * the part whose six sides show one texture a metre.
 */
export const MAPPINGS = ['first', 'second', 'box'] as const;
/** One of {@link MAPPINGS}. */
export type Mapping = (typeof MAPPINGS)[number];

/** How a material uses a texture. */
export interface TextureUse {
  /** Index into the model's textures. */
  texture: number;
  /** Two rows: u' = m0 u + m1 v + m2, v' = m3 u + m4 v + m5 (KHR_texture_transform). */
  matrix: [number, number, number, number, number, number];
  mapping: Mapping;
}

/** Leaves texture coordinates as they are. */
export const IDENTITY_UV: TextureUse['matrix'] = [1, 0, 0, 0, 1, 0];

/** Factors are 0..1 and colours linear Rec. 709 unless said; textures multiply factors. */
export interface Material {
  name: string;
  base: Rgb;
  alpha: number;
  alphaMode: 'opaque' | 'mask' | 'blend';
  /** Alpha below it is nothing, with the mask. */
  cutoff: number;
  metalness: number;
  roughness: number;
  /** Share of light that enters: glass. */
  transmission: number;
  /** Refractive index, 1 or more. */
  ior: number;
  /** A sheet without thickness, that does not bend light. */
  thin: boolean;
  /** What a solid body absorbs, a metre. */
  absorption: Rgb;
  /** Weight and colour of the highlight of what is not metal. */
  specular: number;
  specularColour: Rgb;
  /** Radiance. */
  emission: Rgb;
  /** Clear coat. */
  coat: number;
  coatRoughness: number;
  /** Black: none. */
  sheen: Rgb;
  sheenRoughness: number;
  anisotropy: number;
  /** Radians from the tangent, counterclockwise. */
  anisotropyAngle: number;
  /** Share of diffuse light that passes to the other side: lampshade, paper, leaf. */
  translucency: number;
  translucentColour: Rgb;
  /** Shows its colour whatever the light. */
  unlit: boolean;
  normalScale: number;
  /** Of the coat's own normal texture; without one the coat lies smoothly over a bent surface. */
  coatNormalScale: number;
  /** Strength of the occlusion texture, used in quick pictures: traced ones compute it. */
  occlusion: number;
  textures: Partial<Record<TextureSlot, TextureUse>>;
}

/** What parts without a material are made of. */
export const DEFAULT_MATERIAL: Material = {
  name: 'Plain grey',
  base: [0.6, 0.6, 0.6],
  alpha: 1,
  alphaMode: 'opaque',
  cutoff: 0.5,
  metalness: 0,
  roughness: 0.6,
  transmission: 0,
  ior: 1.5,
  thin: false,
  absorption: [0, 0, 0],
  specular: 1,
  specularColour: [1, 1, 1],
  emission: [0, 0, 0],
  coat: 0,
  coatRoughness: 0,
  sheen: [0, 0, 0],
  sheenRoughness: 0,
  anisotropy: 0,
  anisotropyAngle: 0,
  translucency: 0,
  translucentColour: [1, 1, 1],
  unlit: false,
  normalScale: 1,
  coatNormalScale: 1,
  occlusion: 1,
  textures: {},
};

/** Whether light gets through to what stands behind: such a surface dims a shadow instead of casting one. */
export function isTransmissive(material: Material): boolean {
  return material.transmission > 0 || material.alphaMode !== 'opaque';
}

/** Beer and Lambert: absorption a metre of a body that shows `colour` after `distance` metres. */
export function absorptionOf(colour: Rgb, distance: number): Rgb {
  if (!(distance > 0) || !Number.isFinite(distance)) return [0, 0, 0];
  return colour.map((c) => -Math.log(Math.max(c, 1e-6)) / distance) as Rgb;
}
