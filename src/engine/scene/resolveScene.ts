/** A scene as a frame has it: with its materials, and with the picture that lights it, whose tables lie in kernel memory too. */
import { hashOf } from '../../core/base/hash.js';
import type { Frame } from '../../core/frame/frame.js';
import type { CompiledScene } from './compile.js';
import { applyMaterials } from './applyMaterials.js';
import type { EnvironmentMap } from './environmentMap.js';
import { type TextureImage, attachBackdrop, attachTextures } from './attachTextures.js';
import { transformScene } from './transformScene.js';

/** Where scenes and pictures come from. */
export interface AssetProvider {
  /** Content hash of the scene. */
  hash: string;
  scene(): Promise<CompiledScene> | CompiledScene;
  /** The kernel, for what is built beside the scene. */
  module(): Promise<WebAssembly.Module> | WebAssembly.Module;
  /** The picture on a material. Throws where there is none. */
  texture(file: string): Promise<TextureImage>;
  /** The picture that a stage names by `id`. Throws where there is none. */
  picture(id: string): Promise<Omit<EnvironmentMap, 'id'>>;
}

/** What a pool needs to render the frame: the key that tells loaded scenes apart, and how to load. */
export function resolveScene(frame: Frame, source: AssetProvider): { key: string; load: () => Promise<CompiledScene> } {
  const { materials: assignments, transform: place } = frame;
  const image = frame.stage.sky ? undefined : frame.stage.image;
  const behind = frame.stage.picture;
  return {
    key: [source.hash, assignments?.id, place && hashOf(place), image?.id, behind && `behind ${behind}`].filter((id) => id !== undefined).join('+'),
    load: async () => {
      const scene = await source.scene();
      const assigned = assignments ? await attachTextures(applyMaterials(scene, assignments), (file) => source.texture(file)) : scene;
      const placed = place ? transformScene(await source.module(), assigned, place, assignments?.materials) : assigned;
      const backed = behind ? attachBackdrop(placed, await source.texture(behind)) : placed;
      return image ? { ...backed, environment: { id: image.id, ...(await source.picture(image.id)) } } : backed;
    },
  };
}
