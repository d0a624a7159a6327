/** Trees of three.js with the textures that their materials name. */
import type { Object3D } from 'three';
import type { SourceFile } from '../format.js';
import { loadCompanionTextures } from '../image/companionTextures.js';
import type { ModelBuilder } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { addThree, textureAddresses } from './fromThree.js';

/**
 * Adds an object with all below it to the parent part, with the textures of its base colours; tells what was lost.
 * @param companions files that were given beside the model.
 * @param inside textures that were in it, by the addresses that the loader saw.
 */
export async function addTextured(
  gather: ModelBuilder,
  root: Object3D,
  parent: number,
  companions: SourceFile[],
  inside: ReadonlyMap<string, SourceFile> = new Map(),
): Promise<void> {
  const addresses = textureAddresses(root);
  const names = addresses.map((a) => inside.get(a)?.name ?? a);
  const textures = await loadCompanionTextures(names, [...companions, ...inside.values()], gather);
  const dropped = addThree(gather, root, parent, (source) => {
    const n = addresses.indexOf(source);
    // One in the file that could not be read was told of already.
    if (n < 0 || (inside.has(source) && textures[n] === null)) return null;
    return { name: names[n]!, texture: textures[n] ?? null };
  });
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
}
