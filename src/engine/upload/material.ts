/** Materials and textures in kernel memory. */
import * as L from '../../../kernel/layout.js';
import { COLOUR_SLOTS, type Material, MAPPINGS, TEXTURE_SLOTS } from '../../core/materials/material.js';
import { glassEnergy } from './energyCompensation.js';
import { cryptomatteHash, writeF32, writeU32, type Views } from './memoryViews.js';

/** Glass rougher than this scatters; smoother is a mirror and bends rays as one. */
const FROSTED_FROM = 0.03;

/** Bytes that one material takes, its texture uses and glass table included. */
export const MATERIAL_STRIDE = L.MATERIAL_BYTES + L.SLOTS * L.USE_BYTES + 2 * L.GLASS_CELLS * 4;

/** Where textures and the tables that decode their bytes lie. */
export interface TextureAddresses {
  records: number;
  colour: number;
  linear: number;
}

/** Writes a material into FINISH_ROOM bytes at `at`. */
export function writeMaterial(views: Views, at: number, f: Material, textures: TextureAddresses): void {
  const floats: [number, ArrayLike<number>][] = [
    [L.MATERIAL_BASE, f.base],
    [L.MATERIAL_ALPHA, [f.alpha, f.metalness, f.roughness, f.transmission, f.ior, f.specular]],
    [L.MATERIAL_SPECULAR_COLOUR, f.specularColour],
    [L.MATERIAL_EMISSION, f.emission],
    [L.MATERIAL_COAT, [f.coat, f.coatRoughness]],
    [L.MATERIAL_SHEEN, f.sheen],
    [L.MATERIAL_SHEEN_ROUGHNESS, [f.sheenRoughness, f.anisotropy, Math.cos(f.anisotropyAngle), Math.sin(f.anisotropyAngle)]],
    [L.MATERIAL_ABSORPTION, f.absorption],
    [L.MATERIAL_TRANSLUCENCY, [f.translucency, ...f.translucentColour]],
    [L.MATERIAL_CUTOFF, [f.cutoff, f.normalScale, f.occlusion]],
    [L.MATERIAL_COAT_NORMAL_SCALE, [f.coatNormalScale]],
  ];
  for (const [offset, values] of floats) writeF32(views, at + offset, values);
  writeU32(views, at + L.MATERIAL_ALPHA_MODE, { opaque: 0, mask: 1, blend: 2 }[f.alphaMode]);
  writeU32(views, at + L.MATERIAL_MATTE_ID, cryptomatteHash(f.name));
  const uses = at + L.MATERIAL_BYTES;
  TEXTURE_SLOTS.forEach((slot, i) => {
    const use = f.textures[slot];
    const place = uses + i * L.USE_BYTES;
    writeU32(views, at + L.MATERIAL_TEXTURES + i * 4, use ? place : 0);
    if (!use) return;
    writeU32(views, place + L.USE_TEXTURE, textures.records + use.texture * L.TEXTURE_BYTES);
    writeU32(views, place + L.USE_LUT, COLOUR_SLOTS.includes(slot) ? textures.colour : textures.linear);
    writeF32(views, place + L.USE_MATRIX, use.matrix);
    writeU32(views, place + L.USE_MAPPING, MAPPINGS.indexOf(use.mapping));
  });
  const frosted = f.transmission > 0 && (f.roughness > FROSTED_FROM || (f.textures.metalRough !== undefined && f.roughness > 0));
  const table = uses + L.SLOTS * L.USE_BYTES;
  writeU32(views, at + L.MATERIAL_GLASS, table);
  if (frosted) writeF32(views, table, glassEnergy(f.roughness, f.ior, f.thin));
  writeU32(
    views,
    at + L.MATERIAL_FLAGS,
    (f.thin ? L.THIN : 0) |
      (f.unlit ? L.UNLIT : 0) |
      (Object.keys(f.textures).length > 0 ? L.TEXTURED : 0) |
      (f.coat > 0 || Math.max(...f.sheen) > 0 ? L.LAYERED : 0) |
      (frosted ? L.FROSTED : 0),
  );
}
