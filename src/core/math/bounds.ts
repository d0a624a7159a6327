/** Boxes aligned with the axes, in metres. */
import { vec3, type mat4 } from 'gl-matrix';

/** A point or a direction: x, y, z; y is up. */
export type Vec3 = [number, number, number];

/** A box along the axes, metres. Empty where a minimum is above its maximum. */
export interface Bounds {
  min: Vec3;
  max: Vec3;
}

/** Bounds of nothing: joined with others it changes nothing. */
export function emptyBounds(): Bounds {
  return { min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] };
}

/** True where nothing has been put into them. */
export function isEmpty(b: Bounds): boolean {
  return b.min.some((v, i) => v > b.max[i]!);
}

/** Grows `b` to hold the point. */
export function growBounds(b: Bounds, x: number, y: number, z: number): void {
  b.min[0] = Math.min(b.min[0], x);
  b.min[1] = Math.min(b.min[1], y);
  b.min[2] = Math.min(b.min[2], z);
  b.max[0] = Math.max(b.max[0], x);
  b.max[1] = Math.max(b.max[1], y);
  b.max[2] = Math.max(b.max[2], z);
}

/** Bounds of packed points (x y z x y z …). */
export function boundsOfPoints(points: ArrayLike<number>): Bounds {
  const b = emptyBounds();
  for (let i = 0; i + 2 < points.length; i += 3) growBounds(b, points[i]!, points[i + 1]!, points[i + 2]!);
  return b;
}

/** The smallest box that holds both. */
export function joinBounds(a: Bounds, b: Bounds): Bounds {
  return {
    min: a.min.map((v, i) => Math.min(v, b.min[i]!)) as Vec3,
    max: a.max.map((v, i) => Math.max(v, b.max[i]!)) as Vec3,
  };
}

/** The eight corners of the box. */
export function corners(b: Bounds): Vec3[] {
  const list: Vec3[] = [];
  for (let i = 0; i < 8; i++) list.push([i & 1 ? b.max[0] : b.min[0], i & 2 ? b.max[1] : b.min[1], i & 4 ? b.max[2] : b.min[2]]);
  return list;
}

/** The box around the moved box. */
export function transformBounds(b: Bounds, matrix: mat4): Bounds {
  const out = emptyBounds();
  for (const c of corners(b)) {
    const p = vec3.transformMat4([0, 0, 0], c, matrix) as Vec3;
    growBounds(out, p[0], p[1], p[2]);
  }
  return out;
}

/** The middle of the box. */
export function centreOf(b: Bounds): Vec3 {
  return b.min.map((v, i) => (v + b.max[i]!) / 2) as Vec3;
}

/** The shortest of the three sides that is not nothing. */
export function shortestSide({ min, max }: Bounds): number {
  const sides = max.map((v, i) => v - min[i]!).filter((v) => v > 1e-9);
  return sides.length > 0 ? Math.min(...sides) : 1;
}

/** Half the diagonal. */
export function radiusOf(b: Bounds): number {
  return Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]) / 2;
}
