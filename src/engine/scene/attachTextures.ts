/** Puts the pictures of a set's own materials into a compiled scene: their texels behind its image. */
import { textureFilesOf, textureMatrix, type TexturedMaterial } from '../../core/materials/customMaterial.js';
import type { Texture } from '../../core/model/model.js';
import { MAX_TEXELS } from '../../formats/budget.js';
import type { CompiledScene } from './compile.js';

/** The pixels of a texture. */
export type TextureImage = Pick<Texture, 'width' | 'height' | 'pixels'>;

const ALIGN = 64;
const REPEAT = 0;
const CLAMP = 1;

/** Images of materials that no part has are not loaded. `load` rejects with a sentence where a file is not there. */
export async function attachTextures(scene: CompiledScene, load: (file: string) => Promise<TextureImage>): Promise<CompiledScene> {
  const inUse = new Set(scene.parts.flatMap((p) => p.primitives.map((q) => q.material)));
  const pictured = scene.materials.map((f, i): TexturedMaterial | null => (inUse.has(i) && (f as TexturedMaterial).textureFiles?.length ? f : null));
  const files = textureFilesOf(pictured.filter((f) => f !== null));
  if (files.length === 0) return scene;
  const loaded: TextureImage[] = [];
  let texels = 0;
  // One after another, so that no more of them than may be are ever in memory.
  for (const file of files) {
    const picture = await load(file);
    texels += picture.width * picture.height;
    if (texels > MAX_TEXELS)
      throw new Error(
        `The textures of the set's own materials have more than ${MAX_TEXELS.toLocaleString('en')} texels together, which is the most. Import smaller ones in the Model step.`,
      );
    loaded.push(picture);
  }
  const first = scene.textures.length;
  const { image, textures } = withTextures(scene, loaded, REPEAT);
  const materials = scene.materials.map((material, i) => {
    const pictures = pictured[i]?.textureFiles;
    if (!pictures) return material;
    const own = Object.fromEntries(
      pictures.map((p) => {
        const k = files.indexOf(p.file);
        return [p.slot, { texture: first + k, matrix: textureMatrix(p, loaded[k]!), mapping: p.mapping }];
      }),
    );
    return { ...material, textures: { ...material.textures, ...own } };
  });
  return { ...scene, image, materials, textures };
}

/** The scene with a picture behind everything. */
export function attachBackdrop(scene: CompiledScene, picture: TextureImage): CompiledScene {
  return { ...scene, ...withTextures(scene, [picture], CLAMP), backdrop: scene.textures.length };
}

/** The scene's image and textures with more of them behind. */
function withTextures(scene: CompiledScene, pictures: TextureImage[], wrap: number): Pick<CompiledScene, 'image' | 'textures'> {
  let end = scene.image.length;
  const starts = pictures.map((p) => {
    const at = Math.ceil(end / ALIGN) * ALIGN;
    end = at + p.pixels.length;
    return at;
  });
  const image = new Uint8Array(end);
  image.set(scene.image);
  pictures.forEach((p, i) => image.set(p.pixels, starts[i]));
  const textures = pictures.map(({ width, height }, i) => ({ width, height, texels: starts[i]!, wrapU: wrap, wrapV: wrap }));
  return { image, textures: [...scene.textures, ...textures] };
}
