/** Lines, strips and fans of glTF as what the model keeps: single pieces and single triangles. */
import type { Primitive } from '@gltf-transform/core';

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
