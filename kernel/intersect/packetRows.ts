/** Rays of a packet side by side, so that four are asked at once. */
import { PACKET_RAYS } from "../layout";
import { R_INVERSE, PLANES } from "./ray";

// Rays side by side: origin and inverse by axis, then the distance so far, 64 bytes each.
export const ROW: usize = 64;
export const INVERSES: usize = 3 * ROW;
export const DISTANCES: usize = 6 * ROW;
export const ROWS_BYTES: usize = 7 * ROW;

/** Writes the ray at r as the k-th of those side by side. */
// @ts-ignore: decorator
@inline
export function boundRows(r: usize, rows: usize, k: usize): void {
  const to = rows + (k << 2);
  for (let a: usize = 0; a < 3; a++) {
    store<f32>(to + a * ROW, load<f32>(r + (a << 4)));
    store<f32>(to + INVERSES + a * ROW, load<f32>(r + R_INVERSE + (a << 4)));
  }
}

/** Fills places without a ray of the mask with the first that is there, at a distance where nothing is met. */
export function padPacket(rows: usize, mask: u32): void {
  const first = <usize>ctz(mask) << 2;
  for (let k: u32 = 0; k < <u32>PACKET_RAYS; k++) {
    if ((mask >> k & 1) != 0) continue;
    const to = rows + (<usize>k << 2);
    for (let a: usize = 0; a < 6; a++) store<f32>(to + a * ROW, load<f32>(rows + first + a * ROW));
    store<f32>(to + DISTANCES, -1);
  }
}

/** Whether all rays go the same way along every axis. */
export function sameDirectionSigns(rows: usize): bool {
  for (let a: usize = 0; a < 3; a++) {
    const p = rows + INVERSES + a * ROW;
    const signs = i32x4.bitmask(v128.load(p)) | i32x4.bitmask(v128.load(p, 16)) << 4 | i32x4.bitmask(v128.load(p, 32)) << 8 | i32x4.bitmask(v128.load(p, 48)) << 12;
    if (signs != 0 && signs != 0xffff) return false;
  }
  return true;
}

/** Least of a row, in all four lanes. */
// @ts-ignore: decorator
@inline
export function min4(p: usize): v128 {
  const v = f32x4.pmin(f32x4.pmin(v128.load(p), v128.load(p, 16)), f32x4.pmin(v128.load(p, 32), v128.load(p, 48)));
  const w = f32x4.pmin(v, v128.shuffle<i32>(v, v, 2, 3, 0, 1));
  return f32x4.pmin(w, v128.shuffle<i32>(w, w, 1, 0, 3, 2));
}

/** Greatest of a row, in all four lanes. */
// @ts-ignore: decorator
@inline
export function max4(p: usize): v128 {
  const v = f32x4.pmax(f32x4.pmax(v128.load(p), v128.load(p, 16)), f32x4.pmax(v128.load(p, 32), v128.load(p, 48)));
  const w = f32x4.pmax(v, v128.shuffle<i32>(v, v, 2, 3, 0, 1));
  return f32x4.pmax(w, v128.shuffle<i32>(w, w, 1, 0, 3, 2));
}

/** Which rays meet the box of a node's child, one bit each. */
// @ts-ignore: decorator
@inline
export function intersectBox(rows: usize, child: usize, nx: usize, ny: usize, nz: usize): u32 {
  const x0 = v128.load32_splat(child + nx), y0 = v128.load32_splat(child + ny), z0 = v128.load32_splat(child + nz);
  const x1 = v128.load32_splat(child + PLANES - nx), y1 = v128.load32_splat(child + PLANES + 32 - ny), z1 = v128.load32_splat(child + PLANES + 64 - nz);
  const zero = f32x4.splat(0);
  let met: u32 = 0;
  for (let g: usize = 0; g < 4; g++) {
    const p = rows + (g << 4);
    const ox = v128.load(p), oy = v128.load(p, ROW), oz = v128.load(p, 2 * ROW);
    const ix = v128.load(p, INVERSES), iy = v128.load(p, INVERSES + ROW), iz = v128.load(p, INVERSES + 2 * ROW);
    const tn = f32x4.pmax(
      f32x4.pmax(f32x4.mul(f32x4.sub(x0, ox), ix), f32x4.mul(f32x4.sub(y0, oy), iy)),
      f32x4.pmax(f32x4.mul(f32x4.sub(z0, oz), iz), zero),
    );
    const tf = f32x4.pmin(
      f32x4.pmin(f32x4.mul(f32x4.sub(x1, ox), ix), f32x4.mul(f32x4.sub(y1, oy), iy)),
      f32x4.pmin(f32x4.mul(f32x4.sub(z1, oz), iz), v128.load(p, DISTANCES)),
    );
    met |= <u32>i32x4.bitmask(f32x4.le(tn, tf)) << <u32>(g << 2);
  }
  return met;
}
