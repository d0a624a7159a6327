/** Curves that stand in a STEP file beside its solids: sets of curves and wireframes (ISO 10303-42), which the library for solids leaves out. */
import { Curves, piecesOf } from '../part21/curves.js';
import { Part21, refsIn, sizeOfUnit } from '../part21/part21.js';
import { type Wires } from './wire.js';

const SETS = ['GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET', 'EDGE_BASED_WIREFRAME_MODEL'];

/** Lines in metres with the file's axes. Throws nothing: what cannot be read is not there. */
export function stepWires(text: string): Wires {
  const file = new Part21(text);
  const sets = SETS.flatMap((type) => file.of(type));
  if (sets.length === 0) return { lists: [], leftOut: 0 };
  // Components are placed by transforms of whole shapes; curves are not carried along these.
  if (file.of('NEXT_ASSEMBLY_USAGE_OCCURRENCE').length > 0) return { lists: [], leftOut: sets.length };
  let [metre, radian] = [1, 1];
  for (const id of file.ids()) {
    for (const { type, args } of file.all(id)) {
      if (type !== 'GLOBAL_UNIT_ASSIGNED_CONTEXT') continue;
      for (const unit of refsIn(args[0])) {
        const found = sizeOfUnit(file, unit);
        if (found?.quantity === 'length') metre = found.size;
        if (found?.quantity === 'angle') radian = found.size;
      }
    }
  }
  const curves = new Curves(file, radian);
  const lists = sets
    .map((id) => {
      const wireframe = file.get(id)!.type === 'EDGE_BASED_WIREFRAME_MODEL';
      const chains = wireframe ? refsIn(file.get(id)!.args[1]).flatMap((set) => curves.chains(set)) : curves.chains(id);
      return piecesOf(chains).map((v) => v * metre);
    })
    .filter((points) => points.length > 0);
  return { lists, leftOut: 0 };
}
