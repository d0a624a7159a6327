/** Curves that stand in a STEP file beside its solids: sets of curves and wireframes (ISO 10303-42), which the library for solids leaves out. */
import { type mat4, vec3 } from 'gl-matrix';
import { Curves, polylinePoints } from '../part21/curves.js';
import { Part21, refsIn, sizeOfUnit } from '../part21/part21.js';
import { AssemblyTransforms } from './assembly.js';
import type { Wires } from './wire.js';

const SETS = ['GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET', 'EDGE_BASED_WIREFRAME_MODEL'];

/** Radians in the file's unit of angles. */
function radianOf(file: Part21): number {
  for (const id of file.ids()) {
    for (const { type, args } of file.all(id)) {
      if (type !== 'GLOBAL_UNIT_ASSIGNED_CONTEXT') continue;
      for (const unit of refsIn(args[0])) {
        const found = sizeOfUnit(file, unit);
        if (found?.quantity === 'angle') return found.size;
      }
    }
  }
  return 1;
}

function moved(points: number[], metre: number, place: mat4): number[] {
  const out: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    out.push(...vec3.transformMat4([0, 0, 0], [points[i]! * metre, points[i + 1]! * metre, points[i + 2]! * metre], place));
  }
  return out;
}

/** Lines in metres with the file's axes, a list for every place where a set stands. Throws nothing: what cannot be read is not there. */
export function stepWires(text: string): Wires {
  const file = new Part21(text);
  const sets = SETS.flatMap((type) => file.of(type));
  if (sets.length === 0) return { lists: [], leftOut: 0 };
  const curves = new Curves(file, radianOf(file));
  const places = new AssemblyTransforms(file, curves);
  const lists = sets.flatMap((id) => {
    const wireframe = file.get(id)!.type === 'EDGE_BASED_WIREFRAME_MODEL';
    const points = polylinePoints(wireframe ? refsIn(file.get(id)!.args[1]).flatMap((set) => curves.chains(set)) : curves.chains(id));
    return points.length > 0 ? places.of(id).map((place) => moved(points, places.metreOf(id), place)) : [];
  });
  return { lists, leftOut: 0 };
}
