import type { Vec3 } from './bounds.js';

/** A plane in space. */
export interface Plane {
  /** Unit normal. */
  normal: Vec3;
  /** normal · x on the plane, metres. */
  offset: number;
}

const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/** The plane through three points, whose normal points to the side of `towards`. Throws where the points lie on a line. */
export function planeThrough([a, b, c]: [Vec3, Vec3, Vec3], towards: Vec3): Plane {
  const [u, v] = [subtract(b, a), subtract(c, a)];
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const size = Math.hypot(...n);
  // Twice the triangle's area beside the squares of its sides: a thousandth of a radian.
  if (!(size > 1e-3 * Math.max(dot(u, u), dot(v, v)))) throw new Error('The three points are on one line; pick another point.');
  const way = dot(n, subtract(towards, a)) < 0 ? -1 : 1;
  const normal = n.map((x) => Number(((way * x) / size).toFixed(9)) + 0) as Vec3;
  return { normal, offset: dot(normal, a) };
}
