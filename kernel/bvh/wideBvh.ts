/**
 * Turns the binary tree into nodes of four children and packets of four triangles, choosing
 * which binary nodes to open by dynamic programming over their areas:
 *   C(n, 1) = A(n) * (node + best of distributing 4 slots), or A(n) * packet for a leaf
 *   C(n, k) = min(C(n, k - 1), min over i of C(left, i) + C(right, k - i))
 * Ylitie, Karras, Laine, "Efficient incoherent ray traversal on GPUs through compressed wide
 * BVHs", 2017, section 4.
 */
import { NODE_MIN, NODE_MAX, NODE_CHILD, NODE_BYTES, BLOCK_V0, BLOCK_V1, BLOCK_V2, BLOCK_ID, BLOCK_BYTES } from "../layout";
import { node, halfArea, N_MIN, N_MAX, N_LEFT, N_RIGHT, N_FIRST } from "./binaryNode";

const NODE_COST: f32 = 1;
const BLOCK_COST: f32 = 1;

// Where the emitted tree goes, and what its leaves are made of.
let outBase: usize = 0;
let outUsed: usize = 0;
let positions: usize = 0;
let indices: usize = 0;
let leaves: usize = 0;
let slots: usize = 0;

// @ts-ignore: decorator
@inline
function cost(costs: usize, i: i32, k: i32): f32 {
  return load<f32>(costs + (<usize>i << 4) + (<usize>(k - 1) << 2));
}

function spread(costs: usize, l: i32, r: i32, k: i32): f32 {
  let best = f32.MAX_VALUE;
  for (let i: i32 = 1; i < k; i++) best = min(best, cost(costs, l, i) + cost(costs, r, k - i));
  return best;
}

/** Fills costs (four f32 a node) from the leaves up. `list` is scratch for one i32 a node. */
export function collapseCosts(nodes: usize, used: i32, costs: usize, list: usize): void {
  // Parents before children; read backwards it is children before parents.
  let head: i32 = 0, tail: i32 = 1;
  store<i32>(list, 0);
  while (head < tail) {
    const n = node(nodes, load<i32>(list + (<usize>head << 2)));
    head++;
    const l = load<i32>(n + N_LEFT);
    if (l >= 0) {
      store<i32>(list + (<usize>tail << 2), l);
      store<i32>(list + (<usize>(tail + 1) << 2), load<i32>(n + N_RIGHT));
      tail += 2;
    }
  }
  for (let k = tail - 1; k >= 0; k--) {
    const i = load<i32>(list + (<usize>k << 2));
    const n = node(nodes, i);
    const area = halfArea(v128.load(n + N_MIN), v128.load(n + N_MAX));
    const l = load<i32>(n + N_LEFT);
    const c = costs + (<usize>i << 4);
    if (l < 0) {
      v128.store(c, f32x4.splat(area * BLOCK_COST));
      continue;
    }
    const r = load<i32>(n + N_RIGHT);
    const c2 = spread(costs, l, r, 2), c3 = spread(costs, l, r, 3), c4 = spread(costs, l, r, 4);
    const one: f32 = area * NODE_COST + min(c2, min(c3, c4));
    const two = min(one, c2), three = min(two, c3);
    store<f32>(c, one);
    store<f32>(c + 4, two);
    store<f32>(c + 8, three);
    store<f32>(c + 12, min(three, c4));
  }
}

/** Puts the binary nodes that fill k slots under node i into `slots`; returns how many. */
function gatherChildren(nodes: usize, costs: usize, i: i32, k: i32, at: i32, opened: bool): i32 {
  const n = node(nodes, i);
  const l = load<i32>(n + N_LEFT);
  if (!opened) {
    while (k > 1 && cost(costs, i, k) == cost(costs, i, k - 1)) k--;
    if (k == 1 || l < 0) {
      store<i32>(slots + (<usize>at << 2), i);
      return at + 1;
    }
  }
  const r = load<i32>(n + N_RIGHT);
  let bestI: i32 = 1;
  let best = f32.MAX_VALUE;
  for (let s: i32 = 1; s < k; s++) {
    const c: f32 = cost(costs, l, s) + cost(costs, r, k - s);
    if (c < best) {
      best = c;
      bestI = s;
    }
  }
  return gatherChildren(nodes, costs, r, k - bestI, gatherChildren(nodes, costs, l, bestI, at, false), false);
}

