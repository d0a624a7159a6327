/** Reads 3MF through three's loader. The format states its unit (millimetres where it says nothing), and that +Z is up. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { ThreeMFLoader } from 'three/examples/jsm/loaders/3MFLoader.js';
import type { Model } from '../../core/model/model.js';
import { ModelError, type SourceFile } from '../format.js';
import { ModelBuilder, Z_UP } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { withDomShim } from '../scene/domShim.js';
import { addThree } from '../scene/fromThree.js';
import { openZip } from '../scene/zip.js';

/** 3MF Core Specification 1.3, 3.4: the units of a model. */
const UNITS: Record<string, number> = { micron: 1e-6, millimeter: 1e-3, centimeter: 0.01, inch: 0.0254, foot: 0.3048, meter: 1 };

/** Reads a model. @throws where the archive holds no model. */
export async function read(file: SourceFile): Promise<Model> {
  const models = openZip(file, (name) => /\.model$/i.test(name));
  const [main] = Object.values(models);
  if (!main) throw new ModelError(`"${file.name}" holds no 3MF model; export it again.`);
  const unit = /<model\b[^>]*\bunit\s*=\s*"([a-z]+)"/.exec(new TextDecoder().decode(main.subarray(0, 65_536)))?.[1] ?? 'millimeter';
  const scale = UNITS[unit];
  if (scale === undefined) throw new ModelError(`"${file.name}" is drawn in "${unit}", which is not a unit of 3MF; export it in millimetres.`);
  const group = withDomShim(() => new ThreeMFLoader().parse(file.bytes.slice().buffer));
  if (!group) throw new ModelError(`"${file.name}" could not be read as 3MF; export it again.`);
  const gather = new ModelBuilder();
  const root = gather.part(fileStem(file.name), -1, { place: { ...Z_UP, scale: [scale, scale, scale] } });
  const dropped = addThree(gather, group, root);
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  return gather.model(file.name);
}
