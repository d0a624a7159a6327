/**
 * Where the representations of a STEP file stand in the whole: placed by relationships with a transformation, as assemblies have
 * them, and by mapped items (ISO 10303-43, "item_defined_transformation", "mapped_item"). All in metres, with the file's axes.
 */
import { mat4 } from 'gl-matrix';
import { identity } from '../../core/math/matrix.js';
import type { Curves } from '../part21/curves.js';
import { isRef, type Part21, refsIn, sizeOfUnit, type Value } from '../part21/part21.js';

/** Files at fault could place a thing more often than anybody can look at. */
const MAX_PLACEMENTS = 50_000;

const refOf = (v: Value | undefined): number => (isRef(v) ? v.ref : -1);

/** Where the parts of an assembly stand. */
export class AssemblyTransforms {
  /** Metres in the unit of each representation. */
  private readonly metres = new Map<number, number>();
  /** Representations that stand in the same space are one; this leads from each to the one that stands for all. */
  private readonly same = new Map<number, number>();
  private readonly above = new Map<number, { to: number; move: mat4 }[]>();
  /** Representation by the item that it holds. */
  private readonly holder = new Map<number, number>();

  constructor(
    private readonly file: Part21,
    private readonly curves: Curves,
  ) {
    const shapeOf = new Map<number, number>();
    const moved: { child: number; parent: number; map: number; related: number }[] = [];
    const mapped: number[] = [];
    const related = new Map<number, number>();
    for (const id of file.ids()) {
      const all = file.all(id);
      const named = (type: string) => all.find((e) => e.type === type)?.args;
      const representation = all.find((e) => e.type.endsWith('REPRESENTATION') && e.args.length === 3 && Array.isArray(e.args[1]))?.args;
      if (representation) {
        for (const item of refsIn(representation[1])) this.holder.set(item, id);
        this.metres.set(id, this.unitOf(refOf(representation[2])));
      }
      const relation = named('REPRESENTATION_RELATIONSHIP') ?? named('SHAPE_REPRESENTATION_RELATIONSHIP');
      if (relation && relation.length >= 4) {
        const map = named('REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION');
        const [child, parent] = [refOf(relation[2]), refOf(relation[3])];
        if (map) moved.push({ child, parent, map: refOf(map[0]), related: id });
        else this.join(child, parent);
      }
      if (named('MAPPED_ITEM')) mapped.push(id);
      const definition = named('SHAPE_DEFINITION_REPRESENTATION');
      if (definition) shapeOf.set(refOf(file.get(refOf(definition[0]))?.args[2]), refOf(definition[1]));
      const occurrence = named('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION');
      if (occurrence) related.set(refOf(occurrence[0]), refOf(file.get(refOf(file.get(refOf(occurrence[1]))?.args[2]))?.args[4]));
    }
    for (const { child, parent, map, related: id } of moved) {
      const [, , first, second] = file.get(map)?.args ?? [];
      // The component comes first by recommended practice; where the occurrence says otherwise, it is believed.
      const shape = shapeOf.get(related.get(id) ?? -1);
      const turned = shape !== undefined && this.root(shape) === this.root(parent) && this.root(shape) !== this.root(child);
      if (turned) this.place(parent, child, second, first);
      else this.place(child, parent, first, second);
    }
    for (const id of mapped) {
      const [, map, target] = file.get(id)!.args;
      const [origin, child] = file.get(refOf(map))?.args ?? [];
      this.place(refOf(child), this.holder.get(id) ?? -1, origin, target);
    }
  }

  /** Metres in the unit of length of a context; 1 where it does not say. */
  private unitOf(context: number): number {
    for (const { type, args } of this.file.all(context)) {
      if (type !== 'GLOBAL_UNIT_ASSIGNED_CONTEXT') continue;
      for (const unit of refsIn(args[0])) {
        const found = sizeOfUnit(this.file, unit);
        if (found?.quantity === 'length') return found.size;
      }
    }
    return 1;
  }

  private root(id: number): number {
    let at = id;
    for (let next = this.same.get(at); next !== undefined; next = this.same.get(at)) at = next;
    return at;
  }

  private join(a: number, b: number): void {
    const [x, y] = [this.root(a), this.root(b)];
    if (x !== y) this.same.set(x, y);
  }

  /** Puts `child` into `parent` so that the one frame comes to lie on the other. */
  private place(child: number, parent: number, from: Value | undefined, to: Value | undefined): void {
    if (child < 0 || parent < 0) return;
    const frame = (v: Value | undefined, representation: number): mat4 => {
      const m = this.curves.placement(v);
      const metre = this.metres.get(representation) ?? 1;
      for (const k of [12, 13, 14]) m[k] = m[k]! * metre;
      return m;
    };
    const back = mat4.invert(identity(), frame(from, child));
    if (!back) return;
    const at = this.root(child);
    const list = this.above.get(at) ?? [];
    if (list.length === 0) this.above.set(at, list);
    list.push({ to: parent, move: mat4.multiply(identity(), frame(to, parent), back) });
  }

  /** Metres in the unit of the representation that holds an item. */
  metreOf(item: number): number {
    return this.metres.get(this.holder.get(item) ?? -1) ?? [...this.metres.values()][0] ?? 1;
  }

  /** Every place at which an item stands in the whole, in metres; one, the whole's own, of what hangs nowhere. */
  of(item: number): mat4[] {
    const holder = this.holder.get(item);
    if (holder === undefined) return [identity()];
    const out: mat4[] = [];
    const way = new Set<number>();
    const rise = (id: number, move: mat4): void => {
      const at = this.root(id);
      // What is placed in itself is nowhere; without this, the ways round would double at every turn.
      if (way.has(at) || out.length >= MAX_PLACEMENTS) return;
      way.add(at);
      const above = this.above.get(at);
      if (!above) out.push(move);
      else for (const a of above) rise(a.to, mat4.multiply(identity(), a.move, move));
      way.delete(at);
    };
    rise(holder, identity());
    return out;
  }
}
