/** Moving a view by hand: round its target, along with it, nearer and farther. */
import type { Vec3 } from '../math/bounds.js';

interface Pose {
  eye: Vec3;
  target: Vec3;
}

const MAX_ORBIT_PITCH = (89 * Math.PI) / 180;

/** Turns the eye about the target: `across` and `up` in radians; never over the top. */
export function orbit({ eye, target }: Pose, across: number, up: number): Pose {
  const d = eye.map((v, i) => v - target[i]!) as Vec3;
  const radius = Math.hypot(...d);
  const azimuth = Math.atan2(d[0], d[2]) + across;
  const altitude = Math.min(MAX_ORBIT_PITCH, Math.max(-MAX_ORBIT_PITCH, Math.asin(d[1] / radius) + up));
  const level = radius * Math.cos(altitude);
  return { target, eye: [target[0] + level * Math.sin(azimuth), target[1] + radius * Math.sin(altitude), target[2] + level * Math.cos(azimuth)] };
}

/** Moves eye and target together, by shares of their distance to the right and up in the picture. */
export function pan({ eye, target }: Pose, right: number, up: number): Pose {
  const d = eye.map((v, i) => v - target[i]!) as Vec3;
  const radius = Math.hypot(...d);
  const azimuth = Math.atan2(d[0], d[2]);
  const move: Vec3 = [Math.cos(azimuth) * right * radius, up * radius, -Math.sin(azimuth) * right * radius];
  const add = (p: Vec3): Vec3 => p.map((v, i) => v + move[i]!) as Vec3;
  return { eye: add(eye), target: add(target) };
}

/** Moves the eye towards the target, so that the distance becomes `factor` of what it was. */
export function dolly({ eye, target }: Pose, factor: number): Pose {
  return { target, eye: target.map((t, i) => t + (eye[i]! - t) * factor) as Vec3 };
}
