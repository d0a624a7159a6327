/**
 * A node of the binary tree, 48 bytes (BUILD_NODE_BYTES):
 *   0 min xyz 0 | 16 max xyz 0 | 32 left | 36 right | 40 parent | 44 first
 * A leaf has left = -count and its primitives are leaves[first .. first + count).
 */
import { BUILD_NODE_BYTES } from "../layout";

export const N_MIN: usize = 0;
export const N_MAX: usize = 16;
export const N_LEFT: usize = 32;
export const N_RIGHT: usize = 36;
export const N_PARENT: usize = 40;
export const N_FIRST: usize = 44;

// @ts-ignore: decorator
/** Address of a node. */
@inline
export function node(nodes: usize, i: i32): usize {
  return nodes + (<usize>i) * BUILD_NODE_BYTES;
}

// @ts-ignore: decorator
/** Half of a box's surface, for the surface area heuristic. */
@inline
export function halfArea(lo: v128, hi: v128): f32 {
  const d = f32x4.sub(hi, lo);
  const x = f32x4.extract_lane(d, 0);
  const y = f32x4.extract_lane(d, 1);
  const z = f32x4.extract_lane(d, 2);
  return x * y + y * z + z * x;
}

// @ts-ignore: decorator
/** Packets that hold n triangles. */
@inline
export function packBlocks(n: i32, leafSize: i32): i32 {
  return leafSize == 4 ? (n + 3) >> 2 : n;
}
