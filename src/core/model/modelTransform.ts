/** How a set stands the model up: turned, scaled, on the ground, on a plinth. The file itself is never changed. */
import { mat4 } from 'gl-matrix';
import * as z from 'zod';
import { type Bounds, centreOf, transformBounds, type Vec3 } from '../math/bounds.js';
import { identity, numbersOf } from '../math/matrix.js';
import type { Mesh } from './model.js';

/** Which way of the model as it was read points up. */
export const UPWARDS = ['+y', '-y', '+z', '-z', '+x', '-x'] as const;
/** One of {@link UPWARDS}. */
export type UpAxis = (typeof UPWARDS)[number];

/** Rows of the rotations that bring each of them up. */
const TURNS: Record<UpAxis, [Vec3, Vec3, Vec3]> = {
  '+y': [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  '-y': [
    [1, 0, 0],
    [0, -1, 0],
    [0, 0, -1],
  ],
  '+z': [
    [1, 0, 0],
    [0, 0, 1],
    [0, -1, 0],
  ],
  '-z': [
    [1, 0, 0],
    [0, 0, -1],
    [0, 1, 0],
  ],
  '+x': [
    [0, -1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ],
  '-x': [
    [0, 1, 0],
    [-1, 0, 0],
    [0, 0, 1],
  ],
};

/** A block under the subject. */
export const plinthSchema = z.strictObject({
  /** Metres. */
  height: z.number().min(1e-4).max(1e3),
  /** How far it stands out beyond the subject on every side, metres. */
  margin: z.number().min(0).max(1e3).default(0),
  /** Radius of its upright corners, metres, at most half of its shorter side; its upper edge is broken by a quarter of it. */
  corner: z.number().min(0).max(1e3).default(0),
  /** Name of a material: custom, of the library, or of the model. */
  material: z.string().min(1).max(120).default('white paint'),
});

/** What {@link plinthSchema} reads. */
export type Plinth = z.infer<typeof plinthSchema>;

/** How the model is put before it is shown. */
export const modelTransformSchema = z.strictObject({
  up: z.enum(UPWARDS).default('+y'),
  /** Degrees counterclockwise seen from above, after it was brought up. */
  heading: z.number().min(-360).max(360).default(0),
  scale: z.number().min(1e-6).max(1e6).default(1),
  /** Its lowest point at height 0, or on the plinth. */
  ground: z.boolean().default(false),
  /** The middle of its box over the origin. */
  centre: z.boolean().default(false),
  plinth: plinthSchema.optional(),
});

/** What {@link modelTransformSchema} reads. */
export type ModelTransform = z.infer<typeof modelTransformSchema>;

/** Whether the place leaves everything as the file has it. */
export function isIdentity({ up, heading, scale, ground, centre, plinth }: ModelTransform): boolean {
  return up === '+y' && heading === 0 && scale === 1 && !ground && !centre && !plinth;
}

/** Brings the model from where the file has it to where the set stands it; `bounds` are the subject's in the file. Column-major. */
export function transformMatrix(place: ModelTransform, bounds: Bounds): mat4 {
  const [x, y, z] = TURNS[place.up];
  const turn: mat4 = [x[0], y[0], z[0], 0, x[1], y[1], z[1], 0, x[2], y[2], z[2], 0, 0, 0, 0, 1];
  const matrix = mat4.fromYRotation(identity(), (place.heading * Math.PI) / 180);
  mat4.multiply(matrix, matrix, turn);
  mat4.scale(matrix, matrix, [place.scale, place.scale, place.scale]);
  const box = transformBounds(bounds, matrix);
  const centre = centreOf(box);
  const floor = place.plinth?.height ?? 0;
  // On a plinth it stands, whether asked or not.
  const rise = place.ground || place.plinth ? floor - box.min[1] : 0;
  const move = mat4.fromTranslation(identity(), [place.centre ? -centre[0] : 0, rise, place.centre ? -centre[2] : 0]);
  return mat4.multiply(move, move, matrix);
}

/** Box of the placed subject; with a heading that is no quarter turn it is the box around the turned box. */
export function transformedBounds(place: ModelTransform | undefined, bounds: Bounds): Bounds {
  return place ? transformBounds(bounds, transformMatrix(place, bounds)) : bounds;
}

/** The subject's box down to the foot of its plinth: what a stage is set around. */
export function withPlinth(place: ModelTransform | undefined, placed: Bounds): Bounds {
  const [x, y, z] = placed.min;
  return place?.plinth ? { ...placed, min: [x, y - place.plinth.height, z] } : placed;
}

/** As a frame carries it. */
export interface ResolvedTransform {
  matrix: number[];
  /** Box of the placed subject, and what stands under it. */
  plinth?: Plinth & { bounds: Bounds };
}

/** Undefined where nothing is changed, so that such a frame is the same as one without a place. */
export function resolveTransform(place: ModelTransform | undefined, bounds: Bounds): ResolvedTransform | undefined {
  if (!place || isIdentity(place)) return undefined;
  const matrix = numbersOf(transformMatrix(place, bounds));
  return { matrix, ...(place.plinth && { plinth: { ...place.plinth, bounds: transformedBounds(place, bounds) } }) };
}

/** Signs of the corners, in the order of a circle. */
const SIDES = [
  [1, 1],
  [-1, 1],
  [-1, -1],
  [1, -1],
] as const;
const CORNER_STEPS = 12;
const EDGE_STEPS = 6;

/**
 * A block under a box, its top at the box's lowest point: its upright corners rounded, its
 * upper edge broken by a quarter of that radius. Closed, normals outward.
 */
export function plinthMesh({ height, margin, corner, bounds }: Plinth & { bounds: Bounds }): Mesh {
  const [cx, , cz] = centreOf(bounds);
  const half = [0, 2].map((a) => (bounds.max[a]! - bounds.min[a]!) / 2 + margin) as [number, number];
  const radius = Math.min(corner, ...half);
  const edge = Math.min(radius / 4, height / 2);
  const top = bounds.min[1];
  const positions: number[] = [];
  const normals: number[] = [];
  /** A ring of points, its normals leaning up by an angle, or all along the axis where `along` is not 0. */
  const ring = (inset: number, y: number, lean: number, along = 0): void => {
    const r = Math.max(0, radius - inset);
    for (const [k, [sx, sz]] of SIDES.entries()) {
      for (let i = 0; i <= CORNER_STEPS; i++) {
        const a = ((k + i / CORNER_STEPS) * Math.PI) / 2;
        const [cos, sin] = [Math.cos(a), Math.sin(a)];
        positions.push(cx + sx * (half[0] - inset - r) + r * cos, y, cz + sz * (half[1] - inset - r) + r * sin);
        normals.push(...(along !== 0 ? [0, along, 0] : [Math.cos(lean) * cos, Math.sin(lean), Math.cos(lean) * sin]));
      }
    }
  };
  const around = 4 * (CORNER_STEPS + 1);
  const indices: number[] = [];
  ring(0, top - height, 0);
  for (let i = 0; i <= EDGE_STEPS; i++) {
    const a = ((i / EDGE_STEPS) * Math.PI) / 2;
    ring(edge * (1 - Math.cos(a)), top - edge + edge * Math.sin(a), a);
  }
  for (let r = 0; r <= EDGE_STEPS; r++) {
    for (let i = 0; i < around; i++) {
      const [a, b] = [r * around + i, r * around + ((i + 1) % around)];
      indices.push(a, a + around, b, b, a + around, b + around);
    }
  }
  for (const [inset, y, along] of [
    [0, top - height, -1],
    [edge, top, 1],
  ] as const) {
    const first = positions.length / 3;
    ring(inset, y, 0, along);
    const middle = positions.length / 3;
    positions.push(cx, y, cz);
    normals.push(0, along, 0);
    for (let i = 0; i < around; i++) {
      const [a, b] = [first + i, first + ((i + 1) % around)];
      indices.push(middle, ...(along > 0 ? [b, a] : [a, b]));
    }
  }
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), indices: Uint32Array.from(indices) };
}
