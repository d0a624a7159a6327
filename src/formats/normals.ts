/** Welding and normals of triangles that come one by one. */
import { type BufferGeometry, type BufferAttribute } from 'three';
import { mergeVertices, toCreasedNormals } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { type Mesh } from '../core/model/model.js';

/** Edges that bend more than this stay sharp, in degrees. */
export const CREASE = 35;

/** Area of a triangle, below which it is dropped, beside the square of the mesh's extent. */
const THIN = 1e-14;

/**
 * A mesh of a geometry: vertices that are the same are one, triangles without area are left out and
 * counted, and normals are made by the crease angle where they are missing or where `own` says so.
 */
export function meshOf(geometry: BufferGeometry, { creased = false } = {}): { mesh: Mesh; dropped: number } {
  let g = geometry;
  const places = geometry.getAttribute('position');
  // Welding would make all of these one, and the triangles would be gone without a word.
  for (let i = 0; i < places.count; i++)
    if (!Number.isFinite(places.getX(i) + places.getY(i) + places.getZ(i))) throw new Error('it has a coordinate that is not a number');
  if (creased || !g.getAttribute('normal')) {
    // Welded by place alone, so that neighbours are found.
    g = g.clone();
    for (const name of Object.keys(g.attributes)) if (!['position', 'uv', 'color'].includes(name)) g.deleteAttribute(name);
    g = toCreasedNormals(mergeVertices(g, 0), (CREASE * Math.PI) / 180);
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
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, positions[i]!);
    high[i % 3] = Math.max(high[i % 3]!, positions[i]!);
  }
  const least = THIN * Math.max(...high.map((h, a) => h - low[a]!)) ** 2;
  const indices: number[] = [];
  let dropped = 0;
  for (let t = 0; t + 2 < index.count; t += 3) {
    const [a, b, c] = [index.getX(t), index.getX(t + 1), index.getX(t + 2)];
    const u = [0, 1, 2].map((k) => positions[b * 3 + k]! - positions[a * 3 + k]!);
    const v = [0, 1, 2].map((k) => positions[c * 3 + k]! - positions[a * 3 + k]!);
    const twice = Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!);
    if (twice > least) indices.push(a, b, c);
    else dropped++;
  }
  const mesh: Mesh = { positions, indices: Uint32Array.from(indices) };
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

export function droppedWarning(dropped: number): string {
  return `${dropped} ${dropped === 1 ? 'triangle' : 'triangles'} without area ${dropped === 1 ? 'was' : 'were'} left out.`;
}
