/**
 * A ray as walks read it: prepared once, 16 bytes apart by axis so that parts are splat by one load.
 * The shear is that of Woop, Benthin, Wald, "Watertight ray/triangle intersection", 2013.
 */
import { NODE_MIN, NODE_MAX } from "../layout";

// Origin, inverse and direction by axis, then the shear of the triangle test and the offsets of the near planes.
export const R_INVERSE: usize = 48;
export const R_DIRECTION: usize = 96;
export const R_KX: usize = 144;
export const R_KY: usize = 148;
export const R_KZ: usize = 152;
export const R_SX: usize = 160;
export const R_SY: usize = 164;
export const R_SZ: usize = 168;
export const R_NEAR: usize = 172; // u32[3]
export const R_BYTES: usize = 192;

const INVERSE_LIMIT: f32 = 1e18;
/** From a near plane to the far one, in a node. */
export const PLANES: usize = NODE_MAX - NODE_MIN;

// @ts-ignore: decorator
@inline
function inverseOf(d: f32): f32 {
  const i: f32 = <f32>1 / d;
  return f32.min(f32.max(i, -INVERSE_LIMIT), INVERSE_LIMIT);
}

/** Prepares a ray at r, R_BYTES; the direction may have any length. */
// @ts-ignore: decorator
@inline
export function setRay(r: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  store<f32>(r, ox);
  store<f32>(r + 16, oy);
  store<f32>(r + 32, oz);
  const ix = inverseOf(dx), iy = inverseOf(dy), iz = inverseOf(dz);
  store<f32>(r + R_INVERSE, ix);
  store<f32>(r + R_INVERSE + 16, iy);
  store<f32>(r + R_INVERSE + 32, iz);
  store<f32>(r + R_DIRECTION, dx);
  store<f32>(r + R_DIRECTION + 16, dy);
  store<f32>(r + R_DIRECTION + 32, dz);
  store<u32>(r + R_NEAR, (reinterpret<u32>(ix) >> 31) * <u32>PLANES);
  store<u32>(r + R_NEAR + 4, (reinterpret<u32>(iy) >> 31) * <u32>PLANES + 16);
  store<u32>(r + R_NEAR + 8, (reinterpret<u32>(iz) >> 31) * <u32>PLANES + 32);
  const ax = abs(dx), ay = abs(dy), az = abs(dz);
  // The axis of the largest component, by selects; the other two follow in turn.
  const kz = select<u32>(select<u32>(0, 32, ax >= az), select<u32>(16, 32, ay >= az), ax >= ay);
  const kx = select<u32>(0, kz + 16, kz == 32);
  const ky = select<u32>(0, kx + 16, kx == 32);
  store<u32>(r + R_KX, kx);
  store<u32>(r + R_KY, ky);
  store<u32>(r + R_KZ, kz);
  const sz: f32 = <f32>1 / load<f32>(r + R_DIRECTION + kz);
  store<f32>(r + R_SX, load<f32>(r + R_DIRECTION + kx) * sz);
  store<f32>(r + R_SY, load<f32>(r + R_DIRECTION + ky) * sz);
  store<f32>(r + R_SZ, sz);
}
