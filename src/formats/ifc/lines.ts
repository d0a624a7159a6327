/**
 * Curves of an IFC file: annotations, axes, footprints, grids. The library for its solids leaves them out,
 * so they are read from the text, in the places that their elements have.
 */
import { mat4, vec3 } from 'gl-matrix';
import type { Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import { Curves, polylinePoints } from '../part21/curves.js';
import { isRef, type Part21, refsIn, sizeOfUnit, type Value } from '../part21/part21.js';

/** Lines of an element that has no faces. */
export interface IfcLines {
  /** Number of the element that they belong to. */
  element: number;
  name: string;
  /** Both ends of every piece, six numbers each, in metres with +Z up, in the world. */
  points: number[];
}

const KINDS = /^(Curve|Curve2D|Curve3D|GeometricCurveSet|GeometricSet|Annotation2D|MappedRepresentation)$/i;
const DEEPEST = 64;

class Finder {
  private readonly curves: Curves;
  private readonly metre: number;

  constructor(private readonly file: Part21) {
    let [metre, radian] = [1, 1];
    for (const id of file.of('IFCUNITASSIGNMENT')) {
      for (const unit of refsIn(file.get(id)?.args[0])) {
        const found = sizeOfUnit(file, unit);
        if (found?.quantity === 'length') metre = found.size;
        if (found?.quantity === 'angle') radian = found.size;
      }
    }
    this.metre = metre;
    this.curves = new Curves(file, radian);
  }

  /** Where an element stands: its placement in that of what it stands in, up to the world. */
  private place(v: Value | undefined, depth = 0): mat4 {
    const e = isRef(v) ? this.file.get(v.ref) : null;
    if (e?.type !== 'IFCLOCALPLACEMENT' || depth > DEEPEST) return identity();
    return mat4.multiply(identity(), this.place(e.args[0], depth + 1), this.curves.placement(e.args[1]));
  }

  /** Pieces of a representation's items, moved. */
  private items(representation: number, at: mat4, depth = 0): number[] {
    const e = this.file.get(representation);
    if (e?.type !== 'IFCSHAPEREPRESENTATION' || !KINDS.test(String(e.args[2])) || depth > 8) return [];
    return refsIn(e.args[3]).flatMap((id) => {
      const item = this.file.get(id);
      if (item?.type === 'IFCMAPPEDITEM' && isRef(item.args[0])) {
        const map = this.file.get(item.args[0].ref);
        if (!map || !isRef(map.args[1])) return [];
        const inner = mat4.multiply(identity(), this.curves.operator(item.args[1]), this.curves.placement(map.args[0]));
        return this.items(map.args[1].ref, mat4.multiply(identity(), at, inner), depth + 1);
      }
      const points = polylinePoints(this.curves.chains(id));
      for (let i = 0; i < points.length; i += 3) {
        const p = vec3.transformMat4([0, 0, 0], points.slice(i, i + 3) as Vec3, at);
        for (let k = 0; k < 3; k++) points[i + k] = p[k]! * this.metre;
      }
      return points;
    });
  }

  find(): IfcLines[] {
    // Whatever has a shape refers to one of these by its seventh value, and to its placement by its sixth.
    const shapes = new Set(this.file.of('IFCPRODUCTDEFINITIONSHAPE'));
    const wanted = new Set([...shapes].filter((id) => refsIn(this.file.get(id)?.args[2]).some((r) => this.hasCurves(r))));
    if (wanted.size === 0) return [];
    const out: IfcLines[] = [];
    for (const id of this.file.ids()) {
      const e = this.file.get(id);
      const shape = e?.args[6];
      if (!e || !isRef(shape) || !wanted.has(shape.ref)) continue;
      const at = this.place(e.args[5]);
      for (const representation of refsIn(this.file.get(shape.ref)!.args[2])) {
        const points = this.items(representation, at);
        const word = this.file.get(representation)?.args[1];
        if (points.length > 0) out.push({ element: id, name: typeof word === 'string' && word ? word : 'Lines', points });
      }
    }
    return out;
  }

  private hasCurves(representation: number): boolean {
    return KINDS.test(String(this.file.get(representation)?.args[2]));
  }
}

/** Lines of every element that has any. Throws nothing: what cannot be read is not there. */
export function ifcLines(file: Part21): IfcLines[] {
  return new Finder(file).find();
}
