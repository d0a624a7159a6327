/**
 * Lines of a mesh: edges where it folds sharply or ends, and edges that may be its outline from
 * somewhere. Vertices that lie on each other count as one, whatever their normals.
 */

/** Edges of a mesh that may have to be drawn. */
export interface Edges {
  /** Six numbers an edge: both ends. */
  ends: Float32Array;
  /** Six numbers an edge: unit normals of its two faces; the first twice at an open edge. */
  normals: Float32Array;
  /** 1 where the edge is always a line, 0 where only as an outline. */
  always: Uint8Array;
}

/** Faces that meet at a larger angle make a line. */
const CREASE_DEGREES = 30;

/** Finds the edges of triangles. Faces without area are left out. */
export function edgesOf(positions: Float32Array, indices: Uint32Array): Edges {
  const place = new Map<string, number>();
  const canonical = new Uint32Array(positions.length / 3);
  for (let v = 0; v < canonical.length; v++) {
    const key = `${positions[v * 3]},${positions[v * 3 + 1]},${positions[v * 3 + 2]}`;
    const known = place.get(key);
    if (known === undefined) place.set(key, v);
    canonical[v] = known ?? v;
  }
  const faces = indices.length / 3;
  const normal = new Float32Array(faces * 3);
  const edges = new Map<number, number[]>();
  for (let f = 0; f < faces; f++) {
    const [a, b, c] = [0, 1, 2].map((k) => canonical[indices[f * 3 + k]!]!) as [number, number, number];
    const p = (v: number, k: number): number => positions[v * 3 + k]!;
    const [ux, uy, uz] = [0, 1, 2].map((k) => p(b, k) - p(a, k)) as [number, number, number];
    const [vx, vy, vz] = [0, 1, 2].map((k) => p(c, k) - p(a, k)) as [number, number, number];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const n = Math.hypot(nx, ny, nz);
    if (!(n > 0)) continue;
    normal.set([nx / n, ny / n, nz / n], f * 3);
    for (const [x, y] of [
      [a, b],
      [b, c],
      [c, a],
    ] as const) {
      const key = Math.min(x, y) * canonical.length + Math.max(x, y);
      const list = edges.get(key);
      if (list) list.push(f);
      else edges.set(key, [f]);
    }
  }
  const sharp = Math.cos((CREASE_DEGREES * Math.PI) / 180);
  const out = { ends: new Float32Array(edges.size * 6), normals: new Float32Array(edges.size * 6), always: new Uint8Array(edges.size) };
  let count = 0;
  for (const [key, list] of edges) {
    const [x, y] = [Math.floor(key / canonical.length), key % canonical.length];
    const [f, g] = [list[0]!, list[1] ?? list[0]!];
    const dot = normal[f * 3]! * normal[g * 3]! + normal[f * 3 + 1]! * normal[g * 3 + 1]! + normal[f * 3 + 2]! * normal[g * 3 + 2]!;
    // Faces in one plane make no line from anywhere.
    if (list.length === 2 && dot > 1 - 1e-7) continue;
    out.ends.set(positions.subarray(x * 3, x * 3 + 3), count * 6);
    out.ends.set(positions.subarray(y * 3, y * 3 + 3), count * 6 + 3);
    out.normals.set(normal.subarray(f * 3, f * 3 + 3), count * 6);
    out.normals.set(normal.subarray(g * 3, g * 3 + 3), count * 6 + 3);
    out.always[count] = list.length !== 2 || dot < sharp ? 1 : 0;
    count++;
  }
  return { ends: out.ends.slice(0, count * 6), normals: out.normals.slice(0, count * 6), always: out.always.slice(0, count) };
}
