/** Points on the surfaces of a scene's subject, spread evenly over their area, and the ones farthest out in many directions. */
import { vec3 } from 'gl-matrix';
import { roomRays } from '../../core/preflight/probe.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { type Instance, type SceneData, trianglesOf } from '../upload/sceneData.js';

/** Points spread over the surfaces; those farthest out come on top. */
const SPREAD = 2600;
/** Directions in which the point farthest out is kept: they follow the convex outline to under a hundredth of its size. */
const DIRECTIONS = 400;

export interface SubjectPoints {
  /** Three floats a point, in the world as the scene stands unturned. */
  positions: Float32Array;
  /** Normals of their triangles, three floats a point. */
  normals: Float32Array;
  /** Index of each point's part. */
  part: Int32Array;
  /** 1 where the point turns with the subject. */
  turns: Uint8Array;
}

interface Sampled {
  point: Vec3;
  normal: Vec3;
  instance: Instance;
}

function areaOf(data: SceneData, instances: readonly Instance[]): number {
  let area = 0;
  for (const { mesh, world } of instances) {
    for (const [a, b, c] of trianglesOf(data, mesh, world))
      area += vec3.length(vec3.cross([0, 0, 0], vec3.subtract([0, 0, 0], b, a), vec3.subtract([0, 0, 0], c, a))) / 2;
  }
  return area;
}

/** Points of these instances, the same for the same scene. Empty where they have no area. */
export function subjectPoints(data: SceneData, instances: readonly Instance[]): SubjectPoints {
  const area = areaOf(data, instances);
  const spread: Sampled[] = [];
  const directions = roomRays([0, 0, 0], DIRECTIONS);
  const reach = new Float64Array(DIRECTIONS).fill(-Infinity);
  const farthest = new Array<Sampled | undefined>(DIRECTIONS);
  const step = area / SPREAD;
  let due = step / 2;
  let gone = 0;
  for (const instance of instances) {
    for (const corners of trianglesOf(data, instance.mesh, instance.world)) {
      const [a, b, c] = corners;
      const cross = vec3.cross([0, 0, 0], vec3.subtract([0, 0, 0], b, a), vec3.subtract([0, 0, 0], c, a)) as Vec3;
      const doubled = vec3.length(cross);
      const normal = (doubled > 0 ? cross.map((n) => n / doubled) : [0, 0, 0]) as Vec3;
      gone += doubled / 2;
      for (; area > 0 && due < gone && spread.length < SPREAD; due += step) {
        // Two sequences of irrational steps spread the points over the triangle.
        const u = Math.sqrt((spread.length * 0.754877666) % 1);
        const v = (spread.length * 0.569840291) % 1;
        const point = a.map((p, k) => p * (1 - u) + b[k]! * u * (1 - v) + c[k]! * u * v) as Vec3;
        spread.push({ point, normal, instance });
      }
      for (const point of corners) {
        for (let d = 0; d < DIRECTIONS; d++) {
          const at = directions[d * 6 + 3]! * point[0] + directions[d * 6 + 4]! * point[1] + directions[d * 6 + 5]! * point[2];
          if (at <= reach[d]!) continue;
          reach[d] = at;
          farthest[d] = { point, normal, instance };
        }
      }
    }
  }
  const all = [...spread, ...farthest.filter((s) => s !== undefined)];
  return {
    positions: Float32Array.from(all.flatMap((s) => s.point)),
    normals: Float32Array.from(all.flatMap((s) => s.normal)),
    part: Int32Array.from(all, (s) => s.instance.part),
    turns: Uint8Array.from(all, (s) => (s.instance.turns ? 1 : 0)),
  };
}
