/** The nearest points of each point, by a grid of cells. */
import type { Vec3 } from '../../core/math/bounds.js';
import { cellNumber, cellsOf, sideFor } from './cloud.js';

/** Points of a cell, as many as the search is quick with. */
const POINTS_A_CELL = 3;
/** Times that the cells' side is tried for that. */
const TRIES = 12;

/** A side of cells of which most hold some points and none very many. */
function sideOfCells(positions: Float32Array): number {
  const wanted = Math.max(1, positions.length / 3 / POINTS_A_CELL);
  let side = sideFor(positions, wanted);
  for (let i = 0; i < TRIES; i++) {
    const used = new Set(cellsOf(positions, side).cells).size;
    // Cells on a surface grow in number as the square of their side.
    const factor = Math.sqrt(used / wanted);
    if (factor > 0.8 && factor < 1.25) break;
    side *= Math.min(4, Math.max(0.25, factor));
  }
  return side;
}

/** What a search found: numbers of points, and the squares of their distances, in the first `count` places. */
export interface Found {
  numbers: Uint32Array;
  squares: Float64Array;
  count: number;
}

/** Room for what searches find, used again by each: they are as many as points. */
export const roomFor = (most: number): Found => ({ numbers: new Uint32Array(most), squares: new Float64Array(most), count: 0 });

/** Finds points by their places. */
export class Neighbours {
  /** Numbers of points in the order of their cells, and those cells. */
  private readonly sorted: Uint32Array;
  private readonly ordered: Float64Array;
  private readonly low: Vec3;
  private readonly side: number;

  /** @param positions x y z of each point, metres. */
  constructor(private readonly positions: Float32Array) {
    this.side = sideOfCells(positions);
    const { cells, low } = cellsOf(positions, this.side);
    this.low = low;
    this.sorted = Uint32Array.from(cells, (_, i) => i).sort((a, b) => cells[a]! - cells[b]! || a - b);
    this.ordered = Float64Array.from(this.sorted, (i) => cells[i]!);
  }

  /** Where in their order the points of a cell begin, or those of the next one that has some. */
  private firstOf(cell: number): number {
    const { ordered } = this;
    let [from, to] = [0, ordered.length];
    while (from < to) {
      const middle = (from + to) >> 1;
      if (ordered[middle]! < cell) from = middle + 1;
      else to = middle;
    }
    return from;
  }

  /** The nearest other points in the cells about a point, the nearest first: at most as many as `found` has room for. */
  search(point: number, found: Found): void {
    const { positions, ordered, sorted, low, side } = this;
    const { numbers, squares } = found;
    const [x, y, z] = [positions[3 * point]!, positions[3 * point + 1]!, positions[3 * point + 2]!];
    const [cx, cy, cz] = [Math.floor((x - low[0]) / side), Math.floor((y - low[1]) / side), Math.floor((z - low[2]) / side)];
    let count = 0;
    for (let k = Math.max(0, cz - 1); k <= cz + 1; k++)
      for (let j = Math.max(0, cy - 1); j <= cy + 1; j++) {
        // Cells side by side follow each other, but where their numbers begin anew: a point there has none, and lies flat.
        const last = cellNumber(cx + 1, j, k);
        for (let s = this.firstOf(cellNumber(Math.max(0, cx - 1), j, k)); s < sorted.length && ordered[s]! <= last; s++) {
          const other = sorted[s]!;
          if (other === point) continue;
          const square = (positions[3 * other]! - x) ** 2 + (positions[3 * other + 1]! - y) ** 2 + (positions[3 * other + 2]! - z) ** 2;
          if (count === numbers.length && square >= squares[count - 1]!) continue;
          if (count < numbers.length) count++;
          let at = count - 1;
          for (; at > 0 && squares[at - 1]! > square; at--) {
            numbers[at] = numbers[at - 1]!;
            squares[at] = squares[at - 1]!;
          }
          numbers[at] = other;
          squares[at] = square;
        }
      }
    found.count = count;
  }
}
