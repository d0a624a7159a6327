/** Welding and normals of triangles that come one by one. */
import { DamageError } from './format.js';
import type { BufferGeometry, BufferAttribute } from 'three';
import { mergeVertices, toCreasedNormals } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Mesh } from '../core/model/model.js';

/** Edges that bend more than this stay sharp, in degrees. */
export const CREASE_ANGLE = 35;

/** Area of a triangle, below which it is dropped, beside the square of the mesh's extent. */
const MIN_AREA = 1e-14;

/** The triangles that have an area, and how many have none; all of them as they were where each has one. */
export function dropDegenerate(positions: Float32Array, indices: Uint32Array): { indices: Uint32Array; dropped: number } {
  let extent = 0;
  for (let axis = 0; axis < 3; axis++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = axis; i < positions.length; i += 3) {
      low = Math.min(low, positions[i]!);
      high = Math.max(high, positions[i]!);
    }
    extent = Math.max(extent, high - low);
  }
  const least = MIN_AREA * extent ** 2;
  const kept = new Uint32Array(indices.length - (indices.length % 3));
  let n = 0;
  for (let t = 0; t < kept.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ax, ay, az] = [positions[a]!, positions[a + 1]!, positions[a + 2]!];
    const [ux, uy, uz] = [positions[b]! - ax, positions[b + 1]! - ay, positions[b + 2]! - az];
    const [vx, vy, vz] = [positions[c]! - ax, positions[c + 1]! - ay, positions[c + 2]! - az];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    // What is no number is kept: that is not for here to judge.
    if (nx * nx + ny * ny + nz * nz <= least * least) continue;
    kept[n++] = indices[t]!;
    kept[n++] = indices[t + 1]!;
    kept[n++] = indices[t + 2]!;
  }
  const dropped = (kept.length - n) / 3;
  return { indices: dropped === 0 ? kept : kept.slice(0, n), dropped };
}

/**
 * A mesh of a geometry: vertices that are the same are one, triangles without area are left out and
 * counted, and normals are made by the crease angle where they are missing or where `own` says so.
 */
export function meshOf(geometry: BufferGeometry, { creased = false } = {}): { mesh: Mesh; dropped: number } {
  let g = geometry;
  const places = geometry.getAttribute('position');
  // Welding would make all of these one, and the triangles would be gone without a word.
  for (let i = 0; i < places.count; i++)
    if (!Number.isFinite(places.getX(i) + places.getY(i) + places.getZ(i))) throw new DamageError('it has a coordinate that is not a number');
  if (creased || !g.getAttribute('normal')) {
    // Welded by place alone, so that neighbours are found.
    g = g.clone();
    for (const name of Object.keys(g.attributes)) if (!['position', 'uv', 'color'].includes(name)) g.deleteAttribute(name);
    g = toCreasedNormals(mergeVertices(g, 0), (CREASE_ANGLE * Math.PI) / 180);
  }
  for (const name of Object.keys(g.attributes)) if (!['position', 'normal', 'uv', 'color'].includes(name)) g.deleteAttribute(name);
  g = mergeVertices(g, 0);
  const list = (name: string): Float32Array | undefined => {
    const a = g.getAttribute(name) as BufferAttribute | undefined;
    if (!a) return undefined;
    const size = name === 'uv' ? 2 : 3;
    const out = new Float32Array(a.count * size);
    for (let i = 0; i < a.count; i++) for (let k = 0; k < size; k++) out[i * size + k] = a.getComponent(i, k);
    return out;
  };
  const positions = list('position')!;
  const index = g.getIndex()!;
  const { indices, dropped } = dropDegenerate(
    positions,
    Uint32Array.from({ length: index.count }, (_, i) => index.getX(i)),
  );
  const mesh: Mesh = { positions, indices };
  const [normals, uvs, colours] = [list('normal'), list('uv'), list('color')];
  if (normals) mesh.normals = normals;
  if (uvs) {
    // Loaders count v upwards, glTF downwards.
    for (let i = 1; i < uvs.length; i += 2) uvs[i] = 1 - uvs[i]!;
    mesh.uvs = uvs;
  }
  if (colours) mesh.colours = colours;
  return { mesh, dropped };
}

/** What the import report says of triangles that were left out. */
export function droppedWarning(dropped: number): string {
  return `${dropped} ${dropped === 1 ? 'triangle' : 'triangles'} without area ${dropped === 1 ? 'was' : 'were'} left out.`;
}
