/**
 * Points as small discs that lie in the surface that they were measured on: traced like everything else, so that they cast
 * shadows and take light. A disc is a hexagon of four triangles.
 */
import type { Mesh } from '../../core/model/model.js';
import { MAX_DRAWN_POINTS, pick, type PointCloud, thin } from './cloud.js';
import { Neighbours, roomFor } from './neighbours.js';

/** Neighbours of which a surface's direction is told. */
const NEAREST = 12;
/** On a square grid this neighbour is one step away. */
const STEP_NEIGHBOUR = 4;
/** Diameter beside that step: the discs of a square grid cover it, whose diagonals are 1.41 steps. */
const DIAMETER = 1.5;
/** Corners of a disc. */
export const DISC_CORNERS = 6;
/** Its triangles, by its corners: a fan about the first. */
export const DISC_FAN = [0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5];

type Three = [number, number, number];

const cross = (a: Three, b: Three): Three => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const lengthOf = (a: Three): number => Math.hypot(...a);

/**
 * Direction in which points spread least, of length 1, by the smallest eigenvalue of their covariance in closed form (Smith,
 * "Eigenvalues of a symmetric 3 × 3 matrix", 1961); null where they lie on a line or are too few.
 * @param positions x y z of points. @param numbers of those that are looked at.
 */
export function flattestDirection(positions: Float32Array, numbers: ArrayLike<number>): Three | null {
  const count = numbers.length;
  if (count < 3) return null;
  // Taken from the first point, so that places far from zero lose no digits.
  const [ox, oy, oz] = [positions[3 * numbers[0]!]!, positions[3 * numbers[0]! + 1]!, positions[3 * numbers[0]! + 2]!];
  let [sx, sy, sz, sxx, syy, szz, sxy, sxz, syz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const at = 3 * numbers[i]!;
    const [x, y, z] = [positions[at]! - ox, positions[at + 1]! - oy, positions[at + 2]! - oz];
    sx += x;
    sy += y;
    sz += z;
    sxx += x * x;
    syy += y * y;
    szz += z * z;
    sxy += x * y;
    sxz += x * z;
    syz += y * z;
  }
  const covariance = (s: number, a: number, b: number): number => s / count - (a / count) * (b / count);
  const [xx, yy, zz] = [covariance(sxx, sx, sx), covariance(syy, sy, sy), covariance(szz, sz, sz)];
  const [xy, xz, yz] = [covariance(sxy, sx, sy), covariance(sxz, sx, sz), covariance(syz, sy, sz)];
  const q = (xx + yy + zz) / 3;
  const spread = Math.sqrt(((xx - q) ** 2 + (yy - q) ** 2 + (zz - q) ** 2 + 2 * (xy ** 2 + xz ** 2 + yz ** 2)) / 6);
  if (!(spread > 0)) return null;
  const [a, b, d, e, f, g] = [xx - q, yy - q, zz - q, xy, xz, yz].map((v) => v / spread) as [number, number, number, number, number, number];
  const half = (a * (b * d - g * g) - e * (e * d - g * f) + f * (e * g - b * f)) / 2;
  const angle = Math.acos(Math.min(1, Math.max(-1, half))) / 3;
  const least = q + 2 * spread * Math.cos(angle + (2 * Math.PI) / 3);
  const rows: Three[] = [
    [xx - least, xy, xz],
    [xy, yy - least, yz],
    [xz, yz, zz - least],
  ];
  // The rows lie in the plane across the direction; the two that differ most say it best.
  const best = [cross(rows[0]!, rows[1]!), cross(rows[0]!, rows[2]!), cross(rows[1]!, rows[2]!)].reduce((m, v) =>
    lengthOf(v) > lengthOf(m) ? v : m,
  );
  const length = lengthOf(best);
  return length > 1e-9 * spread * spread ? (best.map((v) => v / length) as Three) : null;
}

