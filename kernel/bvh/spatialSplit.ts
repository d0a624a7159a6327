/**
 * Spatial splits: a plane cuts the space of a node, and a triangle that lies on both sides of it is met
 * below both, each time with the box of what lies on that side alone. Pays where boxes of neighbours
 * overlap much, as those of long thin triangles do that lie askew.
 * Stich, Friedrich and Dietrich, "Spatial splits in bounding volume hierarchies", 2009: chopped bins, and
 * a triangle that is cheaper whole on one side stays whole (reference unsplitting).
 *
 * A reference is a box (BUILD_BOX_BYTES) with the number of its triangle in a list beside.
 */
import { BUILD_BOX_BYTES } from "../layout";
import { halfArea, packBlocks, N_MIN, N_MAX } from "./binaryNode";

const BINS: i32 = 16;
// A bin: box min, box max, references that begin and that end in it.
const BIN_BYTES: usize = 48;

let positions: usize = 0;
let indices: usize = 0;
let ids: usize = 0;
let boxes: usize = 0;
/** How far clipped boxes are widened: as the triangles' own are. */
let padBox: v128 = f32x4.splat(0);
/** References there are, and how many there may be. */
let refs: i32 = 0;
let splitBudget: i32 = 0;

// What cutBox tells: the boxes of both sides.
let leftMin: v128 = f32x4.splat(0), leftMax: v128 = f32x4.splat(0), rightMin: v128 = f32x4.splat(0), rightMax: v128 = f32x4.splat(0);

// What chooseSpatial tells: cost, axis, and the last bin of the left side.
export let spatialCost: f32 = 0;
let splitAxis: i32 = 0;
let splitBin: i32 = 0;
/** References on the left after splitSpatial, and on the right. */
export let onLeft: i32 = 0;
export let onRight: i32 = 0;

/** `widened` is what the boxes of the triangles are widened by; up to `most` references may be made. */
export function setSplits(positionsAt: usize, indicesAt: usize, boxesAt: usize, idsAt: usize, widened: f32, count: i32, most: i32): void {
  positions = positionsAt;
  indices = indicesAt;
  boxes = boxesAt;
  ids = idsAt;
  padBox = f32x4.replace_lane(f32x4.splat(widened), 3, 0);
  refs = count;
  splitBudget = most;
}

/** Whether further references find room. */
export function isSplitAllowed(): bool {
  return refs < splitBudget;
}

// @ts-ignore: decorator
/** A vertex as a vector, its last lane zero. */
@inline
export function vertex(positions: usize, i: u32): v128 {
  const p = positions + <usize>i * 12;
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(0), 0, load<f32>(p)), 1, load<f32>(p, 4)), 2, load<f32>(p, 8));
}

// @ts-ignore: decorator
@inline
function alongAxis(v: v128, axis: i32): f32 {
  return axis == 0 ? f32x4.extract_lane(v, 0) : axis == 1 ? f32x4.extract_lane(v, 1) : f32x4.extract_lane(v, 2);
}

// @ts-ignore: decorator
@inline
function withAxis(v: v128, axis: i32, x: f32): v128 {
  return axis == 0 ? f32x4.replace_lane(v, 0, x) : axis == 1 ? f32x4.replace_lane(v, 1, x) : f32x4.replace_lane(v, 2, x);
}

// @ts-ignore: decorator
@inline
function isEmpty(lo: v128, hi: v128): bool {
  return (i32x4.bitmask(f32x4.gt(lo, hi)) & 7) != 0;
}

/** Grows the sides by one corner and by where the edge to the next meets the plane. */
function cutEdge(a: v128, b: v128, axis: i32, plane: f32): void {
  const pa = alongAxis(a, axis), pb = alongAxis(b, axis);
  if (pa <= plane) {
    leftMin = f32x4.min(leftMin, a);
    leftMax = f32x4.max(leftMax, a);
  }
  if (pa >= plane) {
    rightMin = f32x4.min(rightMin, a);
    rightMax = f32x4.max(rightMax, a);
  }
  if ((pa < plane) == (pb < plane) || pa == plane || pb == plane) return;
  const t: f32 = min<f32>(1, max<f32>(0, (plane - pa) / (pb - pa)));
  const m = f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.splat(t)));
  leftMin = f32x4.min(leftMin, m);
  leftMax = f32x4.max(leftMax, m);
  rightMin = f32x4.min(rightMin, m);
  rightMax = f32x4.max(rightMax, m);
}

