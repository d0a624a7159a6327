/** Reads Collada 1.4 and 1.5 through three's loader. The format states unit and up axis. */
import { ColladaLoader } from 'three/examples/jsm/loaders/ColladaLoader.js';
import { type Model } from '../../core/model/model.js';
import { type ModelFormat, ModelError, type SourceFile } from '../format.js';
import { Gatherer, placeOf } from '../gather.js';
import { droppedWarning } from '../normals.js';
import { withDom } from '../scene/dom.js';
import { addThree } from '../scene/fromThree.js';

async function read(file: SourceFile): Promise<Model> {
  const text = new TextDecoder().decode(file.bytes);
  if (!/<\/COLLADA>\s*$/.test(text)) throw new ModelError(`"${file.name}" is cut short: its last element does not end. Export or copy it again.`);
  const made = withDom(() => new ColladaLoader().parse(text, ''));
  if (!made?.scene) throw new ModelError(`"${file.name}" holds no scene; export it again.`);
  const gather = new Gatherer();
  const { scene } = made;
  scene.updateMatrix();
  // Unit and axis are in the scene's own matrix.
  const root = gather.part(file.name.replace(/\.[^.]+$/, ''), -1, { place: placeOf(scene.matrix.elements)! });
  const dropped = addThree(gather, scene, root);
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  return gather.model(file.name);
}

export const collada: ModelFormat = {
  id: 'collada',
  label: 'a Collada model',
  extensions: ['dae'],
  statesUnits: true,
  sniff: ({ bytes }) => /<COLLADA\b/.test(new TextDecoder().decode(bytes.subarray(0, 4096))),
  read,
};
