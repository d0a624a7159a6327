/** Where the points of a subject come to lie in a frame, before anybody asks whether they are seen. */
import { mat4 } from 'gl-matrix';
import { turnMatrix } from '../../core/camera/view.js';
import type { Frame } from '../../core/frame/frame.js';
import { identity, matrixOf } from '../../core/math/matrix.js';
import { isBelow } from '../../core/model/paths.js';
import type { SubjectProbe } from '../../core/preflight/probe.js';
import type { SubjectPoints } from './subjectPoints.js';

/** Points that the section leaves, list by list; rays towards them begin at `from`. */
export interface ProjectedSubject {
  count: number;
  /** As SubjectProbe has them. */
  x: Float32Array;
  y: Float32Array;
  weight: Float32Array;
  reach: SubjectProbe['reach'];
  /** Three floats a point: where it is, and where the ray towards it begins. */
  point: Float32Array;
  from: Float32Array;
}

/** A matrix whose numbers are read fast, some thousand times a frame. */
const inDoubles = (m: mat4): mat4 => Float64Array.from(m) as unknown as mat4;

/** @param paths of parts by index. */
export function projectSubject({ positions, normals, part, turns }: SubjectPoints, frame: Frame, paths: readonly string[]): ProjectedSubject {
  const { camera, turn, section } = frame;
  const n = part.length;
  const m = inDoubles(turn?.what.includes('subject') ? turnMatrix(turn, turn.rotation) : identity());
  const view = inDoubles(matrixOf(camera.viewMatrix));
  const clip = inDoubles(mat4.multiply(identity(), matrixOf(camera.projectionMatrix), matrixOf(camera.viewMatrix)));
  const parallel = camera.kind === 'parallel';
  // Backwards along the line of sight.
  const [sx, sy, sz] = [view[2], view[6], view[10]];
  const [ex, ey, ez] = camera.eye;
  const planes = section?.planes ?? [];
  const cuts = planes.map((p) => paths.map((path) => p.part !== undefined && isBelow(path, p.part)));
  const reach = planes.map((): [number, number] => [Infinity, -Infinity]);
  const out: ProjectedSubject = {
    count: 0,
    x: new Float32Array(n),
    y: new Float32Array(n),
    weight: new Float32Array(n),
    reach,
    point: new Float32Array(n * 3),
    from: new Float32Array(n * 3),
  };
  for (let i = 0; i < n; i++) {
    const moves = turns[i] === 1;
    const ox = positions[i * 3]!;
    const oy = positions[i * 3 + 1]!;
    const oz = positions[i * 3 + 2]!;
    const ax = normals[i * 3]!;
    const ay = normals[i * 3 + 1]!;
    const az = normals[i * 3 + 2]!;
    const px = moves ? m[0] * ox + m[4] * oy + m[8] * oz + m[12] : ox;
    const py = moves ? m[1] * ox + m[5] * oy + m[9] * oz + m[13] : oy;
    const pz = moves ? m[2] * ox + m[6] * oy + m[10] * oz + m[14] : oz;
    const nx = moves ? m[0] * ax + m[4] * ay + m[8] * az : ax;
    const ny = moves ? m[1] * ax + m[5] * ay + m[9] * az : ay;
    const nz = moves ? m[2] * ax + m[6] * ay + m[10] * az : az;
    let isCut = false;
    for (let k = 0; k < planes.length; k++) {
      const { normal, offset, part: only } = planes[k]!;
      if (only === undefined ? !moves : !cuts[k]![part[i]!]) continue;
      const beyond = normal[0] * px + normal[1] * py + normal[2] * pz - offset;
      reach[k]![0] = Math.min(reach[k]![0], beyond);
      reach[k]![1] = Math.max(reach[k]![1], beyond);
      isCut ||= beyond > 0;
    }
    // What a section takes away is not there to be seen.
    if (isCut) continue;
    const at = out.count++;
    const w = clip[3] * px + clip[7] * py + clip[11] * pz + clip[15];
    out.x[at] = w > 0 ? ((clip[0] * px + clip[4] * py + clip[8] * pz + clip[12]) / w + 1) / 2 : NaN;
    out.y[at] = w > 0 ? (1 - (clip[1] * px + clip[5] * py + clip[9] * pz + clip[13]) / w) / 2 : NaN;
    // A parallel view looks from its picture plane, along its line of sight.
    const ahead = parallel ? sx * (ex - px) + sy * (ey - py) + sz * (ez - pz) : 0;
    const fx = parallel ? px + ahead * sx : ex;
    const fy = parallel ? py + ahead * sy : ey;
    const fz = parallel ? pz + ahead * sz : ez;
    const dx = px - fx;
    const dy = py - fy;
    const dz = pz - fz;
    const distance = Math.sqrt(dx * dx + dy * dy + dz * dz);
    // Its projected area, per distance squared where the view is no parallel one.
    out.weight[at] = -(nx * dx + ny * dy + nz * dz) / distance / (parallel ? 1 : distance * distance);
    out.point[at * 3] = px;
    out.point[at * 3 + 1] = py;
    out.point[at * 3 + 2] = pz;
    out.from[at * 3] = fx;
    out.from[at * 3 + 1] = fy;
    out.from[at * 3 + 2] = fz;
  }
  return out;
}