/** Boxes of what a triangle has within (lo, hi) on each side of a plane. */
function cutBox(triangle: i32, lo: v128, hi: v128, axis: i32, plane: f32): void {
  const t = indices + <usize>triangle * 12;
  const a = vertex(positions, load<u32>(t)), b = vertex(positions, load<u32>(t, 4)), c = vertex(positions, load<u32>(t, 8));
  leftMin = rightMin = f32x4.splat(f32.MAX_VALUE);
  leftMax = rightMax = f32x4.splat(-f32.MAX_VALUE);
  cutEdge(a, b, axis, plane);
  cutEdge(b, c, axis, plane);
  cutEdge(c, a, axis, plane);
  const p = alongAxis(padBox, axis);
  leftMin = f32x4.max(f32x4.sub(leftMin, padBox), lo);
  leftMax = f32x4.min(withAxis(f32x4.add(leftMax, padBox), axis, plane + p), hi);
  rightMin = f32x4.max(withAxis(f32x4.sub(rightMin, padBox), axis, plane - p), lo);
  rightMax = f32x4.min(f32x4.add(rightMax, padBox), hi);
}

// @ts-ignore: decorator
@inline
function growBin(b: usize, lo: v128, hi: v128): void {
  v128.store(b, f32x4.min(v128.load(b), lo));
  v128.store(b, f32x4.max(v128.load(b, 16), hi), 16);
}

// @ts-ignore: decorator
@inline
function binAt(x: f32, from: f32, scale: f32): i32 {
  return max<i32>(0, min<i32>(BINS - 1, <i32>((x - from) * scale)));
}

/** Where bin k of an axis ends. */
// @ts-ignore: decorator
@inline
function planeAfter(lo: v128, hi: v128, axis: i32, k: i32): f32 {
  const from = alongAxis(lo, axis);
  return from + ((alongAxis(hi, axis) - from) * <f32>(k + 1)) / <f32>BINS;
}

/** Finds the cheapest plane across the longest side of the box of the node at `at`; false where there is none. Trying all three ways takes thrice as long, and gained nothing that could be measured. */
export function chooseSpatial(order: usize, first: i32, n: i32, leafSize: i32, at: usize, bins: usize): bool {
  const lo = v128.load(at, N_MIN), hi = v128.load(at, N_MAX);
  const huge = f32x4.splat(f32.MAX_VALUE), low = f32x4.splat(-f32.MAX_VALUE);
  const areas = bins + <usize>BINS * BIN_BYTES;
  spatialCost = f32.MAX_VALUE;
  const sides = f32x4.sub(hi, lo);
  const x = alongAxis(sides, 0), y = alongAxis(sides, 1), z = alongAxis(sides, 2);
  const axis = x >= y ? (x >= z ? 0 : 2) : y >= z ? 1 : 2;
  splitAxis = axis;
  const from = alongAxis(lo, axis), span: f32 = alongAxis(hi, axis) - from;
  if (!(span > 4 * alongAxis(padBox, axis) * <f32>BINS)) return false;
  const scale: f32 = <f32>BINS / span;
  for (let i: i32 = 0; i < BINS; i++) {
    const b = bins + <usize>i * BIN_BYTES;
    v128.store(b, huge);
    v128.store(b, low, 16);
    store<u64>(b, 0, 32);
  }
  for (let i: i32 = 0; i < n; i++) {
    const ref = load<i32>(order + (<usize>(first + i) << 2));
    const p = boxes + <usize>ref * BUILD_BOX_BYTES;
    let mn = v128.load(p), mx = v128.load(p, 16);
    const k0 = binAt(alongAxis(mn, axis), from, scale), k1 = binAt(alongAxis(mx, axis), from, scale);
    const b0 = bins + <usize>k0 * BIN_BYTES, b1 = bins + <usize>k1 * BIN_BYTES;
    store<i32>(b0, load<i32>(b0, 32) + 1, 32);
    store<i32>(b1, load<i32>(b1, 36) + 1, 36);
    for (let k = k0; k < k1; k++) {
      cutBox(load<i32>(ids + (<usize>ref << 2)), mn, mx, axis, planeAfter(lo, hi, axis, k));
      if (!isEmpty(leftMin, leftMax)) growBin(bins + <usize>k * BIN_BYTES, leftMin, leftMax);
      mn = rightMin;
      mx = rightMax;
    }
    if (!isEmpty(mn, mx)) growBin(b1, mn, mx);
  }
  let l = huge, h = low, c: i32 = 0;
  for (let i = BINS - 1; i > 0; i--) {
    const b = bins + <usize>i * BIN_BYTES;
    l = f32x4.min(l, v128.load(b));
    h = f32x4.max(h, v128.load(b, 16));
    c += load<i32>(b, 36);
    store<f32>(areas + (<usize>i << 2), c == 0 ? f32.MAX_VALUE : halfArea(l, h) * <f32>packBlocks(c, leafSize));
  }
  l = huge;
  h = low;
  c = 0;
  for (let i: i32 = 0; i < BINS - 1; i++) {
    const b = bins + <usize>i * BIN_BYTES;
    l = f32x4.min(l, v128.load(b));
    h = f32x4.max(h, v128.load(b, 16));
    c += load<i32>(b, 32);
    if (c == 0) continue;
    const cost: f32 = halfArea(l, h) * <f32>packBlocks(c, leafSize) + load<f32>(areas + (<usize>(i + 1) << 2));
    if (cost < spatialCost) {
      spatialCost = cost;
      splitBin = i;
    }
  }
  return spatialCost < f32.MAX_VALUE;
}

