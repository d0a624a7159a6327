/** Lines of a frame in the world: creases and open edges, outlines from its camera, and the model's own curves. */
import { mat4, vec3 } from 'gl-matrix';
import type { Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import type { Frame } from '../../core/frame/frame.js';
import { turnMatrix } from '../../core/camera/view.js';
import type { SceneData } from '../upload/sceneData.js';
import { type Edges, edgesOf } from './edges.js';
import { isBelow } from '../../core/model/paths.js';

/** Edges of a mesh, made when they are first asked for and kept with the scene. */
function meshEdges({ scene, views, image, edges: all }: SceneData, mesh: number): Edges {
  let edges = all.get(mesh);
  if (!edges) {
    const entry = scene.meshes[mesh]!;
    const positions = views.f32.slice((image + entry.position) >> 2, ((image + entry.position) >> 2) + entry.vertices * 3);
    const indices = views.u32.slice((image + entry.index) >> 2, ((image + entry.index) >> 2) + entry.triangles * 3);
    edges = edgesOf(positions, indices);
    all.set(mesh, edges);
  }
  return edges;
}

/** Keeps what no plane cuts away of a segment; null where nothing is left. */
function clip(a: Vec3, b: Vec3, planes: { normal: Vec3; offset: number }[]): [Vec3, Vec3] | null {
  let [from, to] = [0, 1];
  for (const { normal, offset } of planes) {
    const s = vec3.dot(normal, a) - offset;
    const e = vec3.dot(normal, b) - offset;
    if (s > 0 && e > 0) return null;
    if (s > 0) from = Math.max(from, s / (s - e));
    else if (e > 0) to = Math.min(to, s / (s - e));
  }
  if (from >= to) return null;
  const at = (t: number): Vec3 => vec3.lerp([0, 0, 0], a, b, t) as Vec3;
  return [at(from), at(to)];
}

/** Ends of every line that may be seen, six numbers each, in the world. Hidden ones are still among them. */
export function segmentsOf(data: SceneData, frame: Frame): Float32Array {
  const { scene } = data;
  const out: number[] = [];
  const turn = frame.turn?.what.includes('subject') ? turnMatrix(frame.turn, frame.turn.rotation) : null;
  const { kind, eye, viewMatrix: v } = frame.camera;
  const back: Vec3 = [v[2]!, v[6]!, v[10]!];
  /** Planes that cut a part: all cut the subject, unless they are of one part. */
  const planesOn = (path: string, subject: boolean) =>
    (frame.section?.planes ?? []).filter((p) => (p.part === undefined ? subject : isBelow(path, p.part)));
  for (const instance of data.instances) {
    const moved = turn && instance.turns;
    const world = moved ? mat4.multiply(identity(), turn, instance.world) : instance.world;
    const inverse = mat4.invert(identity(), world)!;
    // Outlines are found where the mesh is: the eye is brought there.
    const local = kind === 'parallel' ? null : (vec3.transformMat4([0, 0, 0], eye, inverse) as Vec3);
    const way = [0, 1, 2].map((r) => inverse[r]! * back[0] + inverse[4 + r]! * back[1] + inverse[8 + r]! * back[2]) as Vec3;
    const planes = planesOn(instance.path, instance.turns);
    const { ends, normals, always } = meshEdges(data, instance.mesh);
    for (let i = 0; i < always.length; i++) {
      const o = i * 6;
      if (always[i] === 0) {
        const [x, y, z] = local ? [local[0] - ends[o]!, local[1] - ends[o + 1]!, local[2] - ends[o + 2]!] : way;
        const near = normals[o]! * x + normals[o + 1]! * y + normals[o + 2]! * z;
        const far = normals[o + 3]! * x + normals[o + 4]! * y + normals[o + 5]! * z;
        if (near * far >= 0) continue;
      }
      const a = vec3.transformMat4([0, 0, 0], [ends[o]!, ends[o + 1]!, ends[o + 2]!], world) as Vec3;
      const b = vec3.transformMat4([0, 0, 0], [ends[o + 3]!, ends[o + 4]!, ends[o + 5]!], world) as Vec3;
      const kept = planes.length > 0 ? clip(a, b, planes) : [a, b];
      if (kept) out.push(...kept[0]!, ...kept[1]!);
    }
  }
  for (const curve of scene.curves) {
    const part = scene.parts[curve.part]!;
    if (!part.renderVisible) continue;
    const own = Array.from(part.world) as unknown as mat4;
    const world = turn && !part.isContext ? mat4.multiply(identity(), turn, own) : own;
    const planes = planesOn(part.path, !part.isContext);
    for (let i = 0; i + 5 < curve.points.length; i += 6) {
      const [a, b] = [0, 3].map((k) => vec3.transformMat4([0, 0, 0], curve.points.slice(i + k, i + k + 3) as Vec3, world) as Vec3) as [Vec3, Vec3];
      const kept = planes.length > 0 ? clip(a, b, planes) : [a, b];
      if (kept) out.push(...kept[0]!, ...kept[1]!);
    }
  }
  return Float32Array.from(out);
}
