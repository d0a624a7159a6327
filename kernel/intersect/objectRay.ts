/** The world's ray as an instance sees it. */
import { INSTANCE_INVERSE, UNTRANSFORMED, MOVING } from "../layout";
import { R_DIRECTION, setRay } from "./ray";
import { worldRay, objectRay } from "./walk";
import { hasMotion, isTilted, turnAboutAxis, turnCos, turnSin, turnedX, turnedY, turnedZ, pivotX, pivotY, pivotZ } from "./shutter";

/** Writes a ray of the world as the instance sees it. */
// @ts-ignore: decorator
@inline
function transformRay(at: usize, r: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  const m = at + INSTANCE_INVERSE;
  setRay(
    r,
    load<f32>(m) * ox + load<f32>(m, 4) * oy + load<f32>(m, 8) * oz + load<f32>(m, 12),
    load<f32>(m, 16) * ox + load<f32>(m, 20) * oy + load<f32>(m, 24) * oz + load<f32>(m, 28),
    load<f32>(m, 32) * ox + load<f32>(m, 36) * oy + load<f32>(m, 40) * oz + load<f32>(m, 44),
    load<f32>(m) * dx + load<f32>(m, 4) * dy + load<f32>(m, 8) * dz,
    load<f32>(m, 16) * dx + load<f32>(m, 20) * dy + load<f32>(m, 24) * dz,
    load<f32>(m, 32) * dx + load<f32>(m, 36) * dy + load<f32>(m, 40) * dz,
  );
}

/** The world's ray as the instance sees it: moved by its inverse, and turned back where it turns. */
export function toObjectRay(at: usize, flags: u32): usize {
  if ((flags & UNTRANSFORMED) != 0) return worldRay;
  const w = worldRay;
  let ox = load<f32>(w), oy = load<f32>(w, 16), oz = load<f32>(w, 32);
  let dx = load<f32>(w + R_DIRECTION), dy = load<f32>(w + R_DIRECTION, 16), dz = load<f32>(w + R_DIRECTION, 32);
  if (hasMotion && (flags & MOVING) != 0) {
    if (isTilted) {
      turnAboutAxis(ox - pivotX, oy - pivotY, oz - pivotZ, -turnSin);
      ox = pivotX + turnedX;
      oy = pivotY + turnedY;
      oz = pivotZ + turnedZ;
      turnAboutAxis(dx, dy, dz, -turnSin);
      dx = turnedX;
      dy = turnedY;
      dz = turnedZ;
    } else {
      const x: f32 = ox - pivotX, z: f32 = oz - pivotZ, ex = dx, ez = dz;
      ox = pivotX + turnCos * x - turnSin * z;
      oz = pivotZ + turnSin * x + turnCos * z;
      dx = turnCos * ex - turnSin * ez;
      dz = turnSin * ex + turnCos * ez;
    }
  }
  transformRay(at, objectRay, ox, oy, oz, dx, dy, dz);
  return objectRay;
}

/** Writes the world's ray `w` at `r` as the instance sees it. */
export function advanceRay(at: usize, w: usize, r: usize): void {
  transformRay(
    at, r, load<f32>(w), load<f32>(w, 16), load<f32>(w, 32),
    load<f32>(w + R_DIRECTION), load<f32>(w + R_DIRECTION, 16), load<f32>(w + R_DIRECTION, 32),
  );
}
