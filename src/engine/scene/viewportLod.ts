/** A lighter form of a heavy model for the quick viewport; pictures are always of the whole one. */
import type { MeshoptSimplifier } from 'meshoptimizer';
import { type Mesh, type Model, triangleCount } from '../../core/model/model.js';
import { fewerDiscs, isOfDiscs } from './discLod.js';

/** A viewport without a graphics card draws so many in some tenths of a second. */
export const VIEWPORT_TRIANGLES = 250_000;

/** Meshes of fewer triangles are kept: a box cannot be less than a box. */
const SMALL_PART_TRIANGLES = 64;
/** How far surfaces may move, as a share of a mesh's extent, so that a heavy part keeps its shape. */
const MAX_ERROR = 0.02;

/** The mesh with about `share` of its triangles, and no vertices that none of them uses. */
function simplifyMesh(simplifier: typeof MeshoptSimplifier, mesh: Mesh, share: number): Mesh {
  // Edges of loose pieces cannot collapse.
  if (isOfDiscs(mesh)) return fewerDiscs(mesh, Math.ceil((mesh.indices.length / 3) * share));
  const wanted = Math.max(SMALL_PART_TRIANGLES, Math.floor((mesh.indices.length / 3) * share)) * 3;
  const [fewer] = simplifier.simplify(mesh.indices, mesh.positions, 3, wanted, MAX_ERROR);
  if (fewer.length === 0 || fewer.length >= mesh.indices.length) return mesh;
  const number = new Map<number, number>();
  const indices = fewer.map((v) => {
    let at = number.get(v);
    if (at === undefined) number.set(v, (at = number.size));
    return at;
  });
  const kept = [...number.keys()];
  const pick = (list: Float32Array, size: number): Float32Array => {
    const out = new Float32Array(kept.length * size);
    kept.forEach((v, i) => {
      for (let k = 0; k < size; k++) out[i * size + k] = list[v * size + k]!;
    });
    return out;
  };
  return {
    positions: pick(mesh.positions, 3),
    indices,
    ...(mesh.normals && { normals: pick(mesh.normals, 3) }),
    ...(mesh.uvs && { uvs: pick(mesh.uvs, 2) }),
    ...(mesh.secondUvs && { secondUvs: pick(mesh.secondUvs, 2) }),
    ...(mesh.colours && { colours: pick(mesh.colours, 3) }),
  };
}

/**
 * The same parts with fewer triangles, about `most` of them as they are placed; null where there are no more
 * than that. By edge collapse with quadrics (Garland and Heckbert 1997), as the library has it.
 */
export async function reduceModel(model: Model, most = VIEWPORT_TRIANGLES): Promise<Model | null> {
  const placed = triangleCount(model);
  if (placed <= most) return null;
  // Most models are light, and a start takes as long as there is code to read.
  const { MeshoptSimplifier: simplifier } = await import('meshoptimizer');
  await simplifier.ready;
  const share = most / placed;
  return {
    ...model,
    meshes: model.meshes.map((mesh) => (mesh.indices.length / 3 <= SMALL_PART_TRIANGLES ? mesh : simplifyMesh(simplifier, mesh, share))),
  };
}
