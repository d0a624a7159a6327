/** A cloud of points as a model: a part for each class, and what is told of it. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { pluralize } from '../../core/base/pluralize.js';
import type { Model } from '../../core/model/model.js';
import type { ModelBuilder } from '../modelBuilder.js';
import type { PointCloud } from './cloud.js';
import { discMesh, type Discs, discsOf } from './discs.js';

/** Diameter in the unit that says it best. */
const sizeOf = (metres: number): string => (metres < 1 ? `${Number((metres * 1000).toPrecision(2))} mm` : `${Number(metres.toPrecision(2))} m`);

/** How a cloud is drawn, for the report. @param there points of the file. */
export function cloudNote({ cloud, diameter }: Discs, there: number): string {
  const drawn = cloud.positions.length / 3;
  const of = there > drawn ? `${drawn.toLocaleString('en')} of ${pluralize(there, 'point')}, spread evenly` : pluralize(drawn, 'point');
  return `${of}, drawn as discs ${sizeOf(diameter)} across.`;
}

/**
 * Builds the model of a cloud. What is thinned and how large its discs are is told in the report.
 * @param nameOf of a class, where points have classes.
 */
export function cloudModel(gather: ModelBuilder, name: string, all: PointCloud, nameOf: (kind: number) => string): Model {
  const discs = discsOf(all);
  const { positions, classes, colours } = discs.cloud;
  const [there, drawn] = [all.positions.length / 3, positions.length / 3];
  gather.warnings.add(cloudNote(discs, there));
  const material = gather.material('points', () =>
    colours ? { name: 'Colours of the points', base: [1, 1, 1], roughness: 1 } : { name: 'Plain grey', roughness: 1 },
  );
  const root = gather.part(fileStem(name));
  const kinds = new Map<number, number[]>();
  for (let i = 0; i < drawn; i++) {
    const kind = classes?.[i] ?? 0;
    const list = kinds.get(kind);
    if (list) list.push(i);
    else kinds.set(kind, [i]);
  }
  const ordered = [...kinds].sort(([a], [b]) => a - b);
  for (const [kind, numbers] of ordered) {
    const part = ordered.length > 1 ? gather.part(nameOf(kind), root) : root;
    gather.parts[part]!.primitives.push({ mesh: gather.mesh(discMesh(discs, Uint32Array.from(numbers))), material });
  }
  return gather.model(name);
}