/**
 * Splits the references of the node at `at` at the plane that chooseSpatial found: those of the left side come to lie at
 * `first`, those of the right behind them (onLeft, onRight). There must be room for n more behind the node's.
 * False where that parts nothing or there is not room for all; then all is as it was.
 */
export function splitSpatial(order: usize, first: i32, n: i32, at: usize, bins: usize): bool {
  const lo = v128.load(at, N_MIN), hi = v128.load(at, N_MAX);
  const axis = splitAxis, plane = planeAfter(lo, hi, axis, splitBin);
  const from = alongAxis(lo, axis), scale: f32 = <f32>BINS / (alongAxis(hi, axis) - from);
  let l0 = f32x4.splat(f32.MAX_VALUE), h0 = f32x4.splat(-f32.MAX_VALUE), l1 = l0, h1 = h0;
  let nl: i32 = 0, nr: i32 = 0;
  for (let i: i32 = 0; i < BINS; i++) {
    const b = bins + <usize>i * BIN_BYTES;
    if (i <= splitBin) {
      l0 = f32x4.min(l0, v128.load(b));
      h0 = f32x4.max(h0, v128.load(b, 16));
      nl += load<i32>(b, 32);
    } else {
      l1 = f32x4.min(l1, v128.load(b));
      h1 = f32x4.max(h1, v128.load(b, 16));
      nr += load<i32>(b, 36);
    }
  }
  // With room for some alone the rest would spoil both sides.
  if (nl + nr - n > splitBudget - refs) return false;
  const right = order + (<usize>(first + n) << 2);
  let cl: i32 = 0, cr: i32 = 0;
  for (let i: i32 = 0; i < n; i++) {
    const ref = load<i32>(order + (<usize>(first + i) << 2));
    const p = boxes + <usize>ref * BUILD_BOX_BYTES;
    const mn = v128.load(p), mx = v128.load(p, 16);
    let left = binAt(alongAxis(mx, axis), from, scale) <= splitBin, both = false;
    if (!left && binAt(alongAxis(mn, axis), from, scale) <= splitBin) {
      cutBox(load<i32>(ids + (<usize>ref << 2)), mn, mx, axis, plane);
      if (isEmpty(leftMin, leftMax)) nl--;
      else if (isEmpty(rightMin, rightMax)) {
        left = true;
        nr--;
      } else {
        // Whole on one side it costs that side's growth, and saves the other one reference.
        const a0 = halfArea(l0, h0), a1 = halfArea(l1, h1), w0 = halfArea(f32x4.min(l0, mn), f32x4.max(h0, mx)), w1 = halfArea(f32x4.min(l1, mn), f32x4.max(h1, mx));
        const cut: f32 = a0 * <f32>nl + a1 * <f32>nr, wholeLeft: f32 = w0 * <f32>nl + a1 * <f32>(nr - 1), wholeRight: f32 = a0 * <f32>(nl - 1) + w1 * <f32>nr;
        if (refs < splitBudget && cut < wholeLeft && cut < wholeRight) both = true;
        else if (wholeLeft < wholeRight) {
          left = true;
          l0 = f32x4.min(l0, mn);
          h0 = f32x4.max(h0, mx);
          nr--;
        } else {
          l1 = f32x4.min(l1, mn);
          h1 = f32x4.max(h1, mx);
          nl--;
        }
      }
    }
    if (both) {
      const q = boxes + <usize>refs * BUILD_BOX_BYTES;
      v128.store(p, leftMin);
      v128.store(p, leftMax, 16);
      v128.store(q, rightMin);
      v128.store(q, rightMax, 16);
      store<i32>(ids + (<usize>refs << 2), load<i32>(ids + (<usize>ref << 2)));
      store<i32>(order + (<usize>(first + cl++) << 2), ref);
      store<i32>(right + (<usize>(cr++) << 2), refs++);
    } else if (left) store<i32>(order + (<usize>(first + cl++) << 2), ref);
    else store<i32>(right + (<usize>(cr++) << 2), ref);
  }
  memory.copy(order + (<usize>(first + cl) << 2), right, <usize>cr << 2);
  onLeft = cl;
  onRight = cr;
  return cl > 0 && cr > 0;
}
