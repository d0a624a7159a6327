/** What the host calls. All memory is the host's; see layout.ts for what lies where. */
import {
  BUILD_BOX_BYTES, BUILD_NODE_BYTES, BUILD_SCRATCH_FIXED, FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES,
  QUERY_ORIGIN, QUERY_DIRECTION, QUERY_FAR, QUERY_BYTES, PACKET_RAYS, HIT_DISTANCE, HIT_TRIANGLE, HIT_INSTANCE, HIT_BYTES, INSTANCE_BYTES,
} from "./layout";
import { buildBinary } from "./bvh/build";
import { setSplits, vertex } from "./bvh/spatialSplit";
import { reinsertionPass } from "./bvh/reinsertion";
import { collapseCosts, emit } from "./bvh/wideBvh";
import { beginPacket, addRay, closestHitPacket, loadHit } from "./intersect/rayPacket";
import { closestHit, anyHit } from "./intersect/traverse";
import { hitDistance, hitInstance, hitTriangle } from "./intersect/hit";

export { emittedBytes } from "./bvh/wideBvh";
export { setWorkerScratch } from "./intersect/walk";
export { renderTile } from "./film/tile";
export { probePixels, probeRays } from "./film/probe";
export { estimateNeed } from "./film/adaptive";
export { denoisePrepare, denoiseSmooth, denoiseLevel } from "./film/denoise";
export { denoiseFinish } from "./film/denoiseFinish";
export { ciede2000OfPair } from "./compare/ciede2000";
export { differenceOfRows, differenceScratchBytes, shrinkLightness } from "./compare/difference";
export { planeBytes, inPlane } from "./compare/plane";
export { gradePixels } from "./grade/grade";
export { ssimOfPlanes, ssimScratchBytes } from "./compare/ssim";

/** Boxes are widened by this many units in the last place of the scene's extent. */
const PAD_ULPS: f32 = 4;
const ULP: f32 = 1.1920929e-7;

/**
 * Builds the tree of a mesh at `out` and returns the reference of its root. Up to `extra` times a triangle
 * may be met in one packet more.
 * Scratch: BUILD_SCRATCH_FIXED + (count + extra) * BUILD_SCRATCH_PER_PRIMITIVE bytes, 16-byte aligned.
 */
export function buildMesh(positions: usize, indices: usize, count: i32, extra: i32, scratch: usize, out: usize): i32 {
  const boxes = scratch + BUILD_SCRATCH_FIXED;
  let lo = f32x4.splat(f32.MAX_VALUE), hi = f32x4.splat(-f32.MAX_VALUE);
  for (let i: i32 = 0; i < count; i++) {
    const t = indices + <usize>i * 12;
    const a = vertex(positions, load<u32>(t)), b = vertex(positions, load<u32>(t, 4)), c = vertex(positions, load<u32>(t, 8));
    const mn = f32x4.min(f32x4.min(a, b), c), mx = f32x4.max(f32x4.max(a, b), c);
    const o = boxes + <usize>i * BUILD_BOX_BYTES;
    v128.store(o, mn);
    v128.store(o, mx, 16);
    lo = f32x4.min(lo, mn);
    hi = f32x4.max(hi, mx);
  }
  const far = f32x4.max(f32x4.abs(lo), f32x4.abs(hi));
  const extent = max(f32x4.extract_lane(far, 0), max(f32x4.extract_lane(far, 1), f32x4.extract_lane(far, 2)));
  const p: f32 = extent * PAD_ULPS * ULP;
  const pad = f32x4.replace_lane(f32x4.splat(p), 3, 0);
  for (let i: i32 = 0; i < count; i++) {
    const o = boxes + <usize>i * BUILD_BOX_BYTES;
    v128.store(o, f32x4.sub(v128.load(o), pad));
    v128.store(o, f32x4.add(v128.load(o, 16), pad), 16);
  }
  return writeRoot(boxes, count, count + extra, 4, p, scratch, positions, indices, out);
}

