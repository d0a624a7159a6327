/** Reads Collada 1.4 and 1.5 through three's loader. The format states unit and up axis. */
import { fileStem } from '../../core/model/fileExtensions.js';
import type { Mesh, Object3D } from 'three';
import { ColladaLoader } from 'three/examples/jsm/loaders/ColladaLoader.js';
import type { Model } from '../../core/model/model.js';
import { ModelError, type SourceFile, textOf } from '../format.js';
import { ModelBuilder, decomposeMatrix } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { loadCompanionTextures } from '../image/companionTextures.js';
import { listNames } from '../report.js';
import { withDomShim } from '../scene/domShim.js';
import { addThree } from '../scene/fromThree.js';
import { normalizeCollada, type XmlDocument } from './normalize.js';

/**
 * Takes materials of which nothing would be seen for opaque, and returns their names. By the letter of COLLADA 1.4.1 (A_ONE, the
 * default) a transparency of 0 is wholly clear; old exporters write it for what is opaque.
 */
function mendOpacity(scene: Object3D): string[] {
  const mended = new Set<string>();
  scene.traverse((object) => {
    for (const material of [(object as Partial<Mesh>).material ?? []].flat()) {
      if (material.opacity > 0) continue;
      material.opacity = 1;
      mended.add(material.name || 'unnamed');
    }
  });
  return [...mended];
}

/** Reads a model with the images that were given beside it. @throws where the file is cut off or no Collada. */
export async function read(file: SourceFile, companions: SourceFile[]): Promise<Model> {
  const text = textOf(file.bytes);
  if (!/<\/COLLADA>\s*$/.test(text)) throw new ModelError(`"${file.name}" is cut short: its last element does not end. Export or copy it again.`);
  let addresses: string[] = [];
  const made = withDomShim(
    () => new ColladaLoader().parse(text, ''),
    (document) => {
      addresses = normalizeCollada(document as XmlDocument);
    },
  );
  if (!made?.scene) throw new ModelError(`"${file.name}" holds no scene; export it again.`);
  const gather = new ModelBuilder();
  const { scene } = made;
  scene.updateMatrix();
  const place = decomposeMatrix(scene.matrix.elements);
  if (!place) throw new ModelError(`"${file.name}" states a unit that is not a length; export it again.`);
  // Unit and axis are in the scene's own matrix.
  const root = gather.part(fileStem(file.name), -1, { place });
  const mended = mendOpacity(scene);
  if (mended.length > 0) gather.warnings.add(`Clear by the letter of the file, and taken for opaque: ${listNames(mended)}.`);
  const textures = await loadCompanionTextures(addresses, companions, gather);
  const dropped = addThree(gather, scene, root, (source) => {
    const n = Number(/picture-(\d+)\.png$/.exec(source)?.[1] ?? NaN);
    return addresses[n] === undefined ? null : { name: addresses[n], texture: textures[n] ?? null };
  });
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  return gather.model(file.name);
}
