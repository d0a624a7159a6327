/**
 * One pass of reinsertion over a binary tree, in index order: each node is taken out and put
 * where it saves most area, found by branch and bound below its sibling and below the other
 * child of each ancestor, in at most 300 steps.
 * Meister and Bittner, "Parallel reinsertion for bounding volume hierarchy optimization", 2018,
 * here sequential, so that the result does not depend on the machine.
 */
import { node, halfArea, N_MIN, N_MAX, N_LEFT, N_RIGHT, N_PARENT } from "./binaryNode";

const STEPS: i32 = 300;

/** Moves each node to where the tree costs least; one pass over all. */
export function reinsertionPass(nodes: usize, used: i32, stack: usize): void {
  for (let i: i32 = 1; i < used; i++) {
    const target = bestPosition(nodes, i, stack);
    if (target >= 0) reinsertNode(nodes, i, target);
  }
}

// @ts-ignore: decorator
@inline
function sibling(nodes: usize, parent: i32, child: i32): i32 {
  const p = node(nodes, parent);
  const l = load<i32>(p + N_LEFT);
  return l == child ? load<i32>(p + N_RIGHT) : l;
}

/** The node whose place `id` should share, or -1 where nothing saves area. */
function bestPosition(nodes: usize, id: i32, stack: usize): i32 {
  const at = node(nodes, id);
  const parent = load<i32>(at + N_PARENT);
  if (parent <= 0) return -1; // the root's children stay
  const lo = v128.load(at + N_MIN), hi = v128.load(at + N_MAX);
  const area = halfArea(lo, hi);
  let best: i32 = -1;
  let bestGain: f32 = 0;
  let pivot = parent, below = id;
  // What is saved above the place where the search now stands.
  let saved: f32 = halfArea(v128.load(node(nodes, parent) + N_MIN), v128.load(node(nodes, parent) + N_MAX));
  let restLo = f32x4.splat(0), restHi = f32x4.splat(0);
  let steps: i32 = 0;
  while (pivot >= 0) {
    const other = sibling(nodes, pivot, below);
    // Entries: node id and the growth of the nodes passed on the way down.
    let sp = stack;
    store<i32>(sp, other);
    store<f32>(sp + 4, 0);
    sp += 8;
    while (sp != stack) {
      sp -= 8;
      if (++steps > STEPS) return best;
      const x = load<i32>(sp);
      const growth = load<f32>(sp + 4);
      if (saved - growth - area <= bestGain) continue;
      const xn = node(nodes, x);
      const xlo = v128.load(xn + N_MIN), xhi = v128.load(xn + N_MAX);
      const merged = halfArea(f32x4.min(xlo, lo), f32x4.max(xhi, hi));
      const gain: f32 = saved - growth - merged;
      // Beside its own sibling it stands where it was.
      if (gain > bestGain && !(pivot == parent && x == other)) {
        bestGain = gain;
        best = x;
      }
      const left = load<i32>(xn + N_LEFT);
      if (left >= 0) {
        const deeper: f32 = growth + merged - halfArea(xlo, xhi);
        if (saved - deeper - area > bestGain) {
          store<i32>(sp, load<i32>(xn + N_RIGHT));
          store<f32>(sp + 4, deeper);
          store<i32>(sp + 8, left);
          store<f32>(sp + 12, deeper);
          sp += 16;
        }
      }
    }
    const on = node(nodes, other);
    if (pivot == parent) {
      restLo = v128.load(on + N_MIN);
      restHi = v128.load(on + N_MAX);
    } else {
      restLo = f32x4.min(restLo, v128.load(on + N_MIN));
      restHi = f32x4.max(restHi, v128.load(on + N_MAX));
      const pn = node(nodes, pivot);
      saved += halfArea(v128.load(pn + N_MIN), v128.load(pn + N_MAX)) - halfArea(restLo, restHi);
    }
    below = pivot;
    pivot = load<i32>(node(nodes, pivot) + N_PARENT);
  }
  return best;
}

/** Takes `id` out and makes it the sibling of `target`; its old parent becomes their parent. */
function reinsertNode(nodes: usize, id: i32, target: i32): void {
  const parent = load<i32>(node(nodes, id) + N_PARENT);
  const grand = load<i32>(node(nodes, parent) + N_PARENT);
  const other = sibling(nodes, parent, id);
  replaceChild(nodes, grand, parent, other);
  refit(nodes, grand);
  const above = load<i32>(node(nodes, target) + N_PARENT);
  replaceChild(nodes, above, target, parent);
  const p = node(nodes, parent);
  store<i32>(p + N_LEFT, target);
  store<i32>(p + N_RIGHT, id);
  store<i32>(node(nodes, target) + N_PARENT, parent);
  refit(nodes, parent);
}

function replaceChild(nodes: usize, parent: i32, old: i32, by: i32): void {
  const p = node(nodes, parent);
  if (load<i32>(p + N_LEFT) == old) store<i32>(p + N_LEFT, by);
  else store<i32>(p + N_RIGHT, by);
  store<i32>(node(nodes, by) + N_PARENT, parent);
}

function refit(nodes: usize, from: i32): void {
  let i = from;
  while (i >= 0) {
    const n = node(nodes, i);
    const l = node(nodes, load<i32>(n + N_LEFT)), r = node(nodes, load<i32>(n + N_RIGHT));
    v128.store(n + N_MIN, f32x4.min(v128.load(l + N_MIN), v128.load(r + N_MIN)));
    v128.store(n + N_MAX, f32x4.max(v128.load(l + N_MAX), v128.load(r + N_MAX)));
    i = load<i32>(n + N_PARENT);
  }
}