/** Builds a scene tree over boxes that lie at scratch + BUILD_SCRATCH_FIXED, one instance a leaf. */
export function buildScene(count: i32, scratch: usize, out: usize): i32 {
  return writeRoot(scratch + BUILD_SCRATCH_FIXED, count, count, 1, 0, scratch, 0, 0, out);
}

function writeRoot(boxes: usize, count: i32, most: i32, leafSize: i32, pad: f32, scratch: usize, positions: usize, indices: usize, out: usize): i32 {
  // Fixed part: slots of a node, bins, then the stack. Variable part: boxes, ids, order, leaves, nodes, costs, list.
  const slots = scratch, bins = scratch + 64, stack = scratch + 16384;
  const room = <usize>most;
  const ids = boxes + room * BUILD_BOX_BYTES;
  const order = ids + (room << 2);
  const leaves = order + (room << 3);
  const nodes = (leaves + (room << 2) + 15) & ~15;
  const costs = nodes + 2 * room * BUILD_NODE_BYTES;
  const list = costs + (2 * room << 4);
  for (let i: i32 = 0; i < count; i++) store<i32>(ids + (<usize>i << 2), i);
  setSplits(positions, indices, boxes, ids, pad, count, most);
  const used = buildBinary(boxes, ids, count, leafSize, order, leaves, nodes, bins, stack);
  reinsertionPass(nodes, used, stack);
  collapseCosts(nodes, used, costs, list);
  return emit(nodes, costs, leaves, positions, indices, slots, out);
}

/** Answers `count` ray queries of the frame's scene; any-hit where `any` is not 0. */
export function query(frame: usize, rays: usize, hits: usize, count: i32, any: i32, mask: u32): void {
  const base = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  for (let i: i32 = 0; i < count; i++) {
    const r = rays + <usize>i * QUERY_BYTES, h = hits + <usize>i * HIT_BYTES;
    const ox = load<f32>(r, QUERY_ORIGIN), oy = load<f32>(r, QUERY_ORIGIN + 4), oz = load<f32>(r, QUERY_ORIGIN + 8);
    const dx = load<f32>(r, QUERY_DIRECTION), dy = load<f32>(r, QUERY_DIRECTION + 4), dz = load<f32>(r, QUERY_DIRECTION + 8);
    const far = load<f32>(r, QUERY_FAR);
    if (any) {
      store<u32>(h, anyHit(base, root, at, mask, ox, oy, oz, dx, dy, dz, far) ? 1 : 0, HIT_TRIANGLE);
    } else writeHit(h, at, closestHit(base, root, at, mask, ox, oy, oz, dx, dy, dz, far));
  }
}

/** Nearest hits as `query` has them, of rays that go nearly the same way in runs of BUNDLE. Nothing of the scene may be cut or move. */
export function queryTogether(frame: usize, rays: usize, hits: usize, count: i32, mask: u32): void {
  const base = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  for (let i: i32 = 0; i < count; i += PACKET_RAYS) {
    const n = min<i32>(PACKET_RAYS, count - i);
    beginPacket();
    for (let k: i32 = 0; k < n; k++) {
      const r = rays + <usize>(i + k) * QUERY_BYTES;
      addRay(
        load<f32>(r, QUERY_ORIGIN), load<f32>(r, QUERY_ORIGIN + 4), load<f32>(r, QUERY_ORIGIN + 8),
        load<f32>(r, QUERY_DIRECTION), load<f32>(r, QUERY_DIRECTION + 4), load<f32>(r, QUERY_DIRECTION + 8), load<f32>(r, QUERY_FAR),
      );
    }
    closestHitPacket(base, root, at, mask);
    for (let k: i32 = 0; k < n; k++) writeHit(hits + <usize>(i + k) * HIT_BYTES, at, loadHit(k));
  }
}

function writeHit(h: usize, at: usize, met: bool): void {
  store<f32>(h, met ? hitDistance : f32.POSITIVE_INFINITY, HIT_DISTANCE);
  store<u32>(h, met ? hitTriangle() : 0, HIT_TRIANGLE);
  store<i32>(h, met ? <i32>((hitInstance - at) / INSTANCE_BYTES) : -1, HIT_INSTANCE);
}
