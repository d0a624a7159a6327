/** Welding and normals of triangles that come one by one. */
import type { BufferGeometry, BufferAttribute } from 'three';
import { mergeVertices, toCreasedNormals } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Mesh } from '../core/model/model.js';
import { dropDegenerate } from './degenerate.js';
import { DamageError } from './format.js';

/** Edges that bend more than this stay sharp, in degrees. */
export const CREASE_ANGLE = 35;

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
