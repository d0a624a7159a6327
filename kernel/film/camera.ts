/** Rays of the camera: perspective with a thin lens, parallel, or an equirectangular panorama. */
import {
  FRAME_OPEN, FRAME_CLOSE, FRAME_PROJECTION, FRAME_WIDTH, FRAME_HEIGHT, FRAME_LENS, FRAME_FOCUS, FRAME_SHUTTER, FRAME_NEAR_CLIP,
  CAMERA_EYE, CAMERA_CORNER, CAMERA_DX, CAMERA_DY, CAMERA_FORWARD,
} from "../layout";
import { sinCosTurns, sine, cosine } from "../math";

export let eyeX: f32 = 0;
export let eyeY: f32 = 0;
export let eyeZ: f32 = 0;
/** Unit direction. */
export let rayX: f32 = 0;
export let rayY: f32 = 0;
export let rayZ: f32 = 0;
/** Depth along the line of sight of one metre along the ray; 1 for a panorama. */
export let rayDepth: f32 = 1;

/** Where on the film the ray stands, in pixels from the upper left. */
export let filmX: f32 = 0;
export let filmY: f32 = 0;
/** Metres along the ray that the camera looks past: `eye` stands there. */
export let rayStart: f32 = 0;

let shutterTime: f32 = 0;
let hasMotion: bool = false;

/** A component of the camera at the moment of the ray. */
// @ts-ignore: decorator
@inline
function cameraAt(frame: usize, field: usize): f32 {
  const a = load<f32>(frame + FRAME_OPEN + field);
  if (!hasMotion) return a;
  return a + shutterTime * (load<f32>(frame + FRAME_CLOSE + field) - a);
}

/** The ray through film point (a, b), in pixels from the upper left, at the moment, by lens sample (u, v). */
export function cameraRay(frame: usize, a: f32, b: f32, moment: f32, u: f32, v: f32): void {
  filmX = a;
  filmY = b;
  advanceRay(frame, a, b, moment, u, v);
  const near = load<f32>(frame + FRAME_NEAR_CLIP);
  rayStart = near > 0 ? near / rayDepth : 0;
  eyeX += rayStart * rayX;
  eyeY += rayStart * rayY;
  eyeZ += rayStart * rayZ;
}

/** Lays the camera's ray aside, 40 bytes at p. */
export function saveRay(p: usize): void {
  store<f32>(p, eyeX);
  store<f32>(p, eyeY, 4);
  store<f32>(p, eyeZ, 8);
  store<f32>(p, rayX, 12);
  store<f32>(p, rayY, 16);
  store<f32>(p, rayZ, 20);
  store<f32>(p, rayDepth, 24);
  store<f32>(p, rayStart, 28);
  store<f32>(p, filmX, 32);
  store<f32>(p, filmY, 36);
}

/** Takes the camera's ray up that was laid aside. */
export function restoreRay(p: usize): void {
  eyeX = load<f32>(p);
  eyeY = load<f32>(p, 4);
  eyeZ = load<f32>(p, 8);
  rayX = load<f32>(p, 12);
  rayY = load<f32>(p, 16);
  rayZ = load<f32>(p, 20);
  rayDepth = load<f32>(p, 24);
  rayStart = load<f32>(p, 28);
  filmX = load<f32>(p, 32);
  filmY = load<f32>(p, 36);
}

function advanceRay(frame: usize, a: f32, b: f32, moment: f32, u: f32, v: f32): void {
  hasMotion = load<u32>(frame + FRAME_SHUTTER) != 0;
  shutterTime = moment;
  const kind = load<u32>(frame + FRAME_PROJECTION);
  eyeX = cameraAt(frame, CAMERA_EYE);
  eyeY = cameraAt(frame, CAMERA_EYE + 4);
  eyeZ = cameraAt(frame, CAMERA_EYE + 8);
  const fx = cameraAt(frame, CAMERA_FORWARD), fy = cameraAt(frame, CAMERA_FORWARD + 4), fz = cameraAt(frame, CAMERA_FORWARD + 8);
  const xx = cameraAt(frame, CAMERA_DX), xy = cameraAt(frame, CAMERA_DX + 4), xz = cameraAt(frame, CAMERA_DX + 8);
  const yx = cameraAt(frame, CAMERA_DY), yy = cameraAt(frame, CAMERA_DY + 4), yz = cameraAt(frame, CAMERA_DY + 8);
  if (kind == 2) {
    // Longitude is linear in x, latitude in y; the middle looks forward.
    sinCosTurns(a / <f32>load<u32>(frame + FRAME_WIDTH));
    const s: f32 = -sine, c: f32 = -cosine;
    sinCosTurns(b / <f32>load<u32>(frame + FRAME_HEIGHT) * <f32>0.5);
    rayX = sine * (s * xx + c * fx) - cosine * yx;
    rayY = sine * (s * xy + c * fy) - cosine * yy;
    rayZ = sine * (s * xz + c * fz) - cosine * yz;
    rayDepth = 1;
    return;
  }
  const cx: f32 = cameraAt(frame, CAMERA_CORNER) + a * xx + b * yx, cy: f32 = cameraAt(frame, CAMERA_CORNER + 4) + a * xy + b * yy, cz: f32 = cameraAt(frame, CAMERA_CORNER + 8) + a * xz + b * yz;
  if (kind == 1) {
    eyeX = cx;
    eyeY = cy;
    eyeZ = cz;
    rayX = fx;
    rayY = fy;
    rayZ = fz;
    rayDepth = 1;
    return;
  }
  let dx = cx, dy = cy, dz = cz;
  const lens = load<f32>(frame + FRAME_LENS);
  if (lens > 0) {
    const focus = load<f32>(frame + FRAME_FOCUS);
    sinCosTurns(u);
    const r: f32 = lens * sqrt<f32>(v);
    const kx: f32 = r * cosine / sqrt<f32>(xx * xx + xy * xy + xz * xz), ky: f32 = r * sine / sqrt<f32>(yx * yx + yy * yy + yz * yz);
    const ox: f32 = kx * xx + ky * yx, oy: f32 = kx * xy + ky * yy, oz: f32 = kx * xz + ky * yz;
    eyeX += ox;
    eyeY += oy;
    eyeZ += oz;
    // The image plane stands one metre ahead, so the sharp point is the direction times the focus.
    dx = cx * focus - ox;
    dy = cy * focus - oy;
    dz = cz * focus - oz;
  }
  const n: f32 = 1 / sqrt<f32>(dx * dx + dy * dy + dz * dz);
  rayX = dx * n;
  rayY = dy * n;
  rayZ = dz * n;
  rayDepth = rayX * fx + rayY * fy + rayZ * fz;
}
