/** Pictures of an MTL's materials, as textures of ours. */
import type { Material, Texture, TextureSlot, TextureUse } from '../../core/model/model.js';
import type { SourceFile } from '../format.js';
import { holdsNormals, metalRoughOf, normalsOfHeights, withCutout } from '../image/combineTextures.js';
import { fileOf, loadCompanionTextures, missingTexture } from '../image/companionTextures.js';
import { type MtlMap, readMtlMap } from './text.js';

/** What pictures are read of, and gathered in. */
export interface MapSources {
  companions: SourceFile[];
  textures: Texture[];
  warnings: Set<string>;
}

/** Pictures that are read; the others are named. `bump` and `map_bump` are two words for one thing. */
const READ = ['map_kd', 'map_ke', 'norm', 'map_bump', 'bump', 'map_pr', 'map_pm', 'map_d'] as const;
type MapKey = (typeof READ)[number];

interface ReadMap {
  index: number;
  matrix: TextureUse['matrix'];
  bump: number;
}

/** Turned from v upwards to v downwards, as the coordinates are. */
const matrixOf = ({ scale, offset }: MtlMap): TextureUse['matrix'] => [scale[0], 0, offset[0], 0, scale[1], 1 - scale[1] - offset[1]];

/** Dresses a material in its pictures, and names those that are left out. @param info as the MTL has it, keys in small letters. */
export async function dressInMaps(material: Material, info: Readonly<Record<string, unknown>>, sources: MapSources): Promise<void> {
  const { companions, textures, warnings } = sources;
  const found = new Map<MapKey, ReadMap>();
  for (const key of READ) {
    const said = info[key];
    if (typeof said !== 'string') continue;
    const map = readMtlMap(said);
    const [index] = await loadCompanionTextures([map.file], companions, { textures, warnings });
    if (typeof index === 'number') found.set(key, { index, matrix: matrixOf(map), bump: map.bump });
    else if (!companions.some((f) => fileOf(f.name) === fileOf(map.file)))
      warnings.add(missingTexture(map.file.split(/[\\/]/).pop()!.trim(), material.name, 'OBJ'));
  }
  const left = Object.keys(info).filter((key) => !(READ as readonly string[]).includes(key) && /^(map_|disp$|decal$|refl$)/.test(key));
  if (left.length > 0) warnings.add(`Left out of the material "${material.name}": ${left.join(', ')}.`);
  const imageOf = (key: MapKey): Texture | undefined => textures[found.get(key)?.index ?? -1];
  const uses: Partial<Record<TextureSlot, TextureUse>> = {};
  const use = (slot: TextureSlot, { index, matrix }: Pick<ReadMap, 'index' | 'matrix'>): void =>
    void (uses[slot] = { texture: index, matrix, mapping: 'first' });
  /** Takes an image that was made of others, with the coordinates of the first. */
  const made = (slot: TextureSlot, name: string, image: Pick<Texture, 'width' | 'height' | 'pixels'>, of: ReadMap): void =>
    use(slot, { index: textures.push({ ...textures[of.index]!, ...image, name }) - 1, matrix: of.matrix });
  const differ = (...keys: MapKey[]): boolean => new Set(keys.flatMap((k) => (found.has(k) ? [found.get(k)!.matrix.join()] : []))).size > 1;

  const colour = found.get('map_kd');
  const cutout = found.get('map_d');
  if (cutout) {
    made('base', `${material.name}, cutout`, await withCutout(imageOf('map_kd'), imageOf('map_d')!), colour ?? cutout);
    material.alphaMode = 'blend';
  } else if (colour) use('base', colour);
  if (found.has('map_ke')) use('emission', found.get('map_ke')!);

  const [rough, metal] = [found.get('map_pr'), found.get('map_pm')];
  if (rough || metal) {
    made('metalRough', `${material.name}, roughness and metalness`, await metalRoughOf(imageOf('map_pr'), imageOf('map_pm')), (rough ?? metal)!);
    // The picture says all of it.
    if (rough) material.roughness = 1;
    if (metal) material.metalness = 1;
  }
  const normals = found.get('norm');
  const bump = found.has('map_bump') ? 'map_bump' : 'bump';
  const heights = found.get(bump);
  if (normals) use('normal', normals);
  else if (heights) {
    const image = imageOf(bump)!;
    // Many programs write normals under this name.
    if (holdsNormals(image)) use('normal', heights);
    else made('normal', `${material.name}, relief`, normalsOfHeights(image, heights.bump), heights);
  }
  if (differ('map_kd', 'map_d') || differ('map_pr', 'map_pm'))
    warnings.add(`Textures of the material "${material.name}" are combined; the placement of the first is used for all.`);
  if (Object.keys(uses).length > 0) material.textures = { ...material.textures, ...uses };
}

/** The textures that some material has, numbered anew in the materials: pictures that became one are not kept beside it. */
export function withoutUnused(materials: readonly Material[], textures: readonly Texture[]): Texture[] {
  const kept: Texture[] = [];
  const places = new Map<number, number>();
  const placeOf = (index: number): number => {
    const known = places.get(index) ?? kept.push(textures[index]!) - 1;
    places.set(index, known);
    return known;
  };
  for (const material of materials)
    if (material.textures)
      material.textures = Object.fromEntries(
        Object.entries(material.textures).map(([slot, use]) => [slot, { ...use, texture: placeOf(use.texture) }]),
      );
  return kept;
}
