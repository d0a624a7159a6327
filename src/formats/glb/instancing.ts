/** EXT_mesh_gpu_instancing: one mesh at many places of one node. */
import type { Node } from '@gltf-transform/core';
import type { InstancedMesh } from '@gltf-transform/extensions';
import { identity } from '../../core/math/matrix.js';
import { IDENTITY_TRS, type Part } from '../../core/model/model.js';

/**
 * Parts for the instances of a node, which share the part's meshes; the part itself has none any more. None where the
 * node has no instances.
 * @param index of the part, under which they hang.
 */
export function instanceParts(node: Node, part: Part, index: number): Part[] {
  const batch = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
  if (!batch) return [];
  const { primitives } = part;
  part.primitives = [];
  const count = batch.listAttributes()[0]?.getCount() ?? 0;
  const of = <T extends number[]>(semantic: string, i: number, fallback: T): T => {
    const accessor = batch.getAttribute(semantic);
    return accessor ? (accessor.getElement(i, [] as number[]) as T) : fallback;
  };
  return Array.from({ length: count }, (_, i) => ({
    ...part,
    name: `${part.name} ${i + 1}`,
    parent: index,
    place: {
      translation: of('TRANSLATION', i, IDENTITY_TRS.translation),
      rotation: of('ROTATION', i, IDENTITY_TRS.rotation),
      scale: of('SCALE', i, IDENTITY_TRS.scale),
    },
    world: identity(),
    primitives,
  }));
}
