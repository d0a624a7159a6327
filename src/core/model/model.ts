/**
 * The one internal form of a design, whatever file it came from: metres, right-handed, +Y up.
 * Meshes are shared; a part is a node of the tree with meshes and their materials.
 */
import { mat4 } from 'gl-matrix';
import { type Bounds, boundsOfPoints, emptyBounds, isEmpty, joinBounds, transformBounds } from '../math/bounds.js';
import { identity } from '../math/matrix.js';
import type { Rgb } from '../units/colour.js';
import type { Material, Texture } from '../materials/material.js';

export * from '../materials/material.js';

/** Triangles that parts share. */
export interface Mesh {
  /** x y z of each vertex, in metres, in the part's own space. */
  positions: Float32Array;
  /** Three vertex numbers a triangle. */
  indices: Uint32Array;
  normals?: Float32Array;
  uvs?: Float32Array;
  /** A second set of texture coordinates. */
  secondUvs?: Float32Array;
  /** Red, green, blue of each vertex, linear; multiplies the base colour. */
  colours?: Float32Array;
}

/** A mesh in a material, by their indices in the model. */
export interface Primitive {
  mesh: number;
  material: number;
}

/** Translation in metres, rotation as a quaternion x y z w, scale. */
export interface PartPlacement {
  translation: [number, number, number];
  rotation: [number, number, number, number];
  scale: [number, number, number];
}

/** Leaves a part where its file has it. */
export const IDENTITY_TRS: PartPlacement = { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] };

/** Which rays meet a part. */
export interface Visibility {
  camera: boolean;
  shadow: boolean;
  reflection: boolean;
}

/** The usual case. */
export const VISIBLE_TO_ALL: Visibility = { camera: true, shadow: true, reflection: true };

/** A light of the file (KHR_lights_punctual): shines along -Z of its part. */
export interface ModelLight {
  /** Index of the part that carries it. */
  part: number;
  kind: 'point' | 'spot' | 'directional';
  /** Candela, or lux of a directional one, a colour channel. */
  intensity: Rgb;
  /** Half angles of a spot in radians: full light within the first, none beyond the second. */
  inner: number;
  outer: number;
}

/** A camera of the file: looks along -Z of its part. */
export interface ModelCamera {
  /** Index of the part that carries it. */
  part: number;
  name: string;
  /** Radians of the whole angle across the height, and width over height; or half of what lies across and up, metres. */
  lens: { kind: 'perspective'; yfov: number; aspect: number | null } | { kind: 'parallel'; xmag: number; ymag: number };
}

/** Lines and 2D curves: drawn on request, never traced. They belong to separate parts without meshes. */
export interface Curve {
  part: number;
  /** Six numbers a piece: both its ends, in the part's own space. Parts that repeat share the list. */
  points: number[];
}

/** A node of the model's tree. */
export interface Part {
  name: string;
  /** Names from the root, joined by "/", made unique; how a part is found again. */
  path: string;
  /** Index of the parent, or -1. Parents stand before their children. */
  parent: number;
  /** Where it stands in its parent. Kept beside `world` so that writing and reading changes no digit. */
  place: PartPlacement;
  /** To the world, column-major; computed by placeParts. */
  world: mat4;
  primitives: Primitive[];
  /** Comes out in renders. Helpers and construction geometry do not. */
  renderVisible: boolean;
  /** Which rays meet it: the camera's, those towards lights, and scattered ones. */
  visible: Visibility;
  /** Ground, water, context: in the picture, but not what fits, pivots and turntables mean by the subject. */
  isContext: boolean;
}

/** A design model as every format is read into: metres, y up. */
export interface Model {
  name: string;
  meshes: Mesh[];
  materials: Material[];
  textures: Texture[];
  parts: Part[];
  lights: ModelLight[];
  curves: Curve[];
  cameras: ModelCamera[];
  /** What a person should know about how it was read. */
  warnings: string[];
}

/** Triangles of all parts; a mesh counts each time it is used. */
export function triangleCount(model: Model): number {
  let n = 0;
  for (const part of model.parts) for (const p of part.primitives) n += model.meshes[p.mesh]!.indices.length / 3;
  return n;
}

/** Triangles stored once, however often they are placed. */
export function uniqueTriangles(model: Model): number {
  return model.meshes.reduce((n, m) => n + m.indices.length / 3, 0);
}

/** World bounds of the subject: what is in the picture and no surroundings; of everything where nothing is. */
export function modelBounds(model: Model): Bounds {
  const local = model.meshes.map((m) => boundsOfPoints(m.positions));
  const over = (keep: (p: Part) => boolean): Bounds => {
    let b = emptyBounds();
    for (const part of model.parts) {
      if (!keep(part)) continue;
      for (const p of part.primitives) {
        if (!isEmpty(local[p.mesh]!)) b = joinBounds(b, transformBounds(local[p.mesh]!, part.world));
      }
    }
    return b;
  };
  const shown = over((p) => p.renderVisible && !p.isContext);
  const all = isEmpty(shown) ? over(() => true) : shown;
  // A drawing of lines alone.
  return isEmpty(all) ? curveBounds(model) : all;
}

/** World bounds of all lines. */
function curveBounds(model: Model): Bounds {
  let b = emptyBounds();
  for (const { part, points } of model.curves) b = joinBounds(b, transformBounds(boundsOfPoints(points), model.parts[part]!.world));
  return b;
}

/** Sets every part's world matrix from its place. Parents must stand first. */
export function computeWorldMatrices(parts: Part[]): void {
  for (const part of parts) {
    const { translation, rotation, scale } = part.place;
    const local = mat4.fromRotationTranslationScale(identity(), rotation, translation, scale);
    part.world = part.parent >= 0 ? mat4.multiply(identity(), parts[part.parent]!.world, local) : local;
  }
}

/** Makes the names of siblings unique and sets every part's path. Parents must stand first. */
export function assignPartPaths(parts: Part[]): void {
  const taken = new Set<string>();
  for (const part of parts) {
    const prefix = part.parent >= 0 ? parts[part.parent]!.path + '/' : '';
    const name = part.name.replaceAll('/', '∕') || 'part';
    let path = prefix + name;
    for (let n = 2; taken.has(path); n++) path = `${prefix}${name} ${n}`;
    taken.add(path);
    part.path = path;
  }
}
