/** Four triangles at a time: Woop, Benthin, Wald, "Watertight ray/triangle intersection", 2013. */
import { BLOCK_V1, BLOCK_V2 } from "../layout";
import { R_KX, R_KY, R_KZ, R_SX, R_SY, R_SZ } from "./ray";
import { ClosestInMesh, currentInstance, keys } from "./walk";
import { hitNear, hitDistance, hitBlock, hitLane, hitU, hitV, hitInstance, hitPlaneIndex } from "./hit";

/** Tests one packet; true where a nearer hit was found and kept. */
// @ts-ignore: decorator
@inline
export function intersectTriangles<Walk>(p: usize, r: usize): bool {
  const kx = <usize>load<u32>(r + R_KX), ky = <usize>load<u32>(r + R_KY), kz = <usize>load<u32>(r + R_KZ);
  const ox = v128.load32_splat(r + kx), oy = v128.load32_splat(r + ky), oz = v128.load32_splat(r + kz);
  const sx = v128.load32_splat(r, R_SX), sy = v128.load32_splat(r, R_SY), sz = v128.load32_splat(r, R_SZ);
  const az = f32x4.sub(v128.load(p + kz), oz);
  const bz = f32x4.sub(v128.load(p + kz, BLOCK_V1), oz);
  const cz = f32x4.sub(v128.load(p + kz, BLOCK_V2), oz);
  const ax = f32x4.sub(f32x4.sub(v128.load(p + kx), ox), f32x4.mul(sx, az));
  const ay = f32x4.sub(f32x4.sub(v128.load(p + ky), oy), f32x4.mul(sy, az));
  const bx = f32x4.sub(f32x4.sub(v128.load(p + kx, BLOCK_V1), ox), f32x4.mul(sx, bz));
  const by = f32x4.sub(f32x4.sub(v128.load(p + ky, BLOCK_V1), oy), f32x4.mul(sy, bz));
  const cx = f32x4.sub(f32x4.sub(v128.load(p + kx, BLOCK_V2), ox), f32x4.mul(sx, cz));
  const cy = f32x4.sub(f32x4.sub(v128.load(p + ky, BLOCK_V2), oy), f32x4.mul(sy, cz));
  const u = f32x4.sub(f32x4.mul(cx, by), f32x4.mul(cy, bx));
  const v = f32x4.sub(f32x4.mul(ax, cy), f32x4.mul(ay, cx));
  const w = f32x4.sub(f32x4.mul(bx, ay), f32x4.mul(by, ax));
  const zero = f32x4.splat(0);
  const inside = v128.or(
    f32x4.ge(f32x4.pmin(f32x4.pmin(u, v), w), zero),
    f32x4.le(f32x4.pmax(f32x4.pmax(u, v), w), zero),
  );
  if (!v128.any_true(inside)) return false;
  const det = f32x4.add(f32x4.add(u, v), w);
  const t = f32x4.div(
    f32x4.mul(sz, f32x4.add(f32x4.add(f32x4.mul(u, az), f32x4.mul(v, bz)), f32x4.mul(w, cz))),
    det,
  );
  const nearer = sizeof<Walk>() == 2 ? f32x4.lt(t, f32x4.splat(hitDistance)) : f32x4.le(t, f32x4.splat(hitDistance));
  const valid = v128.and(v128.and(inside, f32x4.ne(det, zero)), v128.and(f32x4.gt(t, f32x4.splat(hitNear)), nearer));
  let mask = i32x4.bitmask(valid);
  if (mask == 0) return false;
  if (sizeof<Walk>() == 2) return true;
  v128.store(keys, t);
  let lane: usize = 4;
  let best = hitDistance;
  // Of equal distances the first in memory counts, so that the order in which they are met does not.
  const wins = p < hitBlock || (p == hitBlock && currentInstance < hitInstance);
  while (mask != 0) {
    const l = <usize>ctz(mask);
    mask &= mask - 1;
    const d = load<f32>(keys + (l << 2));
    if (d < best || (wins && lane == 4)) {
      best = d;
      lane = l;
    }
  }
  if (lane == 4) return false;
  v128.store(keys, f32x4.div(v, det));
  v128.store(keys, f32x4.div(w, det), 16);
  hitU = load<f32>(keys + (lane << 2));
  hitV = load<f32>(keys + (lane << 2), 16);
  hitDistance = best;
  hitBlock = p;
  hitLane = lane;
  hitPlaneIndex = 0;
  return true;
}

/** True where a ray has a nearer hit in a packet of the present instance. */
export function intersectTrianglesOf(p: usize, r: usize): bool {
  if (!intersectTriangles<ClosestInMesh>(p, r)) return false;
  hitInstance = currentInstance;
  return true;
}
