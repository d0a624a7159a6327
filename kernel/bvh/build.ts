/**
 * Builds a binary tree over boxes by the surface area heuristic with 32 bins an axis.
 * Wald, "On fast construction of SAH-based bounding volume hierarchies", 2007. The cost of a
 * leaf is counted in whole packets, ceil(n / leafSize), because a packet is tested at once.
 * Where the boxes of the best two sides overlap much, a plane through space is tried as well
 * (spatialSplit.ts). Sequential and deterministic.
 */
import { BUILD_BOX_BYTES } from "../layout";
import { halfArea, node, packBlocks, N_FIRST, N_LEFT, N_MAX, N_MIN, N_PARENT, N_RIGHT } from "./binaryNode";
import { chooseSpatial, isSplitAllowed, onLeft, onRight, spatialCost, splitSpatial } from "./spatialSplit";

const BINS: i32 = 64;
/** Below this depth ranges are halved by index, which bounds every stack that walks the tree. */
const DEEPEST: i32 = 56;
// A bin: box min, box max, count, each 16 bytes.
const BIN_BYTES: usize = 48;
const AXIS_BYTES: usize = <usize>BINS * BIN_BYTES;
/** Bytes of the bins of all axes and of the areas of one; those of spatial splits lie behind. */
const OBJECT_BINS: usize = 3 * AXIS_BYTES + (<usize>BINS << 2);
/** Area of the overlap, beside those of the whole tree and of the node, from which a plane through space is tried: where it is less, that takes longer than it gains. */
const OVERLAP: f32 = 1e-4;
const NODE_OVERLAP: f32 = 0.2;

// What chooseSplit tells: the cost of the cheapest split, and the area in which its sides overlap.
let splitCost: f32 = 0;
let splitOverlap: f32 = 0;

// @ts-ignore: decorator
@inline
function binOf(v: v128, lo: v128, scale: v128, top: v128): v128 {
  return i32x4.min_s(i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(v, lo), scale)), top);
}

// @ts-ignore: decorator
@inline
function axisOf(v: v128, axis: i32): i32 {
  return axis == 0 ? i32x4.extract_lane(v, 0) : axis == 1 ? i32x4.extract_lane(v, 1) : i32x4.extract_lane(v, 2);
}

/**
 * Boxes: count times (min xyz, 0, max xyz, 0), with the primitive of each in `ids`. `order` has room for twice
 * as many references as there may be: those of the nodes that wait lie behind each other, and the one that is
 * taken next lies last. Returns the number of nodes written; node 0 is the root.
 */
