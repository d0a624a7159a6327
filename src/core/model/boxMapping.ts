/** Texture coordinates by a box around a part, one unit a metre: each side shows the picture upright. kernel/intersect/intersectionData.ts does the same for traced pictures. */
import type { Mesh } from './model.js';

/** Cube root of what a matrix (16 numbers, column-major) does to a volume: metres a unit of the part. */
export function sizeOfMatrix(m: ArrayLike<number>): number {
  const [a, b, c] = [0, 4, 8].map((i) => [m[i]!, m[i + 1]!, m[i + 2]!]) as [number[], number[], number[]];
  const across = [b[1]! * c[2]! - b[2]! * c[1]!, b[2]! * c[0]! - b[0]! * c[2]!, b[0]! * c[1]! - b[1]! * c[0]!];
  return Math.cbrt(Math.abs(a[0]! * across[0]! + a[1]! * across[1]! + a[2]! * across[2]!));
}

/**
 * The mesh with coordinates by a box: the side is that which each triangle faces most, so triangles share no
 * vertices any more. `size` is metres a unit of the mesh.
 */
export function boxMapped({ positions, indices, normals, colours }: Mesh, size: number): Mesh {
  const count = indices.length;
  const spread = (list: Float32Array): Float32Array => {
    const out = new Float32Array(count * 3);
    indices.forEach((v, i) => {
      for (let k = 0; k < 3; k++) out[i * 3 + k] = list[v * 3 + k]!;
    });
    return out;
  };
  const p = spread(positions);
  const uvs = new Float32Array(count * 2);
  for (let i = 0; i + 2 < count; i += 3) {
    const o = i * 3;
    const [ux, uy, uz] = [p[o + 3]! - p[o]!, p[o + 4]! - p[o + 1]!, p[o + 5]! - p[o + 2]!];
    const [vx, vy, vz] = [p[o + 6]! - p[o]!, p[o + 7]! - p[o + 1]!, p[o + 8]! - p[o + 2]!];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const [ax, ay, az] = [Math.abs(nx), Math.abs(ny), Math.abs(nz)];
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = [p[o + k * 3]!, p[o + k * 3 + 1]!, p[o + k * 3 + 2]!];
      const [u, v] = ay >= ax && ay >= az ? [x, ny < 0 ? -z : z] : ax >= az ? [nx < 0 ? z : -z, -y] : [nz < 0 ? -x : x, -y];
      uvs[(i + k) * 2] = u * size;
      uvs[(i + k) * 2 + 1] = v * size;
    }
  }
  return {
    positions: p,
    indices: Uint32Array.from({ length: count }, (_, i) => i),
    uvs,
    ...(normals && { normals: spread(normals) }),
    ...(colours && { colours: spread(colours) }),
  };
}
