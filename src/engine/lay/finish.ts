/** Finishes and textures in kernel memory. */
import * as L from '../../../kernel/layout.js';
import { COLOUR_SLOTS, type Finish, MAPPINGS, TEXTURE_SLOTS } from '../../core/model/finish.js';
import { glassEnergy } from '../energy.js';
import { labelOf, putFloats, putWord, type Views } from './views.js';

/** Glass rougher than this scatters; smoother is a mirror and bends rays as one. */
const FROSTED_FROM = 0.03;

/** Bytes that one finish takes, its texture uses and glass table included. */
export const FINISH_ROOM = L.FINISH_BYTES + L.SLOTS * L.USE_BYTES + 2 * L.GLASS_CELLS * 4;

/** Where textures and the tables that decode their bytes lie. */
export interface TexturePlaces {
  records: number;
  colour: number;
  linear: number;
}

/** Writes a finish into FINISH_ROOM bytes at `at`. */
export function layFinish(views: Views, at: number, f: Finish, textures: TexturePlaces): void {
  const floats: [number, ArrayLike<number>][] = [
    [L.FINISH_BASE, f.base],
    [L.FINISH_ALPHA, [f.alpha, f.metalness, f.roughness, f.transmission, f.ior, f.specular]],
    [L.FINISH_SPECULAR_COLOUR, f.specularColour],
    [L.FINISH_EMISSION, f.emission],
    [L.FINISH_COAT, [f.coat, f.coatRoughness]],
    [L.FINISH_SHEEN, f.sheen],
    [L.FINISH_SHEEN_ROUGHNESS, [f.sheenRoughness, f.anisotropy, Math.cos(f.anisotropyAngle), Math.sin(f.anisotropyAngle)]],
    [L.FINISH_ABSORPTION, f.absorption],
    [L.FINISH_TRANSLUCENCY, [f.translucency, ...f.translucentColour]],
    [L.FINISH_CUTOFF, [f.cutoff, f.normalScale, f.occlusion]],
    [L.FINISH_COAT_NORMAL_SCALE, [f.coatNormalScale]],
  ];
  for (const [offset, values] of floats) putFloats(views, at + offset, values);
  putWord(views, at + L.FINISH_ALPHA_MODE, { opaque: 0, mask: 1, blend: 2 }[f.alphaMode]);
  putWord(views, at + L.FINISH_LABEL, labelOf(f.name));
  const uses = at + L.FINISH_BYTES;
  TEXTURE_SLOTS.forEach((slot, i) => {
    const use = f.textures[slot];
    const place = uses + i * L.USE_BYTES;
    putWord(views, at + L.FINISH_TEXTURES + i * 4, use ? place : 0);
    if (!use) return;
    putWord(views, place + L.USE_TEXTURE, textures.records + use.texture * L.TEXTURE_BYTES);
    putWord(views, place + L.USE_LUT, COLOUR_SLOTS.includes(slot) ? textures.colour : textures.linear);
    putFloats(views, place + L.USE_MATRIX, use.matrix);
    putWord(views, place + L.USE_MAPPING, MAPPINGS.indexOf(use.mapping));
  });
  const frosted = f.transmission > 0 && (f.roughness > FROSTED_FROM || (f.textures.metalRough !== undefined && f.roughness > 0));
  const table = uses + L.SLOTS * L.USE_BYTES;
  putWord(views, at + L.FINISH_GLASS, table);
  if (frosted) putFloats(views, table, glassEnergy(f.roughness, f.ior, f.thin));
  putWord(
    views,
    at + L.FINISH_FLAGS,
    (f.thin ? L.THIN : 0) |
      (f.unlit ? L.UNLIT : 0) |
      (Object.keys(f.textures).length > 0 ? L.TEXTURED : 0) |
      (f.coat > 0 || Math.max(...f.sheen) > 0 ? L.LAYERED : 0) |
      (frosted ? L.FROSTED : 0),
  );
}
