/** Reads USDA, USDC and USDZ as far as three's loader goes. The format states unit and up axis. */
import { USDLoader } from 'three/examples/jsm/loaders/USDLoader.js';
import type { Model } from '../../core/model/model.js';
import { ModelError, type SourceFile } from '../format.js';
import { ModelBuilder, decomposeMatrix } from '../modelBuilder.js';
import { droppedWarning } from '../normals.js';
import { withDomShim } from '../scene/domShim.js';
import { addThree } from '../scene/fromThree.js';
import { isZip, openZip } from '../scene/zip.js';

/** Reads a model. @throws where the file cannot be read, with the reason. */
export async function read(file: SourceFile): Promise<Model> {
  // Unpacked only to see that it can be.
  if (isZip(file.bytes)) openZip(file, () => false);
  const group = withDomShim(() => new USDLoader().parse(file.bytes.slice().buffer));
  if (!group) throw new ModelError(`"${file.name}" could not be read as USD; export it again, with the geometry in it.`);
  const gather = new ModelBuilder();
  group.updateMatrix();
  const root = gather.part(file.name.replace(/\.[^.]+$/, ''), -1, { place: decomposeMatrix(group.matrix.elements)! });
  const dropped = addThree(gather, group, root);
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  return gather.model(file.name);
}
