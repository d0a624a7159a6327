/** Directions: differences of points, unit vectors, angles between them and turns from one to another. */
import type { Vec3 } from './bounds.js';

/** a − b. */
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/** The vector at length 1; 0 0 0 stays. */
export function normalize(v: Vec3): Vec3 {
  const n = Math.hypot(...v) || 1;
  return [v[0] / n, v[1] / n, v[2] / n];
}

/** Radians between two directions of any length; exact near 0 and π too. */
export function angleBetween(a: Vec3, b: Vec3): number {
  const across = Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]);
  return Math.atan2(across, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
}

/** The unit direction at a share 0..1 of the way from one unit direction to another, evenly by angle (Shoemake 1985). */
export function slerp(a: Vec3, b: Vec3, share: number): Vec3 {
  const angle = angleBetween(a, b);
  if (angle < 1e-9) return a;
  const [ka, kb] = [Math.sin((1 - share) * angle) / Math.sin(angle), Math.sin(share * angle) / Math.sin(angle)];
  return normalize([ka * a[0] + kb * b[0], ka * a[1] + kb * b[1], ka * a[2] + kb * b[2]]);
}