export function buildBinary(boxes: usize, ids: usize, count: i32, leafSize: i32, order: usize, leaves: usize, nodes: usize, bins: usize, stack: usize): i32 {
  for (let i: i32 = 0; i < count; i++) store<i32>(order + (<usize>i << 2), i);
  const huge = f32x4.splat(f32.MAX_VALUE);
  const low = f32x4.splat(-f32.MAX_VALUE);
  let used: i32 = 1, kept: i32 = 0;
  let whole: f32 = 0;
  let sp = stack;
  store<i32>(nodes + N_FIRST, 0);
  store<i32>(nodes + N_RIGHT, count);
  store<i32>(nodes + N_PARENT, -1);
  // Entries: node and depth.
  store<i32>(sp, 0);
  store<i32>(sp, 0, 4);
  sp += 8;
  while (sp != stack) {
    sp -= 8;
    const id = load<i32>(sp);
    const depth = load<i32>(sp, 4);
    const at = node(nodes, id);
    const first = load<i32>(at + N_FIRST);
    const n = load<i32>(at + N_RIGHT);
    let lo = huge, hi = low, clo = huge, chi = low;
    for (let i: i32 = 0; i < n; i++) {
      const b = boxes + <usize>load<i32>(order + (<usize>(first + i) << 2)) * BUILD_BOX_BYTES;
      const mn = v128.load(b), mx = v128.load(b + 16);
      const c = f32x4.add(mn, mx);
      lo = f32x4.min(lo, mn);
      hi = f32x4.max(hi, mx);
      clo = f32x4.min(clo, c);
      chi = f32x4.max(chi, c);
    }
    v128.store(at + N_MIN, lo);
    v128.store(at + N_MAX, hi);
    if (id == 0) whole = halfArea(lo, hi);
    if (n <= leafSize) {
      store<i32>(at + N_LEFT, -n);
      store<i32>(at + N_FIRST, kept);
      for (let i: i32 = 0; i < n; i++) store<i32>(leaves + (<usize>(kept++) << 2), load<i32>(ids + (<usize>load<i32>(order + (<usize>(first + i) << 2)) << 2)));
      continue;
    }
    const span = f32x4.sub(chi, clo);
    const bestSplit = depth < DEEPEST ? chooseSplit(boxes, order, first, n, leafSize, clo, span, bins) : -1;
    let mid: i32 = 0, rest: i32 = 0;
    const overlaps = bestSplit >= 0 && isSplitAllowed() && splitOverlap > OVERLAP * whole && splitOverlap > NODE_OVERLAP * halfArea(lo, hi);
    if (overlaps && chooseSpatial(order, first, n, leafSize, at, bins + OBJECT_BINS) && spatialCost < splitCost && splitSpatial(order, first, n, at, bins + OBJECT_BINS)) {
      mid = onLeft;
      rest = onRight;
    } else {
      if (bestSplit >= 0) mid = partition(boxes, order, first, n, clo, span, bestSplit >> 8, bestSplit & 255);
      // Equal centroids cannot be told apart by bins: halve by index.
      if (mid <= 0 || mid >= n) mid = n >> 1;
      rest = n - mid;
    }
    const l = used, r = used + 1;
    used += 2;
    store<i32>(at + N_LEFT, l);
    store<i32>(at + N_RIGHT, r);
    const ln = node(nodes, l), rn = node(nodes, r);
    store<i32>(ln + N_FIRST, first);
    store<i32>(ln + N_RIGHT, mid);
    store<i32>(ln + N_PARENT, id);
    store<i32>(rn + N_FIRST, first + mid);
    store<i32>(rn + N_RIGHT, rest);
    store<i32>(rn + N_PARENT, id);
    store<i32>(sp, l);
    store<i32>(sp, depth + 1, 4);
    store<i32>(sp, r, 8);
    store<i32>(sp, depth + 1, 12);
    sp += 16;
  }
  return used;
}

// Few primitives need few bins, and clearing 96 of them would cost more than it finds.
// @ts-ignore: decorator
@inline
function binCount(n: i32): i32 {
  return n < 16 ? 8 : BINS;
}

// @ts-ignore: decorator
@inline
function binScale(span: v128, bins: i32): v128 {
  // Where the span is zero the scale is infinite and 0 * inf is NaN, which trunc_sat makes bin 0.
  return f32x4.div(f32x4.splat(<f32>bins * <f32>0.99999), span);
}

