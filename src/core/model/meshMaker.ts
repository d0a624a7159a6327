/** Models made by code: meshes of triangles, and models of them. */
import { identity } from '../math/matrix.js';
import { computeWorldMatrices, IDENTITY_TRS, DEFAULT_MATERIAL, type Material, type Mesh, type Model, VISIBLE_TO_ALL } from './model.js';

/** Collects triangles of one mesh. */
export class MeshMaker {
  private readonly positions: number[] = [];
  private readonly indices: number[] = [];

  /** A grid of quads over the parallelogram from `o` along `u` and `v`, facing u × v. */
  quad(o: number[], u: number[], v: number[], nu = 1, nv = 1): this {
    const first = this.positions.length / 3;
    for (let j = 0; j <= nv; j++) {
      for (let i = 0; i <= nu; i++) for (let a = 0; a < 3; a++) this.positions.push(o[a]! + (u[a]! * i) / nu + (v[a]! * j) / nv);
    }
    for (let j = 0; j < nv; j++) {
      for (let i = 0; i < nu; i++) {
        const p = first + j * (nu + 1) + i;
        this.indices.push(p, p + 1, p + nu + 2, p, p + nu + 2, p + nu + 1);
      }
    }
    return this;
  }

  /** The six faces of a box, seen from outside, or from inside. */
  box(min: number[], max: number[], n = 1, inside = false): this {
    const [x, y, z] = max.map((m, i) => m - min[i]!) as [number, number, number];
    const [a, b, c] = min as [number, number, number];
    const faces: [number[], number[], number[]][] = [
      [
        [a, b, c],
        [0, y, 0],
        [x, 0, 0],
      ],
      [
        [a, b, c + z],
        [x, 0, 0],
        [0, y, 0],
      ],
      [
        [a, b, c],
        [x, 0, 0],
        [0, 0, z],
      ],
      [
        [a, b + y, c],
        [0, 0, z],
        [x, 0, 0],
      ],
      [
        [a, b, c],
        [0, 0, z],
        [0, y, 0],
      ],
      [
        [a + x, b, c],
        [0, y, 0],
        [0, 0, z],
      ],
    ];
    for (const [o, u, v] of faces) this.quad(o, inside ? v : u, inside ? u : v, n, n);
    return this;
  }

  mesh(): Mesh {
    return { positions: Float32Array.from(this.positions), indices: Uint32Array.from(this.indices) };
  }
}

/** A sphere of n × n/2 quads, its radius a function of the direction. */
export function sphere(n: number, radius: (x: number, y: number, z: number) => number = () => 1): Mesh {
  const m = n / 2;
  const positions = new Float32Array((n + 1) * (m + 1) * 3);
  const indices = new Uint32Array(n * m * 6);
  let p = 0;
  for (let j = 0; j <= m; j++) {
    for (let i = 0; i <= n; i++) {
      // The last column is the first to the last bit, and the poles are points: the sphere is closed.
      const a = ((i % n) / n) * 2 * Math.PI;
      const b = (j / m) * Math.PI;
      const level = j === 0 || j === m ? 0 : Math.sin(b);
      const d: [number, number, number] = [level * Math.cos(a), Math.cos(b), -level * Math.sin(a)];
      const r = radius(...d);
      positions[p++] = d[0] * r;
      positions[p++] = d[1] * r;
      positions[p++] = d[2] * r;
    }
  }
  let k = 0;
  for (let j = 0; j < m; j++) {
    for (let i = 0; i < n; i++) {
      const q = j * (n + 1) + i;
      for (const v of [q, q + n + 1, q + 1, q + 1, q + n + 1, q + n + 2]) indices[k++] = v;
    }
  }
  return { positions, indices };
}

/** A model of meshes, each with its material; they stand where they are, or moved by `at`. A mesh that several have is there once. */
export function modelOf(name: string, pieces: { mesh: Mesh; material?: Partial<Material>; at?: [number, number, number] }[]): Model {
  const meshes = [...new Set(pieces.map((p) => p.mesh))];
  const model: Model = {
    name,
    meshes,
    materials: pieces.map((p, i) => ({ ...DEFAULT_MATERIAL, name: `finish ${i + 1}`, ...p.material })),
    textures: [],
    parts: pieces.map(({ mesh, at = [0, 0, 0] }, i) => ({
      name: `part ${i + 1}`,
      path: `part ${i + 1}`,
      parent: -1,
      place: { ...IDENTITY_TRS, translation: at },
      world: identity(),
      primitives: [{ mesh: meshes.indexOf(mesh), material: i }],
      renderVisible: true,
      visible: VISIBLE_TO_ALL,
      isContext: false,
    })),
    lights: [],
    curves: [],
    cameras: [],
    warnings: [],
  };
  computeWorldMatrices(model.parts);
  return model;
}
