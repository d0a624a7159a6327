/** What primitives of glTF hold, as what the model keeps: plain numbers, single pieces and single triangles. */
import type { Accessor, Primitive } from '@gltf-transform/core';

/** A copy of an accessor's numbers, normalized ones as fractions. */
export function numbersOf(accessor: Accessor): Float32Array {
  const plain = accessor.getArray();
  // What is plain numbers already, and mostly is, needs no conversion one by one.
  if (plain instanceof Float32Array && !accessor.getNormalized()) return new Float32Array(plain);
  const size = accessor.getElementSize();
  const out = new Float32Array(accessor.getCount() * size);
  for (let i = 0, element: number[] = []; i < accessor.getCount(); i++) out.set(accessor.getElement(i, element), i * size);
  return out;
}

/** Lines, loops and strips as single pieces, six numbers each. */
export function polylinePoints(primitive: Primitive): number[] {
  const position = primitive.getAttribute('POSITION')!;
  const listed = primitive.getIndices()?.getArray();
  const order = listed ? Array.from(listed as Uint32Array) : Array.from({ length: position.getCount() }, (_, i) => i);
  const mode = primitive.getMode();
  if (mode === 2 && order.length > 1) order.push(order[0]!);
  const out: number[] = [];
  for (let i = 0; i + 1 < order.length; i += mode === 1 ? 2 : 1) {
    for (const v of [order[i]!, order[i + 1]!]) out.push(...position.getElement(v, [] as number[]).slice(0, 3));
  }
  return out;
}

/** Strips and fans as single triangles. */
export function unroll(indices: Uint32Array, strip: boolean): Uint32Array {
  const out: number[] = [];
  for (let i = 0; i + 2 < indices.length; i++) {
    if (strip) out.push(indices[i]!, indices[i + 1 + (i % 2)]!, indices[i + 2 - (i % 2)]!);
    else out.push(indices[0]!, indices[i + 1]!, indices[i + 2]!);
  }
  return Uint32Array.from(out);
}