/** What is drawn of a cloud. */
export interface Discs {
  /** The points that are drawn. */
  cloud: Required<Pick<PointCloud, 'positions' | 'normals'>> & PointCloud;
  /** Diameter of each disc in metres. */
  diameter: number;
}

/** The points that are drawn of a cloud, with directions, and how large their discs are: by the median step from point to point. */
export function discsOf(all: PointCloud): Discs {
  const { kept } = thin(all.positions, MAX_DRAWN_POINTS);
  const cloud = kept.length * 3 === all.positions.length ? all : pick(all, kept);
  const near = new Neighbours(cloud.positions);
  const count = cloud.positions.length / 3;
  const found = roomFor(NEAREST);
  const patch = new Uint32Array(NEAREST + 1);
  const normals = new Float32Array(count * 3);
  const steps: number[] = [];
  for (let i = 0; i < count; i++) {
    near.search(i, found);
    const step = found.count > 0 ? found.squares[Math.min(STEP_NEIGHBOUR, found.count) - 1]! : 0;
    if (step > 0) steps.push(step);
    const told = cloud.normals?.subarray(3 * i, 3 * i + 3);
    // Writers fill in zeroes where they know none.
    const length = told ? Math.hypot(...told) : 0;
    if (told && length > 0) {
      normals.set(
        told.map((v) => v / length),
        3 * i,
      );
      continue;
    }
    patch[0] = i;
    patch.set(found.numbers.subarray(0, found.count), 1);
    const n = flattestDirection(cloud.positions, patch.subarray(0, found.count + 1)) ?? [0, 1, 0];
    // Nobody says which side of a surface was looked at; what lies rather flat was seen from above.
    const side = n[1] < 0 ? -1 : 1;
    for (let k = 0; k < 3; k++) normals[3 * i + k] = n[k as 0 | 1 | 2] * side;
  }
  steps.sort((a, b) => a - b);
  const step = Math.sqrt(steps[steps.length >> 1] ?? 0);
  // Points that all stand alone, or a single one, have no step to their neighbours.
  return { cloud: { ...cloud, normals }, diameter: step > 0 ? DIAMETER * step : 0.01 };
}

/** The discs of a cloud as one mesh. @param numbers of those points that it has; all where absent. */
export function discMesh({ cloud, diameter }: Discs, numbers?: Uint32Array): Mesh {
  const { positions, normals, colours } = numbers ? (pick(cloud, numbers) as Discs['cloud']) : cloud;
  const count = positions.length / 3;
  const mesh: Mesh = {
    positions: new Float32Array(count * DISC_CORNERS * 3),
    normals: new Float32Array(count * DISC_CORNERS * 3),
    indices: new Uint32Array(count * DISC_FAN.length),
    ...(colours && { colours: new Float32Array(count * DISC_CORNERS * 3) }),
  };
  for (let i = 0; i < count; i++) {
    const n: Three = [normals[3 * i]!, normals[3 * i + 1]!, normals[3 * i + 2]!];
    const u = cross(n, Math.abs(n[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]);
    const length = lengthOf(u);
    const across = u.map((v) => v / length) as Three;
    const up = cross(n, across);
    for (let corner = 0; corner < DISC_CORNERS; corner++) {
      const angle = (2 * Math.PI * corner) / DISC_CORNERS;
      const to = (i * DISC_CORNERS + corner) * 3;
      for (let k = 0; k < 3; k++) {
        mesh.positions[to + k] = positions[3 * i + k]! + (diameter / 2) * (Math.cos(angle) * across[k]! + Math.sin(angle) * up[k]!);
        mesh.normals![to + k] = n[k]!;
        if (colours) mesh.colours![to + k] = colours[3 * i + k]!;
      }
    }
    for (const [k, corner] of DISC_FAN.entries()) mesh.indices[i * DISC_FAN.length + k] = i * DISC_CORNERS + corner;
  }
  return mesh;
}
