/** A scene as a frame has it: dressed, and with the picture that lights it, whose tables lie in kernel memory too. */
import { hashOf } from '../core/plan/hash.js';
import { type Frame } from '../core/plan/frame.js';
import { type CompiledScene } from './compile.js';
import { dressScene } from './dress.js';
import { type SurroundImage } from './image.js';
import { type TexturePicture, withBackdrop, withPictures } from './pictures.js';
import { placeScene } from './place.js';

/** Where scenes and pictures come from. */
export interface SceneSource {
  /** Content hash of the scene. */
  hash: string;
  scene(): Promise<CompiledScene> | CompiledScene;
  /** The kernel, for what is built beside the scene. */
  module(): Promise<WebAssembly.Module> | WebAssembly.Module;
  /** The picture on a finish. Throws where there is none. */
  texture(file: string): Promise<TexturePicture>;
  /** The picture that a stage names by `id`. Throws where there is none. */
  picture(id: string): Promise<Omit<SurroundImage, 'id'>>;
}

/** What a pool needs to render the frame: the key that tells loaded scenes apart, and how to load. */
export function sceneOf(frame: Frame, source: SceneSource): { key: string; load: () => Promise<CompiledScene> } {
  const { dressing, place } = frame;
  const image = frame.stage.sky ? undefined : frame.stage.image;
  const behind = frame.stage.picture;
  return {
    key: [source.hash, dressing?.id, place && hashOf(place), image?.id, behind && `behind ${behind}`].filter((id) => id !== undefined).join('+'),
    load: async () => {
      const scene = await source.scene();
      const dressed = dressing ? await withPictures(dressScene(scene, dressing), (file) => source.texture(file)) : scene;
      const placed = place ? placeScene(await source.module(), dressed, place, dressing?.finishes) : dressed;
      const backed = behind ? withBackdrop(placed, await source.texture(behind)) : placed;
      return image ? { ...backed, surround: { id: image.id, ...(await source.picture(image.id)) } } : backed;
    },
  };
}
