/** Finds bodies that are one another moved and turned, as readers of solids deliver them: repeated meshes become instances. */
import { mat4, vec3 } from 'gl-matrix';
import { identity } from '../core/math/matrix.js';
import { IDENTITY_TRS, type Mesh, type Model, computeWorldMatrices } from '../core/model/model.js';
import { decomposeMatrix } from './modelBuilder.js';

/** Places may differ by this share of the mesh's size. */
const TOLERANCE = 1e-5;

const point = (mesh: Mesh, i: number): vec3 => vec3.fromValues(mesh.positions[i * 3]!, mesh.positions[i * 3 + 1]!, mesh.positions[i * 3 + 2]!);

function extent({ positions }: Mesh): number {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  positions.forEach((v, i) => {
    low[i % 3] = Math.min(low[i % 3]!, v);
    high[i % 3] = Math.max(high[i % 3]!, v);
  });
  return Math.hypot(...high.map((h, a) => h - low[a]!));
}

/** A right-angled frame on three of a mesh's vertices, which must not lie in a line; null where they do. */
function frameOn(mesh: Mesh, [a, b, c]: [number, number, number], size: number): mat4 | null {
  const o = point(mesh, a);
  const u = vec3.subtract(vec3.create(), point(mesh, b), o);
  const v = vec3.subtract(vec3.create(), point(mesh, c), o);
  const w = vec3.cross(vec3.create(), u, v);
  if (vec3.length(w) < 1e-4 * size * size) return null;
  vec3.normalize(u, u);
  vec3.normalize(w, w);
  const t = vec3.cross(vec3.create(), w, u);
  const m = identity();
  [u, t, w, o].forEach((axis, k) => {
    for (let i = 0; i < 3; i++) m[k * 4 + i] = axis[i]!;
  });
  return m;
}

/** Vertices that lie far apart: the first, the farthest from it, the farthest from the line through both. */
function farCorners(mesh: Mesh): [number, number, number] {
  const count = mesh.positions.length / 3;
  const o = point(mesh, 0);
  let [b, c, best] = [0, 0, -1];
  for (let i = 0; i < count; i++) {
    const d = vec3.distance(o, point(mesh, i));
    if (d > best) [b, best] = [i, d];
  }
  const line = vec3.subtract(vec3.create(), point(mesh, b), o);
  best = -1;
  for (let i = 0; i < count; i++) {
    const d = vec3.length(vec3.cross(vec3.create(), line, vec3.subtract(vec3.create(), point(mesh, i), o)));
    if (d > best) [c, best] = [i, d];
  }
  return [0, b, c];
}

/** The move that carries mesh `a` onto `b`, both with the same triangles; null where there is none. */
export function rigidTransformBetween(a: Mesh, b: Mesh): mat4 | null {
  if (a.positions.length !== b.positions.length || a.indices.length !== b.indices.length) return null;
  for (let i = 0; i < a.indices.length; i++) if (a.indices[i] !== b.indices[i]) return null;
  const size = extent(a);
  if (Math.abs(size - extent(b)) > size) return null;
  const corners = farCorners(a);
  const [from, to] = [frameOn(a, corners, size), frameOn(b, corners, size)];
  if (!from || !to) return null;
  const move = mat4.multiply(identity(), to, mat4.invert(identity(), from)!);
  for (let i = 0; i < a.positions.length / 3; i++) {
    const p = point(a, i);
    if (vec3.distance(vec3.transformMat4(p, p, move), point(b, i)) > TOLERANCE * size) return null;
  }
  return move;
}

/**
 * Gives parts that stand where their file drew them the mesh of an earlier part that is the same
 * but for its place, and takes the meshes out that nobody uses any more.
 */
export function dedupeMeshes(model: Model): void {
  const firsts = new Map<string, number[]>();
  const still = model.parts.every((p) => p.place === IDENTITY_TRS);
  if (!still) return;
  const parents = new Set(model.parts.map((p) => p.parent));
  for (const [number, part] of model.parts.entries()) {
    // What moves would take along what hangs below it.
    if (part.primitives.length === 0 || parents.has(number)) continue;
    const own = part.primitives.map((p) => model.meshes[p.mesh]!);
    const key = own.map((m) => `${m.positions.length}/${m.indices.length}`).join();
    const alike = firsts.get(key) ?? [];
    firsts.set(key, alike);
    let found = false;
    for (const index of alike) {
      const other = model.parts[index]!.primitives;
      const move = rigidTransformBetween(model.meshes[other[0]!.mesh]!, own[0]!);
      const place = move && decomposeMatrix(move);
      // Every piece must go along by the same move.
      if (
        !place ||
        !other.every((o, i) => {
          const m = i === 0 ? move : rigidTransformBetween(model.meshes[o.mesh]!, own[i]!);
          return m !== null && near(m, move);
        })
      )
        continue;
      part.place = place;
      part.primitives = part.primitives.map((p, i) => ({ mesh: other[i]!.mesh, material: p.material }));
      found = true;
      break;
    }
    if (!found) alike.push(number);
  }
  const used = [...new Set(model.parts.flatMap((p) => p.primitives.map((q) => q.mesh)))].sort((x, y) => x - y);
  const renumbered = new Map(used.map((old, i) => [old, i]));
  model.meshes = used.map((i) => model.meshes[i]!);
  for (const part of model.parts) part.primitives = part.primitives.map((p) => ({ ...p, mesh: renumbered.get(p.mesh)! }));
  computeWorldMatrices(model.parts);
}

function near(a: mat4, b: mat4): boolean {
  for (let i = 0; i < 16; i++) if (Math.abs(a[i]! - b[i]!) > 1e-3 * Math.max(1, Math.abs(b[i]!))) return false;
  return true;
}
