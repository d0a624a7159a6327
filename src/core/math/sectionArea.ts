/** The area that a plane cuts out of solids. */
import type { Vec3 } from './bounds.js';

/** Triangles that enclose a solid. */
export interface SolidMesh {
  /** x y z of each vertex, in the world. */
  positions: ArrayLike<number>;
  indices: ArrayLike<number>;
}

/** The areas of a closed mesh's faces, as vectors, add up to nothing; those of a sheet do not. */
const OPEN = 1e-3;

/** Whether a mesh closes, so that a plane cuts an area out of it. */
export function isClosedMesh({ positions: p, indices }: SolidMesh): boolean {
  const sum: Vec3 = [0, 0, 0];
  let all = 0;
  for (let t = 0; t + 2 < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (let k = 0; k < 3; k++) sum[k]! += n[k]!;
    all += Math.hypot(...n);
  }
  return all > 0 && Math.hypot(...sum) < OPEN * all;
}

/**
 * Square metres that each of the planes n · x = offset cuts out of a closed mesh; n of length 1. By Green's
 * theorem over the pieces in which the plane meets the triangles, each the way round that its triangle faces:
 * they need not be joined to loops. Holes count against what surrounds them.
 */
export function sectionAreas({ positions: p, indices }: SolidMesh, n: Vec3, offsets: readonly number[]): number[] {
  // Heights over the plane through the origin, once a vertex.
  const heights = new Float64Array(p.length / 3);
  for (let i = 0; i < heights.length; i++) heights[i] = n[0] * p[i * 3]! + n[1] * p[i * 3 + 1]! + n[2] * p[i * 3 + 2]!;
  return offsets.map((offset) => {
    let twice = 0;
    for (let t = 0; t + 2 < indices.length; t += 3) {
      // Most triangles are passed by: nothing is made for them.
      const first = heights[indices[t]!]! > offset;
      if (first === heights[indices[t + 1]!]! > offset && first === heights[indices[t + 2]!]! > offset) continue;
      const v = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
      const above = v.map((i) => heights[i]! > offset);
      // The corner that is alone on its side, and the two others in the triangle's order.
      const alone = above[0] === above[1] ? 2 : above[0] === above[2] ? 1 : 0;
      const [a, b, c] = [v[alone]!, v[(alone + 1) % 3]!, v[(alone + 2) % 3]!];
      const point = (to: number): Vec3 => {
        const s = (offset - heights[a]!) / (heights[to]! - heights[a]!);
        return [0, 1, 2].map((k) => p[a * 3 + k]! + s * (p[to * 3 + k]! - p[a * 3 + k]!)) as Vec3;
      };
      const [from, to] = above[alone] ? [point(b), point(c)] : [point(c), point(b)];
      twice += n[0] * (from[1] * to[2] - from[2] * to[1]) + n[1] * (from[2] * to[0] - from[0] * to[2]) + n[2] * (from[0] * to[1] - from[1] * to[0]);
    }
    return Math.abs(twice) / 2;
  });
}
