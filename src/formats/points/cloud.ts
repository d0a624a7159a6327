/** Clouds of points as scanners make them: what is kept of a large one. */
import { boundsOfPoints, type Vec3 } from '../../core/math/bounds.js';

/** Points of one file, in metres, +Y up, near the origin. */
export interface PointCloud {
  /** x y z of each point. */
  positions: Float32Array;
  /** Red, green, blue of each point, linear. */
  colours?: Float32Array;
  /** x y z of each point's direction out of its surface, of length 1. */
  normals?: Float32Array;
  /** Number of each point's class, where the file sorts them. */
  classes?: Uint8Array;
}

/** Points that are drawn of a file at most: each is four triangles. */
export const MAX_DRAWN_POINTS = 400_000;
/** Of many times as many points, so many times the wanted number are looked at, one in so many: scanners lay them densely. */
const LOOKED_AT = 8;
/** Share of the wanted points that is enough, and how often a grid is tried for it. */
const ENOUGH = 0.85;
const TRIES = 6;

/** The points of these numbers. */
export function pick(cloud: PointCloud, numbers: Uint32Array): PointCloud {
  const take = (list: Float32Array): Float32Array => {
    const out = new Float32Array(numbers.length * 3);
    numbers.forEach((from, to) => {
      for (let k = 0; k < 3; k++) out[3 * to + k] = list[3 * from + k]!;
    });
    return out;
  };
  return {
    positions: take(cloud.positions),
    ...(cloud.colours && { colours: take(cloud.colours) }),
    ...(cloud.normals && { normals: take(cloud.normals) }),
    ...(cloud.classes && { classes: Uint8Array.from(numbers, (i) => cloud.classes![i]!) }),
  };
}

/** Steps along an axis after which numbers of cells begin anew: three axes of so many fit into a number exactly. */
const AROUND = 2 ** 17;

/** Number of a cell by its steps along the axes. Cells that are so many steps apart share one, which only a stray point far off makes. */
export const cellNumber = (x: number, y: number, z: number): number => (x % AROUND) + AROUND * ((y % AROUND) + AROUND * (z % AROUND));

/** Number of the cell that each point is in, of cubes of a side in metres, and the lowest corner of all. */
export function cellsOf(positions: Float32Array, side: number): { cells: Float64Array; low: Vec3 } {
  const { min: low } = boundsOfPoints(positions);
  const cells = new Float64Array(positions.length / 3);
  const step = (i: number, axis: 0 | 1 | 2): number => Math.floor((positions[3 * i + axis]! - low[axis]) / side);
  for (let i = 0; i < cells.length; i++) cells[i] = cellNumber(step(i, 0), step(i, 1), step(i, 2));
  return { cells, low };
}

/** A side of cells, in metres, of which surfaces that fill the box of the points would have about `count`. */
export function sideFor(positions: Float32Array, count: number): number {
  const { min, max } = boundsOfPoints(positions);
  const [a, b, c] = [max[0] - min[0], max[1] - min[1], max[2] - min[2]];
  const side = Math.sqrt(Math.max(a * b, b * c, a * c) / count);
  // Points on one line have no area.
  return side > 0 ? side : Math.max(a, b, c, 1e-6) / count;
}

/** The numbers of at most `most` points, spread evenly: one of each cell of a grid, and that grid's side in metres; 0 where all are kept. */
export function thin(positions: Float32Array, most: number): { kept: Uint32Array; side: number } {
  const count = positions.length / 3;
  if (count <= most) return { kept: Uint32Array.from({ length: count }, (_, i) => i), side: 0 };
  const step = Math.max(1, Math.floor(count / (LOOKED_AT * most)));
  const looked = Uint32Array.from({ length: Math.floor(count / step) }, (_, i) => i * step);
  const { positions: some } = pick({ positions }, looked);
  let side = sideFor(some, most);
  for (let tries = 1; ; tries++) {
    const firsts = new Map<number, number>();
    const { cells } = cellsOf(some, side);
    for (let i = cells.length - 1; i >= 0; i--) firsts.set(cells[i]!, looked[i]!);
    const isFew = firsts.size < ENOUGH * most && tries < TRIES;
    if (firsts.size <= most && !isFew) return { kept: Uint32Array.from(firsts.values()).sort(), side };
    // Cells on a surface grow in number as the square of their side; a little wider, since it must end below.
    side *= Math.sqrt(firsts.size / most) * (isFew ? 1.02 : 1.05);
  }
}