/** Writes the wide tree at `out`; returns the reference of its root. Without positions the leaves
 *  are instances, one each. Sizes are told by `emittedBytes`. */
export function emit(nodes: usize, costs: usize, leavesAt: usize, positionsAt: usize, indicesAt: usize, slotsAt: usize, out: usize): i32 {
  outBase = out;
  outUsed = 0;
  positions = positionsAt;
  indices = indicesAt;
  leaves = leavesAt;
  slots = slotsAt;
  return emitNode(nodes, costs, 0);
}

/** Bytes of the tree that was written last. */
export function emittedBytes(): usize {
  return outUsed;
}

// Recursion is as deep as the wide tree, which buildBinary's DEEPEST bounds.
function emitNode(nodes: usize, costs: usize, i: i32): i32 {
  const n = node(nodes, i);
  if (load<i32>(n + N_LEFT) < 0) return emitLeaf(n);
  const ref = outUsed;
  const w = outBase + outUsed;
  outUsed += NODE_BYTES;
  const l = load<i32>(n + N_LEFT), r = load<i32>(n + N_RIGHT);
  let k: i32 = 2;
  let best = spread(costs, l, r, 2);
  for (let s: i32 = 3; s <= 4; s++) {
    const c = spread(costs, l, r, s);
    if (c < best) {
      best = c;
      k = s;
    }
  }
  const count = gatherChildren(nodes, costs, i, k, 0, true);
  const ids = v128.load(slots);
  for (let s: i32 = 0; s < 4; s++) {
    const c = s == 0 ? i32x4.extract_lane(ids, 0) : s == 1 ? i32x4.extract_lane(ids, 1) : s == 2 ? i32x4.extract_lane(ids, 2) : i32x4.extract_lane(ids, 3);
    const o = w + (<usize>s << 2);
    for (let a: usize = 0; a < 3; a++) {
      store<f32>(o + NODE_MIN + (a << 4), s < count ? load<f32>(node(nodes, c) + N_MIN + (a << 2)) : f32.POSITIVE_INFINITY);
      store<f32>(o + NODE_MAX + (a << 4), s < count ? load<f32>(node(nodes, c) + N_MAX + (a << 2)) : f32.NEGATIVE_INFINITY);
    }
    store<i32>(o + NODE_CHILD, s < count ? emitNode(nodes, costs, c) : 0);
  }
  return <i32>ref;
}

function emitLeaf(n: usize): i32 {
  const count = -load<i32>(n + N_LEFT);
  const first = load<i32>(n + N_FIRST);
  if (positions == 0) return ~load<i32>(leaves + (<usize>first << 2));
  const ref = outUsed;
  const p = outBase + outUsed;
  outUsed += BLOCK_BYTES;
  for (let s: i32 = 0; s < 4; s++) {
    const t = load<i32>(leaves + (<usize>(first + (s < count ? s : 0)) << 2));
    const lane = <usize>s << 2;
    store<i32>(p + BLOCK_ID + lane, t);
    const tri = indices + <usize>t * 12;
    for (let a: usize = 0; a < 3; a++) {
      store<f32>(p + BLOCK_V0 + (a << 4) + lane, load<f32>(positions + <usize>load<u32>(tri) * 12 + (a << 2)));
      store<f32>(p + BLOCK_V1 + (a << 4) + lane, load<f32>(positions + <usize>load<u32>(tri + 4) * 12 + (a << 2)));
      store<f32>(p + BLOCK_V2 + (a << 4) + lane, load<f32>(positions + <usize>load<u32>(tri + 8) * 12 + (a << 2)));
    }
  }
  return ~(<i32>ref);
}