/** The cheapest split as axis << 8 | last bin of the left side, or -1. */
function chooseSplit(boxes: usize, order: usize, first: i32, n: i32, leafSize: i32, clo: v128, span: v128, bins: usize): i32 {
  const used = binCount(n);
  const scale = binScale(span, used);
  const top = i32x4.splat(used - 1);
  const huge = f32x4.splat(f32.MAX_VALUE);
  const low = f32x4.splat(-f32.MAX_VALUE);
  for (let a: usize = 0; a < 3; a++) {
    for (let i: i32 = 0; i < used; i++) {
      const b = bins + a * AXIS_BYTES + <usize>i * BIN_BYTES;
      v128.store(b, huge);
      v128.store(b + 16, low);
      store<i32>(b + 32, 0);
    }
  }
  for (let i: i32 = 0; i < n; i++) {
    const p = boxes + <usize>load<i32>(order + (<usize>(first + i) << 2)) * BUILD_BOX_BYTES;
    const mn = v128.load(p), mx = v128.load(p + 16);
    const k = binOf(f32x4.add(mn, mx), clo, scale, top);
    grow(bins + <usize>i32x4.extract_lane(k, 0) * BIN_BYTES, mn, mx);
    grow(bins + AXIS_BYTES + <usize>i32x4.extract_lane(k, 1) * BIN_BYTES, mn, mx);
    grow(bins + 2 * AXIS_BYTES + <usize>i32x4.extract_lane(k, 2) * BIN_BYTES, mn, mx);
  }
  const areas = bins + 3 * AXIS_BYTES; // right-hand cost of every split of one axis
  let best: i32 = -1;
  let bestCost = f32.MAX_VALUE;
  for (let a: i32 = 0; a < 3; a++) {
    const base = bins + <usize>a * AXIS_BYTES;
    let lo = huge, hi = low;
    let c: i32 = 0;
    for (let i = used - 1; i > 0; i--) {
      const b = base + <usize>i * BIN_BYTES;
      lo = f32x4.min(lo, v128.load(b));
      hi = f32x4.max(hi, v128.load(b + 16));
      c += load<i32>(b + 32);
      store<f32>(areas + (<usize>i << 2), c == 0 ? f32.MAX_VALUE : halfArea(lo, hi) * <f32>packBlocks(c, leafSize));
    }
    lo = huge;
    hi = low;
    c = 0;
    for (let i: i32 = 0; i < used - 1; i++) {
      const b = base + <usize>i * BIN_BYTES;
      lo = f32x4.min(lo, v128.load(b));
      hi = f32x4.max(hi, v128.load(b + 16));
      c += load<i32>(b + 32);
      if (c == 0) continue;
      const cost: f32 = halfArea(lo, hi) * <f32>packBlocks(c, leafSize) + load<f32>(areas + (<usize>(i + 1) << 2));
      if (cost < bestCost) {
        bestCost = cost;
        best = (a << 8) | i;
      }
    }
  }
  splitCost = bestCost;
  splitOverlap = best >= 0 ? overlapOf(bins + <usize>(best >> 8) * AXIS_BYTES, used, best & 255) : 0;
  return best;
}

/** Half the area in which the boxes of both sides of a split overlap. */
function overlapOf(bins: usize, used: i32, last: i32): f32 {
  let lo = f32x4.splat(f32.MAX_VALUE), hi = f32x4.splat(-f32.MAX_VALUE), lo2 = lo, hi2 = hi;
  for (let i: i32 = 0; i < used; i++) {
    const b = bins + <usize>i * BIN_BYTES;
    if (i <= last) {
      lo = f32x4.min(lo, v128.load(b));
      hi = f32x4.max(hi, v128.load(b, 16));
    } else {
      lo2 = f32x4.min(lo2, v128.load(b));
      hi2 = f32x4.max(hi2, v128.load(b, 16));
    }
  }
  return halfArea(f32x4.max(lo, lo2), f32x4.max(f32x4.max(lo, lo2), f32x4.min(hi, hi2)));
}

// @ts-ignore: decorator
@inline
function grow(bin: usize, mn: v128, mx: v128): void {
  v128.store(bin, f32x4.min(v128.load(bin), mn));
  v128.store(bin + 16, f32x4.max(v128.load(bin + 16), mx));
  store<i32>(bin + 32, load<i32>(bin + 32) + 1);
}

/** Moves what lies in bins 0..last of the axis to the front; returns how many that are. */
function partition(boxes: usize, order: usize, first: i32, n: i32, clo: v128, span: v128, axis: i32, last: i32): i32 {
  const used = binCount(n);
  const scale = binScale(span, used);
  const top = i32x4.splat(used - 1);
  let i = first, j = first + n - 1;
  while (i <= j) {
    const p = load<i32>(order + (<usize>i << 2));
    const b = boxes + <usize>p * BUILD_BOX_BYTES;
    const k = axisOf(binOf(f32x4.add(v128.load(b), v128.load(b + 16)), clo, scale, top), axis);
    if (k <= last) {
      i++;
    } else {
      store<i32>(order + (<usize>i << 2), load<i32>(order + (<usize>j << 2)));
      store<i32>(order + (<usize>j << 2), p);
      j--;
    }
  }
  return i - first;
}
