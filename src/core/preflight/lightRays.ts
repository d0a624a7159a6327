/** Rays of a light, by which is asked whether it reaches anything. */
import { vec3 } from 'gl-matrix';
import type { Vec3 } from '../math/bounds.js';
import type { Light } from '../stage/light.js';

/** Rays of each light. */
const COUNT = 64;

/** Of a light: the shares of its rays that meet the model or the ground, and that meet the inside of something solid. */
export interface LightReach {
  reached: number;
  enclosed: number;
  /** Path of the part that most of those are inside of. */
  enclosedBy?: string;
}

/** Two unit vectors that are square to an axis and to each other. */
function acrossOf(axis: Vec3): [Vec3, Vec3] {
  const helper: Vec3 = Math.abs(axis[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0];
  const u = vec3.normalize([0, 0, 0], vec3.cross([0, 0, 0], helper, axis)) as Vec3;
  return [u, vec3.cross([0, 0, 0], axis, u) as Vec3];
}

/** Six numbers a ray: from where and which way, evenly over what the light shines at (Fibonacci lattice). Null of light from afar. */
export function lightRays(light: Light): Float32Array | null {
  if (light.kind === 'sun') return null;
  const axis: Vec3 =
    light.kind === 'spot'
      ? light.direction
      : light.kind === 'point'
        ? [0, 1, 0]
        : (vec3.normalize([0, 0, 0], vec3.cross([0, 0, 0], light.u, light.v)) as Vec3);
  const least = light.kind === 'point' ? -1 : light.kind === 'spot' ? Math.cos(light.outer) : 0;
  const [u, v] = acrossOf(axis);
  const golden = Math.PI * (3 - Math.sqrt(5));
  const rays = new Float32Array(COUNT * 6);
  for (let i = 0; i < COUNT; i++) {
    const along = 1 - ((i + 0.5) / COUNT) * (1 - least);
    const r = Math.sqrt(Math.max(0, 1 - along * along));
    const [a, b] = [r * Math.cos(golden * i), r * Math.sin(golden * i)];
    rays.set([...light.centre, ...axis.map((c, k) => c * along + u[k]! * a + v[k]! * b)], i * 6);
  }
  return rays;
}
