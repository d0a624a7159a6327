/** Points on the surfaces of a scene's subject, spread evenly over their area, and the ones farthest out in many directions. */
import type { mat4 } from 'gl-matrix';
import { roomRays } from '../../core/preflight/probe.js';
import type { Instance, SceneData } from '../upload/sceneData.js';

/** Points spread over the surfaces; those farthest out come on top. */
const SPREAD = 2600;
/** Directions in which the point farthest out is kept: they follow the convex outline to about a hundredth of its size. */
const DIRECTIONS = 200;

/** Points on the subject's surface, spread by area. */
export interface SubjectPoints {
  /** Three floats a point, in the world as the scene is unturned. */
  positions: Float32Array;
  /** Normals of their triangles, three floats a point. */
  normals: Float32Array;
  /** Index of each point's part. */
  part: Int32Array;
  /** 1 where the point turns with the subject. */
  turns: Uint8Array;
}

/** Vertices of an instance in the world, and the triangles over them. */
interface WorldMesh {
  instance: Instance;
  positions: Float32Array;
  indices: Uint32Array;
}

/** What of a laid scene its meshes are read from: they lie in kernel memory, word by word. */
type MeshData = Pick<SceneData, 'scene' | 'views' | 'image'>;

function worldMesh({ scene, views, image }: MeshData, instance: Instance): WorldMesh {
  const entry = scene.meshes[instance.mesh]!;
  const words = (offset: number): number => (image + offset) >> 2;
  const own = views.f32.subarray(words(entry.position), words(entry.position) + entry.vertices * 3);
  const m: mat4 = instance.world;
  const positions = new Float32Array(own.length);
  for (let i = 0; i < own.length; i += 3) {
    const [x, y, z] = [own[i]!, own[i + 1]!, own[i + 2]!];
    positions[i] = m[0] * x + m[4] * y + m[8] * z + m[12];
    positions[i + 1] = m[1] * x + m[5] * y + m[9] * z + m[13];
    positions[i + 2] = m[2] * x + m[6] * y + m[10] * z + m[14];
  }
  return { instance, positions, indices: views.u32.subarray(words(entry.index), words(entry.index) + entry.triangles * 3) };
}

/** Twice the area vector of the triangle at `t` of the index list. */
function crossOf({ positions, indices }: WorldMesh, t: number, out: Float64Array): number {
  const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
  const [ax, ay, az] = [positions[a]!, positions[a + 1]!, positions[a + 2]!];
  const [ux, uy, uz] = [positions[b]! - ax, positions[b + 1]! - ay, positions[b + 2]! - az];
  const [vx, vy, vz] = [positions[c]! - ax, positions[c + 1]! - ay, positions[c + 2]! - az];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
  return Math.hypot(out[0], out[1], out[2]);
}

/** Gathers points, each with the normal of its triangle. */
class Gathered {
  readonly positions: number[] = [];
  readonly normals: number[] = [];
  readonly part: number[] = [];
  readonly turns: number[] = [];

  add(x: number, y: number, z: number, cross: Float64Array, doubled: number, { part, turns }: Instance): void {
    this.positions.push(x, y, z);
    for (let k = 0; k < 3; k++) this.normals.push(doubled > 0 ? cross[k]! / doubled : 0);
    this.part.push(part);
    this.turns.push(turns ? 1 : 0);
  }
}

/** Spreads points over the area: two sequences of irrational steps put them into their triangles. */
function spreadPoints(meshes: readonly WorldMesh[], into: Gathered): void {
  const cross = new Float64Array(3);
  let area = 0;
  for (const mesh of meshes) for (let t = 0; t < mesh.indices.length; t += 3) area += crossOf(mesh, t, cross) / 2;
  if (!(area > 0)) return;
  const step = area / SPREAD;
  let due = step / 2;
  let gone = 0;
  let count = 0;
  for (const mesh of meshes) {
    const { positions: p, indices } = mesh;
    for (let t = 0; t < indices.length; t += 3) {
      const doubled = crossOf(mesh, t, cross);
      gone += doubled / 2;
      for (; due < gone && count < SPREAD; due += step, count++) {
        const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
        const u = Math.sqrt((count * 0.754877666) % 1);
        const v = (count * 0.569840291) % 1;
        const at = (k: number): number => p[a + k]! * (1 - u) + p[b + k]! * u * (1 - v) + p[c + k]! * u * v;
        into.add(at(0), at(1), at(2), cross, doubled, mesh.instance);
      }
    }
  }
}

/** Adds the vertex that is farthest out in each direction. */
function farthestPoints(meshes: readonly WorldMesh[], into: Gathered): void {
  const rays = roomRays([0, 0, 0], DIRECTIONS);
  const best = Array.from({ length: DIRECTIONS }, () => ({ reach: -Infinity, mesh: meshes[0], at: 0 }));
  for (const mesh of meshes) {
    const { positions } = mesh;
    for (let d = 0; d < DIRECTIONS; d++) {
      const [x, y, z] = [rays[d * 6 + 3]!, rays[d * 6 + 4]!, rays[d * 6 + 5]!];
      let { reach } = best[d]!;
      let found = -1;
      for (let i = 0; i < positions.length; i += 3) {
        const far = x * positions[i]! + y * positions[i + 1]! + z * positions[i + 2]!;
        if (far > reach) {
          reach = far;
          found = i;
        }
      }
      if (found >= 0) best[d] = { reach, mesh, at: found };
    }
  }
  // No triangle is looked for: what is farthest out counts for the outline alone.
  const none = new Float64Array(3);
  for (const { mesh, at } of best) if (mesh) into.add(mesh.positions[at]!, mesh.positions[at + 1]!, mesh.positions[at + 2]!, none, 0, mesh.instance);
}

/** Points of these instances, the same for the same scene. Empty where they have no area. */
export function subjectPoints(data: MeshData, instances: readonly Instance[]): SubjectPoints {
  const meshes = instances.map((instance) => worldMesh(data, instance));
  const all = new Gathered();
  spreadPoints(meshes, all);
  if (all.part.length > 0) farthestPoints(meshes, all);
  return {
    positions: Float32Array.from(all.positions),
    normals: Float32Array.from(all.normals),
    part: Int32Array.from(all.part),
    turns: Uint8Array.from(all.turns),
  };
}
