/**
 * What single rays meet, for checks before a run: no light, no samples. Rays go straight on through what lets light
 * through, and count it.
 */
import {
  CAMERA_RAYS, FRAME_EXTENT, FRAME_HEIGHT, FRAME_INSTANCES, FRAME_ROOT, FRAME_TREE, FRAME_WIDTH, INSTANCE_FLAGS, INSTANCE_PART, PROBE_BACK,
  PROBE_BYTES, PROBE_DEPTH, PROBE_DISTANCE, PROBE_INTERFACES, PROBE_NORMAL, PROBE_PART, PROBE_SOLID_DISTANCE, PROBE_SOLID_PART, QUERY_BYTES,
  QUERY_DIRECTION, QUERY_FAR, QUERY_ORIGIN, TRANSPARENT,
} from "../layout";
import { hitDistance, hitInstance, hitPlaneIndex } from "../intersect/hit";
import { geoX, geoY, geoZ, loadSurface } from "../intersect/intersectionData";
import { setShutterTime } from "../intersect/shutter";
import { closestHit } from "../intersect/traverse";
import { cameraRay, eyeX, eyeY, eyeZ, rayDepth, rayStart, rayX, rayY, rayZ } from "./camera";

/** Surfaces that a ray passes at most. */
const MAX_INTERFACES: u32 = 64;
/** How far beyond a surface the ray goes on, in extents of the scene. */
const STEP: f32 = 1e-5;

/** Answers the ray from o towards d, a vector of any length in whose multiples distances are, at p; `start` is added to each of them. */
function probeRay(frame: usize, p: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32, start: f32, depth: f32): void {
  const base = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  const step: f32 = STEP * load<f32>(frame + FRAME_EXTENT) / sqrt<f32>(dx * dx + dy * dy + dz * dz);
  store<f32>(p, f32.POSITIVE_INFINITY, PROBE_DISTANCE);
  store<f32>(p, f32.POSITIVE_INFINITY, PROBE_DEPTH);
  store<i32>(p, -1, PROBE_PART);
  store<f32>(p, f32.POSITIVE_INFINITY, PROBE_SOLID_DISTANCE);
  store<i32>(p, -1, PROBE_SOLID_PART);
  store<u32>(p, 0, PROBE_BACK);
  memory.fill(p + PROBE_NORMAL, 0, 12);
  let gone: f32 = 0;
  let interfaces: u32 = 0;
  while (interfaces < MAX_INTERFACES && closestHit(base, root, at, CAMERA_RAYS, ox + gone * dx, oy + gone * dy, oz + gone * dz, dx, dy, dz, far - gone)) {
    const t: f32 = gone + hitDistance;
    const part = <i32>load<u32>(hitInstance + INSTANCE_PART);
    if (interfaces == 0) {
      const outside = loadSurface(dx, dy, dz);
      store<f32>(p, start + t, PROBE_DISTANCE);
      store<f32>(p, (start + t) * depth, PROBE_DEPTH);
      store<i32>(p, part, PROBE_PART);
      store<u32>(p, outside ? 0 : 1, PROBE_BACK);
      store<f32>(p, geoX, PROBE_NORMAL);
      store<f32>(p, geoY, PROBE_NORMAL + 4);
      store<f32>(p, geoZ, PROBE_NORMAL + 8);
    }
    // A cap is solid, whatever it closes.
    if (hitPlaneIndex != 0 || (load<u32>(hitInstance + INSTANCE_FLAGS) & TRANSPARENT) == 0) {
      store<f32>(p, start + t, PROBE_SOLID_DISTANCE);
      store<i32>(p, part, PROBE_SOLID_PART);
      break;
    }
    interfaces++;
    gone = t + step;
    if (!(gone < far)) break;
  }
  store<u32>(p, interfaces, PROBE_INTERFACES);
}

/** The ray through the middle of each pixel as the shutter opens, through the middle of the lens: PROBE records at `out`, row by row. */
export function probePixels(frame: usize, out: usize): void {
  const width = load<u32>(frame + FRAME_WIDTH), height = load<u32>(frame + FRAME_HEIGHT);
  setShutterTime(frame, 0);
  for (let y: u32 = 0; y < height; y++) {
    for (let x: u32 = 0; x < width; x++) {
      cameraRay(frame, <f32>x + <f32>0.5, <f32>y + <f32>0.5, 0, 0, 0);
      probeRay(frame, out + <usize>(y * width + x) * PROBE_BYTES, eyeX, eyeY, eyeZ, rayX, rayY, rayZ, f32.MAX_VALUE, rayStart, rayDepth);
    }
  }
}

/** Answers `count` rays (QUERY records) with PROBE records, cut as the frame has it; depths are distances. */
export function probeRays(frame: usize, rays: usize, out: usize, count: i32): void {
  setShutterTime(frame, 0);
  for (let i: i32 = 0; i < count; i++) {
    const r = rays + <usize>i * QUERY_BYTES;
    probeRay(
      frame, out + <usize>i * PROBE_BYTES,
      load<f32>(r, QUERY_ORIGIN), load<f32>(r, QUERY_ORIGIN + 4), load<f32>(r, QUERY_ORIGIN + 8),
      load<f32>(r, QUERY_DIRECTION), load<f32>(r, QUERY_DIRECTION + 4), load<f32>(r, QUERY_DIRECTION + 8),
      load<f32>(r, QUERY_FAR), 0, 1,
    );
  }
}
