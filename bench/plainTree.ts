/** A binned binary tree of boxes in flat typed arrays, for the plain tracer. */
import type { Mesh } from '../src/core/model/model.js';

const BINS = 12;
const LEAF_SIZE = 4;
/** Farther than anything. */
export const FAR_DISTANCE = 1e30;

/** A plain binary tree of boxes. */
export interface Tree {
  /** Six bounds a node. */
  boxes: Float32Array;
  /** Second child of an inner node (the first follows it), or first triangle of a leaf. */
  next: Int32Array;
  /** Triangles of a leaf, 0 in an inner node. */
  counts: Int32Array;
  /** Nine floats a triangle, in the order of leaves: a corner and two edges. */
  corners: Float32Array;
  /** Number in the mesh of each. */
  order: Int32Array;
}

/** Wald, "On fast construction of SAH-based bounding volume hierarchies", 2007. */
export function buildTree({ positions, indices }: Mesh): Tree {
  const count = indices.length / 3;
  const low = new Float32Array(count * 3);
  const high = new Float32Array(count * 3);
  for (let t = 0; t < count; t++) {
    for (let a = 0; a < 3; a++) {
      const [p, q, r] = [positions[indices[t * 3]! * 3 + a]!, positions[indices[t * 3 + 1]! * 3 + a]!, positions[indices[t * 3 + 2]! * 3 + a]!];
      low[t * 3 + a] = Math.min(p, q, r);
      high[t * 3 + a] = Math.max(p, q, r);
    }
  }
  const order = Int32Array.from({ length: count }, (_, i) => i);
  const boxes = new Float32Array(count * 12);
  const next = new Int32Array(count * 2);
  const counts = new Int32Array(count * 2);
  let nodes = 0;
  const area = (b: number[]): number => {
    const [x, y, z] = [b[3]! - b[0]!, b[4]! - b[1]!, b[5]! - b[2]!];
    return x * y + y * z + z * x;
  };
  const empty = (): number[] => [FAR_DISTANCE, FAR_DISTANCE, FAR_DISTANCE, -FAR_DISTANCE, -FAR_DISTANCE, -FAR_DISTANCE];
  const grow = (b: number[], t: number): void => {
    for (let a = 0; a < 3; a++) {
      b[a] = Math.min(b[a]!, low[t * 3 + a]!);
      b[a + 3] = Math.max(b[a + 3]!, high[t * 3 + a]!);
    }
  };
  const join = (b: number[], c: number[]): void => {
    for (let a = 0; a < 3; a++) {
      b[a] = Math.min(b[a]!, c[a]!);
      b[a + 3] = Math.max(b[a + 3]!, c[a + 3]!);
    }
  };
  const split = (from: number, to: number): void => {
    const node = nodes++;
    const box = empty();
    const middle = empty();
    for (let i = from; i < to; i++) {
      const t = order[i]!;
      grow(box, t);
      for (let a = 0; a < 3; a++) {
        const c = (low[t * 3 + a]! + high[t * 3 + a]!) / 2;
        middle[a] = Math.min(middle[a]!, c);
        middle[a + 3] = Math.max(middle[a + 3]!, c);
      }
    }
    boxes.set(box, node * 6);
    let [best, axis, border] = [Infinity, -1, 0];
    for (let a = 0; a < 3 && to - from > LEAF_SIZE; a++) {
      const extent = middle[a + 3]! - middle[a]!;
      if (!(extent > 0)) continue;
      const bins = Array.from({ length: BINS }, () => ({ box: empty(), count: 0 }));
      for (let i = from; i < to; i++) {
        const t = order[i]!;
        const c = (low[t * 3 + a]! + high[t * 3 + a]!) / 2;
        const bin = bins[Math.min(BINS - 1, Math.floor(((c - middle[a]!) / extent) * BINS))]!;
        grow(bin.box, t);
        bin.count++;
      }
      const right = empty();
      const costs = new Float64Array(BINS);
      for (let b = BINS - 1, n = 0; b > 0; b--) {
        join(right, bins[b]!.box);
        n += bins[b]!.count;
        costs[b] = n * area(right);
      }
      const left = empty();
      for (let b = 1, n = 0; b < BINS; b++) {
        join(left, bins[b - 1]!.box);
        n += bins[b - 1]!.count;
        const cost = n > 0 && n < to - from ? n * area(left) + costs[b]! : Infinity;
        if (cost < best) [best, axis, border] = [cost, a, middle[a]! + (extent * b) / BINS];
      }
    }
    if (axis < 0) {
      next[node] = from;
      counts[node] = to - from;
      return;
    }
    let mid = from;
    for (let i = from; i < to; i++) {
      const t = order[i]!;
      if ((low[t * 3 + axis]! + high[t * 3 + axis]!) / 2 < border) {
        order[i] = order[mid]!;
        order[mid++] = t;
      }
    }
    if (mid === from || mid === to) mid = (from + to) >> 1;
    split(from, mid);
    next[node] = nodes;
    split(mid, to);
  };
  split(0, count);
  const corners = new Float32Array(count * 9);
  order.forEach((t, i) => {
    for (let a = 0; a < 3; a++) {
      const p = positions[indices[t * 3]! * 3 + a]!;
      corners[i * 9 + a] = p;
      corners[i * 9 + 3 + a] = positions[indices[t * 3 + 1]! * 3 + a]! - p;
      corners[i * 9 + 6 + a] = positions[indices[t * 3 + 2]! * 3 + a]! - p;
    }
  });
  return { boxes: boxes.slice(0, nodes * 6), next, counts, corners, order };
}

/** Distance at which a ray enters a box, or FAR where it does not before `best`. */
export function enter(b: Float32Array, o: number, ox: number, oy: number, oz: number, ix: number, iy: number, iz: number, best: number): number {
  const [x0, x1] = [(b[o]! - ox) * ix, (b[o + 3]! - ox) * ix];
  const [y0, y1] = [(b[o + 1]! - oy) * iy, (b[o + 4]! - oy) * iy];
  const [z0, z1] = [(b[o + 2]! - oz) * iz, (b[o + 5]! - oz) * iz];
  const near = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1), 0);
  const end = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1), best);
  return near <= end ? near : FAR_DISTANCE;
}
