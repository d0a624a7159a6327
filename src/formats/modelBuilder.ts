/** Collects what a reader finds into a model: materials and meshes once each, parts under their parents. */
import { fileStem } from '../core/model/fileExtensions.js';
import { mat4, quat, vec3 } from 'gl-matrix';
import { identity } from '../core/math/matrix.js';
import {
  IDENTITY_TRS,
  type Curve,
  DEFAULT_MATERIAL,
  type Material,
  type Mesh,
  type Model,
  type ModelCamera,
  type Part,
  type PartPlacement,
  computeWorldMatrices,
  VISIBLE_TO_ALL,
  assignPartPaths,
  type Texture,
} from '../core/model/model.js';

/** The place that a matrix (16 numbers, column-major) is, or null where it shears or mirrors: that no place says. */
export function decomposeMatrix(matrix: ArrayLike<number>): PartPlacement | null {
  const m = Float64Array.from(matrix) as unknown as mat4;
  const rotation = mat4.getRotation(quat.create(), m);
  const scale = mat4.getScaling(vec3.create(), m);
  const translation = mat4.getTranslation(vec3.create(), m);
  const again = mat4.fromRotationTranslationScale(identity(), rotation, translation, scale);
  const size = Math.max(1e-12, ...Array.from(m as unknown as ArrayLike<number>, Math.abs));
  for (let i = 0; i < 16; i++) if (!(Math.abs(again[i]! - m[i]!) <= 1e-5 * size)) return null;
  const three = (v: vec3): [number, number, number] => [v[0], v[1], v[2]];
  return { translation: three(translation), rotation: [rotation[0], rotation[1], rotation[2], rotation[3]], scale: three(scale) };
}

/** The mesh moved by a matrix; its triangles are turned over where that mirrors. */
export function transformMesh(mesh: Mesh, matrix: ArrayLike<number>): Mesh {
  const m = Float64Array.from(matrix) as unknown as mat4;
  const positions = new Float32Array(mesh.positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    positions.set(vec3.transformMat4([0, 0, 0], [mesh.positions[i]!, mesh.positions[i + 1]!, mesh.positions[i + 2]!], m), i);
  }
  const out: Mesh = { ...mesh, positions };
  const inverse = mat4.invert(identity(), m);
  if (mesh.normals && inverse) {
    const across = mat4.transpose(identity(), inverse);
    across[3] = across[7] = across[11] = 0;
    out.normals = new Float32Array(mesh.normals.length);
    for (let i = 0; i < out.normals.length; i += 3) {
      const n = vec3.transformMat4([0, 0, 0], [mesh.normals[i]!, mesh.normals[i + 1]!, mesh.normals[i + 2]!], across);
      out.normals.set(vec3.normalize(n, n), i);
    }
  }
  if (mat4.determinant(m) < 0) {
    out.indices = mesh.indices.slice();
    for (let t = 0; t < out.indices.length; t += 3) [out.indices[t + 1], out.indices[t + 2]] = [out.indices[t + 2]!, out.indices[t + 1]!];
  }
  return out;
}

/** +Z up to +Y up: x, z, −y. */
export const Z_UP: PartPlacement = { translation: [0, 0, 0], rotation: [-Math.SQRT1_2, 0, 0, Math.SQRT1_2], scale: [1, 1, 1] };

/** Turns and scales vertices from a file's axis and unit to metres with +Y up, in place. */
export function toMetres(mesh: Mesh, scale: number, up: 'y' | 'z'): Mesh {
  const turn = (list: Float32Array, k: number): void => {
    for (let i = 0; i < list.length; i += 3) {
      const [x, y, z] = [list[i]!, list[i + 1]!, list[i + 2]!];
      if (up === 'z') list.set([x * k, z * k, -y * k], i);
      else list.set([x * k, y * k, z * k], i);
    }
  };
  turn(mesh.positions, scale);
  if (mesh.normals) turn(mesh.normals, 1);
  return mesh;
}

/** Places of lines turned from +Z up to +Y up. */
export const isAligned = (points: number[]): number[] => points.map((v, i) => (i % 3 === 0 ? v : i % 3 === 1 ? points[i + 1]! : -points[i - 1]!));

/** Text longer than this is not searched for lines: that would take more memory than all else. */
export const MAX_SEARCHED = 64 * 2 ** 20;

/** Puts a model together while a file is read. */
export class ModelBuilder {
  readonly meshes: Mesh[] = [];
  readonly materials: Material[] = [];
  readonly textures: Texture[] = [];
  readonly parts: Part[] = [];
  readonly curves: Curve[] = [];
  readonly cameras: ModelCamera[] = [];
  readonly warnings = new Set<string>();
  private readonly known = new Map<string, number>();

  /** Number of the material; asked for by the same key it is the same one. */
  material(key: string, make: () => Partial<Material> & { name: string }): number {
    let index = this.known.get(key);
    if (index === undefined) {
      index = this.materials.length;
      this.known.set(key, index);
      // Two materials of one name would be told apart by nobody.
      const made = make();
      const taken = new Set(this.materials.map((f) => f.name));
      let name = made.name;
      for (let n = 2; taken.has(name); n++) name = `${made.name} ${n}`;
      this.materials.push({ ...DEFAULT_MATERIAL, ...made, name });
    }
    return index;
  }

  mesh(mesh: Mesh): number {
    return this.meshes.push(mesh) - 1;
  }

  /** Number of the new part; parents come first. */
  part(name: string, parent = -1, values: Partial<Pick<Part, 'place' | 'renderVisible' | 'primitives'>> = {}): number {
    return (
      this.parts.push({
        name: name.trim() || `Part ${this.parts.length + 1}`,
        path: '',
        parent,
        place: IDENTITY_TRS,
        world: identity(),
        primitives: [],
        renderVisible: true,
        visible: VISIBLE_TO_ALL,
        isContext: false,
        ...values,
      }) - 1
    );
  }

  /** A part of lines (six numbers a piece), which stays out of the picture until it is asked for. Nothing where there are none. */
  lines(name: string, parent: number, points: number[], place: PartPlacement = IDENTITY_TRS): void {
    if (points.length > 0) this.curves.push({ part: this.part(name, parent, { place, renderVisible: false }), points });
  }

  model(name: string): Model {
    assignPartPaths(this.parts);
    computeWorldMatrices(this.parts);
    const { meshes, materials, textures, parts, curves } = this;
    return {
      name: fileStem(name),
      meshes,
      materials,
      textures,
      parts,
      lights: [],
      curves,
      cameras: this.cameras,
      warnings: [...this.warnings],
    };
  }
}
