/**
 * Walks the two-level tree: the scene's nodes lead to instances, an instance's mesh tree leads to
 * packets of four triangles. One walk serves nearest-hit and any-hit, of meshes and of the scene;
 * what differs is decided when it is compiled (Walk).
 *
 * Boxes: slabs, with near and far planes chosen by the sign bit of the inverse direction. The test
 * `d < 0` is wrong for -0.0, whose reciprocal is negative.
 * Triangles: Woop, Benthin, Wald, "Watertight ray/triangle intersection", 2013, four at a time.
 */
import {
  NODE_CHILD, BLOCK_V0, BLOCK_V1, BLOCK_V2, BLOCK_ID,
  INSTANCE_INVERSE, INSTANCE_MESH, INSTANCE_FLAGS, INSTANCE_FIRST, INSTANCE_COUNT, INSTANCE_BYTES,
  UNTRANSFORMED, MOVING, LIGHT_SHAPE, CUT_SHIFT, MESH_TREE, MESH_ROOT, PLANE_NORMAL, PLANE_OFFSET, PLANE_CHANGE, PLANE_BYTES,
  LIGHT_KIND, LIGHT_CENTRE, LIGHT_U, LIGHT_V, LIGHT_NORMAL, LIGHT_DISC,
  FRAME_SHUTTER, FRAME_TURN, FRAME_PIVOT_X, FRAME_PIVOT_Z, FRAME_PLANES, FRAME_PLANE_COUNT,
} from "../layout";
import { sinCosTurns, sine, cosine } from "../math";
import { R_INVERSE, R_DIRECTION, R_KX, R_KY, R_KZ, R_SX, R_SY, R_SZ, R_NEAR, PLANES, setRay } from "./ray";

// Kinds of walk, told apart by their size when compiled.
type ClosestInMesh = i8;
type AnyInMesh = i16;
type ClosestInScene = i32;
type AnyInScene = i64;

let worldRay: usize = 0;
let objectRay: usize = 0;
let keys: usize = 0;
/** Where rays that go together have their room. */
export let packetBase: usize = 0;
let sceneStack: usize = 0;
let meshStack: usize = 0;
/** Where paths keep the branches that wait, 64 bytes each. */
export let branchScratch: usize = 0;

let instanceRecords: usize = 0;
/** Instance whose mesh is walked. */
let currentInstance: usize = 0;
let rayMask: u32 = 0;

/** Hits at or before this distance do not count; not 0 only within a cut instance. */
let hitNear: f32 = 0;
/** First record of the cut part that the present ray asked last: asking it as a whole again, from another of its instances, tells nothing new. */
let queriedPart: usize = 0;
/** The plane whose cap was hit, where hitPacket is 0. */
export let hitPlaneIndex: usize = 0;

// The moment of the shutter that rays belong to, and what that means for MOVING instances and planes.
let shutterTime: f32 = 0;
let hasMotion: bool = false;
/** Cosine and sine of what MOVING instances have turned by at this moment. */
export let turnCos: f32 = 1;
export let turnSin: f32 = 0;
let pivotX: f32 = 0;
let pivotZ: f32 = 0;
let planes: usize = 0;
let planeCount: u32 = 0;

/** Sets the moment (0 the shutter opens, 1 it closes) for the rays that follow. */
export function setShutterTime(frame: usize, time: f32): void {
  shutterTime = time;
  hasMotion = load<u32>(frame + FRAME_SHUTTER) != 0;
  planes = <usize>load<u32>(frame + FRAME_PLANES);
  planeCount = load<u32>(frame + FRAME_PLANE_COUNT);
  turnCos = 1;
  turnSin = 0;
  if (!hasMotion) return;
  const share: f32 = load<f32>(frame + FRAME_TURN) * time * <f32>0.15915494309189535;
  sinCosTurns(share - floor<f32>(share));
  turnCos = cosine;
  turnSin = sine;
  pivotX = load<f32>(frame + FRAME_PIVOT_X);
  pivotZ = load<f32>(frame + FRAME_PIVOT_Z);
}

/** The present interval's far end; the hit's distance after a walk that met something. */
export let hitDistance: f32 = 0;
/** Packet and lane of the hit triangle; 0 before anything is hit. */
export let hitBlock: usize = 0;
export let hitLane: usize = 0;
/** Weights of the second and third vertex. */
export let hitU: f32 = 0;
export let hitV: f32 = 0;
/** Record of the instance that was hit. */
export let hitInstance: usize = 0;

/** Gives this worker its own scratch (WORKER_BYTES). */
export function setWorkerScratch(scratch: usize): void {
  worldRay = scratch;
  objectRay = scratch + 256;
  keys = scratch + 512;
  branchScratch = scratch + 576;
  sceneStack = scratch + 1024;
  meshStack = scratch + 16384;
  packetBase = scratch + 65536;
}

export function hitTriangle(): u32 {
  return load<u32>(hitBlock + BLOCK_ID + (hitLane << 2));
}

/** Tests one packet; true where a nearer hit was found and kept. */
// @ts-ignore: decorator
@inline
function intersectTriangles<Walk>(p: usize, r: usize): bool {
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

/** The world's ray as the instance sees it: moved by its inverse, and turned back where it turns. */
function toObjectRay(at: usize, flags: u32): usize {
  if ((flags & UNTRANSFORMED) != 0) return worldRay;
  const w = worldRay;
  let ox = load<f32>(w), oz = load<f32>(w, 32);
  const oy = load<f32>(w, 16);
  let dx = load<f32>(w + R_DIRECTION), dz = load<f32>(w + R_DIRECTION, 32);
  const dy = load<f32>(w + R_DIRECTION, 16);
  if (hasMotion && (flags & MOVING) != 0) {
    const x: f32 = ox - pivotX, z: f32 = oz - pivotZ, ex = dx, ez = dz;
    ox = pivotX + turnCos * x - turnSin * z;
    oz = pivotZ + turnSin * x + turnCos * z;
    dx = turnCos * ex - turnSin * ez;
    dz = turnSin * ex + turnCos * ez;
  }
  transformRay(at, objectRay, ox, oy, oz, dx, dy, dz);
  return objectRay;
}

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

/** Walks the mesh of an instance. */
function meetInstance<Walk>(index: i32): bool {
  const at = instanceRecords + <usize>index * INSTANCE_BYTES;
  const flags = load<u32>(at + INSTANCE_FLAGS);
  if ((flags & rayMask) == 0) return false;
  if ((flags & LIGHT_SHAPE) != 0) {
    if (sizeof<Walk>() == 8 || !intersectLightShape(<usize>load<u32>(at + INSTANCE_MESH))) return false;
    hitInstance = at;
    hitBlock = 0;
    hitPlaneIndex = 0;
    return true;
  }
  const r = toObjectRay(at, flags);
  const cut = flags >> CUT_SHIFT;
  if (cut != 0 && planeCount != 0) return intersectClipped<Walk>(at, cut, r);
  const mesh = <usize>load<u32>(at + INSTANCE_MESH);
  const base = <usize>load<u32>(mesh + MESH_TREE);
  const root = load<i32>(mesh + MESH_ROOT);
  if (sizeof<Walk>() == 8) return traverse<AnyInMesh>(base, root, r, meshStack);
  currentInstance = at;
  if (traverse<ClosestInMesh>(base, root, r, meshStack)) {
    hitInstance = at;
    return true;
  }
  return false;
}

/** A lamp's rectangle or disc, met on the side that shines. */
function intersectLightShape(lamp: usize): bool {
  const w = worldRay;
  const dx = load<f32>(w + R_DIRECTION), dy = load<f32>(w + R_DIRECTION, 16), dz = load<f32>(w + R_DIRECTION, 32);
  const nx = load<f32>(lamp, LIGHT_NORMAL), ny = load<f32>(lamp, LIGHT_NORMAL + 4), nz = load<f32>(lamp, LIGHT_NORMAL + 8);
  const c: f32 = -(dx * nx + dy * ny + dz * nz);
  if (!(c > 0)) return false;
  const x: f32 = load<f32>(lamp, LIGHT_CENTRE) - load<f32>(w), y: f32 = load<f32>(lamp, LIGHT_CENTRE + 4) - load<f32>(w, 16), z: f32 = load<f32>(lamp, LIGHT_CENTRE + 8) - load<f32>(w, 32);
  const t: f32 = -(x * nx + y * ny + z * nz) / c;
  if (!(t > hitNear && t < hitDistance)) return false;
  const hx: f32 = t * dx - x, hy: f32 = t * dy - y, hz: f32 = t * dz - z;
  const ux = load<f32>(lamp, LIGHT_U), uy = load<f32>(lamp, LIGHT_U + 4), uz = load<f32>(lamp, LIGHT_U + 8);
  if (load<u32>(lamp + LIGHT_KIND) == LIGHT_DISC) {
    if (hx * hx + hy * hy + hz * hz > ux * ux + uy * uy + uz * uz) return false;
  } else {
    const vx = load<f32>(lamp, LIGHT_V), vy = load<f32>(lamp, LIGHT_V + 4), vz = load<f32>(lamp, LIGHT_V + 8);
    if (abs<f32>(hx * ux + hy * uy + hz * uz) * 2 > ux * ux + uy * uy + uz * uz) return false;
    if (abs<f32>(hx * vx + hy * vy + hz * vz) * 2 > vx * vx + vy * vy + vz * vz) return false;
  }
  hitDistance = t;
  return true;
}

/** Whether the hit triangle turns its back to the ray. */
function isBackFace(r: usize): bool {
  const p = hitBlock + (hitLane << 2);
  const ax = load<f32>(p, BLOCK_V0), ay = load<f32>(p, BLOCK_V0 + 16), az = load<f32>(p, BLOCK_V0 + 32);
  const ux: f32 = load<f32>(p, BLOCK_V1) - ax, uy: f32 = load<f32>(p, BLOCK_V1 + 16) - ay, uz: f32 = load<f32>(p, BLOCK_V1 + 32) - az;
  const vx: f32 = load<f32>(p, BLOCK_V2) - ax, vy: f32 = load<f32>(p, BLOCK_V2 + 16) - ay, vz: f32 = load<f32>(p, BLOCK_V2 + 32) - az;
  const dx = load<f32>(r + R_DIRECTION), dy = load<f32>(r + R_DIRECTION, 16), dz = load<f32>(r + R_DIRECTION, 32);
  return (uy * vz - uz * vy) * dx + (uz * vx - ux * vz) * dy + (ux * vy - uy * vx) * dz > 0;
}

/** Walks every mesh of the part that the instance belongs to; the nearest hit beyond hitNear. */
function traversePart(at: usize, r: usize): bool {
  let found = false;
  let s = <usize>load<u32>(at + INSTANCE_FIRST);
  for (let n = load<u32>(at + INSTANCE_COUNT); n > 0; n--) {
    const mesh = <usize>load<u32>(s + INSTANCE_MESH);
    currentInstance = s;
    if (traverse<ClosestInMesh>(<usize>load<u32>(mesh + MESH_TREE), load<i32>(mesh + MESH_ROOT), r, meshStack)) {
      hitInstance = s;
      found = true;
    }
    s += INSTANCE_BYTES;
  }
  return found;
}

/**
 * An instance that planes cut. The ray counts only where no plane takes it away. Where it comes in
 * through a plane, and the first surface of the part behind that plane turns its back to the ray,
 * the plane lies inside a solid: the cap is met there. The same where it goes out.
 */
function intersectClipped<Walk>(at: usize, cut: u32, r: usize): bool {
  const w = worldRay;
  const ox = load<f32>(w), oy = load<f32>(w, 16), oz = load<f32>(w, 32);
  const dx = load<f32>(w + R_DIRECTION), dy = load<f32>(w + R_DIRECTION, 16), dz = load<f32>(w + R_DIRECTION, 32);
  let enter: f32 = 0, leave: f32 = f32.MAX_VALUE;
  let enterPlane: usize = 0, leavePlane: usize = 0;
  for (let k: u32 = 0; k < planeCount; k++) {
    if ((cut & (1 << k)) == 0) continue;
    const p = planes + <usize>k * PLANE_BYTES;
    const nx = load<f32>(p, PLANE_NORMAL), ny = load<f32>(p, PLANE_NORMAL + 4), nz = load<f32>(p, PLANE_NORMAL + 8);
    const s: f32 = nx * ox + ny * oy + nz * oz - load<f32>(p, PLANE_OFFSET) - shutterTime * load<f32>(p, PLANE_CHANGE);
    const c: f32 = nx * dx + ny * dy + nz * dz;
    if (c > 0) {
      const t: f32 = -s / c;
      if (t < leave) {
        leave = t;
        leavePlane = p;
      }
    } else if (c < 0) {
      const t: f32 = s / -c;
      if (t > enter) {
        enter = t;
        enterPlane = p;
      }
    } else if (s > 0) return false;
  }
  const far = hitDistance;
  if (enter >= leave || enter >= far) return false;
  if (sizeof<Walk>() == 8) {
    const mesh = <usize>load<u32>(at + INSTANCE_MESH);
    hitNear = enter;
    hitDistance = min(far, leave);
    const any = traverse<AnyInMesh>(<usize>load<u32>(mesh + MESH_TREE), load<i32>(mesh + MESH_ROOT), r, meshStack);
    hitNear = 0;
    hitDistance = far;
    return any;
  }
  const first = <usize>load<u32>(at + INSTANCE_FIRST);
  if (first == queriedPart) return false;
  queriedPart = first;
  // A walk that only asks must leave an earlier hit as it was.
  const packet = hitBlock, lane = hitLane, u = hitU, v = hitV, instance = hitInstance, plane = hitPlaneIndex;
  hitNear = enter;
  hitDistance = enterPlane != 0 ? f32.MAX_VALUE : min(far, leave);
  let met = traversePart(at, r);
  if (met && enterPlane != 0 && isBackFace(r)) {
    hitDistance = enter;
    hitPlaneIndex = enterPlane;
  } else {
    met = met && hitDistance < min(far, leave);
    if (met) hitPlaneIndex = 0;
    else if (leavePlane != 0 && leave < far) {
      hitNear = leave;
      hitDistance = f32.MAX_VALUE;
      met = traversePart(at, r) && isBackFace(r);
      hitDistance = leave;
      hitPlaneIndex = leavePlane;
    }
  }
  hitNear = 0;
  if (!met) {
    hitDistance = far;
    hitBlock = packet;
    hitLane = lane;
    hitU = u;
    hitV = v;
    hitInstance = instance;
    hitPlaneIndex = plane;
  }
  return met;
}

// @ts-ignore: decorator
@inline
function intersectLeaf<Walk>(base: usize, ref: i32, r: usize): bool {
  if (sizeof<Walk>() >= 4) return meetInstance<Walk>(~ref);
  return intersectTriangles<Walk>(base + <usize>~ref, r);
}

function traverse<Walk>(base: usize, root: i32, r: usize, stack: usize): bool {
  const any: bool = sizeof<Walk>() == 2 || sizeof<Walk>() == 8;
  const ox = v128.load32_splat(r), oy = v128.load32_splat(r, 16), oz = v128.load32_splat(r, 32);
  const ix = v128.load32_splat(r, R_INVERSE), iy = v128.load32_splat(r, R_INVERSE + 16), iz = v128.load32_splat(r, R_INVERSE + 32);
  const nx = <usize>load<u32>(r, R_NEAR), ny = <usize>load<u32>(r, R_NEAR + 4), nz = <usize>load<u32>(r, R_NEAR + 8);
  // near + far offsets of an axis sum to a constant
  const fx = PLANES - nx, fy = PLANES + 32 - ny, fz = PLANES + 64 - nz;
  const zero = f32x4.splat(hitNear);
  let found = false;
  let sp = stack;
  let ref = root;
  while (true) {
    if (ref >= 0) {
      const n = base + <usize>ref;
      const tn = f32x4.pmax(
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nx), ox), ix), f32x4.mul(f32x4.sub(v128.load(n + ny), oy), iy)),
        f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(n + nz), oz), iz), zero),
      );
      const tf = f32x4.pmin(
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + fx), ox), ix), f32x4.mul(f32x4.sub(v128.load(n + fy), oy), iy)),
        f32x4.pmin(f32x4.mul(f32x4.sub(v128.load(n + fz), oz), iz), f32x4.splat(hitDistance)),
      );
      let mask = i32x4.bitmask(f32x4.le(tn, tf));
      if (mask != 0) {
        if ((mask & (mask - 1)) == 0) {
          ref = load<i32>(n + (<usize>ctz(mask) << 2), NODE_CHILD);
          continue;
        }
        if (any) {
          // Whatever is met will do, so the order is that of memory: a packet that stops the ray is as good as another.
          ref = load<i32>(n + (<usize>ctz(mask) << 2), NODE_CHILD);
          mask &= mask - 1;
          do {
            store<i32>(sp, load<i32>(n + (<usize>ctz(mask) << 2), NODE_CHILD));
            sp += 4;
            mask &= mask - 1;
          } while (mask != 0);
          continue;
        }
        // Distance above child in one 64-bit key: distances are not negative, so keys sort as they do.
        const ch = v128.load(n, NODE_CHILD);
        v128.store(keys, i8x16.shuffle(ch, tn, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23));
        v128.store(keys, i8x16.shuffle(ch, tn, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31), 16);
        let a = load<u64>(keys + (<usize>ctz(mask) << 3));
        mask &= mask - 1;
        let b = load<u64>(keys + (<usize>ctz(mask) << 3));
        mask &= mask - 1;
        let near = select<u64>(a, b, a < b);
        let far = select<u64>(b, a, a < b);
        if (mask == 0) {
          store<u64>(sp, far);
          sp += 8;
          ref = <i32>near;
          continue;
        }
        const c = load<u64>(keys + (<usize>ctz(mask) << 3));
        mask &= mask - 1;
        if (mask == 0) {
          const low = select<u64>(near, c, near < c);
          const rest = select<u64>(c, near, near < c);
          store<u64>(sp, select<u64>(far, rest, rest < far));
          store<u64>(sp, select<u64>(rest, far, rest < far), 8);
          sp += 16;
          ref = <i32>low;
          continue;
        }
        const d = load<u64>(keys + (<usize>ctz(mask) << 3));
        const cn = select<u64>(c, d, c < d), cf = select<u64>(d, c, c < d);
        const first = select<u64>(near, cn, near < cn), m1 = select<u64>(cn, near, near < cn);
        const last = select<u64>(far, cf, far > cf), m2 = select<u64>(cf, far, far > cf);
        store<u64>(sp, last);
        store<u64>(sp, select<u64>(m2, m1, m1 < m2), 8);
        store<u64>(sp, select<u64>(m1, m2, m1 < m2), 16);
        sp += 24;
        ref = <i32>first;
        continue;
      }
    } else if (intersectLeaf<Walk>(base, ref, r)) {
      if (any) return true;
      found = true;
    }
    if (any) {
      if (sp == stack) return false;
      sp -= 4;
      ref = load<i32>(sp);
      continue;
    }
    // What lies beyond the hit is skipped.
    const limit = reinterpret<u32>(hitDistance);
    let key: u64 = 0;
    do {
      if (sp == stack) return found;
      sp -= 8;
      key = load<u64>(sp);
    } while (<u32>(key >> 32) > limit);
    ref = <i32>key;
  }
}

/** Nearest hit in the scene within (0, far); the hit variables hold it where this is true. */
export function closestHit(base: usize, root: i32, at: usize, mask: u32, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  instanceRecords = at;
  rayMask = mask;
  hitDistance = far;
  hitBlock = 0;
  hitPlaneIndex = 0;
  queriedPart = 0;
  setRay(worldRay, ox, oy, oz, dx, dy, dz);
  return traverse<ClosestInScene>(base, root, worldRay, sceneStack);
}

/** Whether anything lies within (0, far). */
export function anyHit(base: usize, root: i32, at: usize, mask: u32, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  instanceRecords = at;
  rayMask = mask;
  hitDistance = far;
  setRay(worldRay, ox, oy, oz, dx, dy, dz);
  return traverse<AnyInScene>(base, root, worldRay, sceneStack);
}

// What bundle.ts asks ray by ray. Nothing of it is cut, and nothing moves.

/** Begins the walk of several rays through the same instances. */
export function enterPacket(at: usize, mask: u32): void {
  instanceRecords = at;
  rayMask = mask;
  hitPlaneIndex = 0;
  queriedPart = 0;
}

/** Takes a ray's hit so far up again; packet 0 where there is none. */
export function resume(distance: f32, packet: usize, lane: usize, u: f32, v: f32, instance: usize): void {
  hitDistance = distance;
  hitBlock = packet;
  hitLane = lane;
  hitU = u;
  hitV = v;
  hitInstance = instance;
}

/** The record of an instance, whose mesh is asked from now on; 0 where these rays do not meet it. */
export function visibleInstance(index: i32): usize {
  currentInstance = instanceRecords + <usize>index * INSTANCE_BYTES;
  return (load<u32>(currentInstance + INSTANCE_FLAGS) & rayMask) != 0 ? currentInstance : 0;
}

/** Writes the world's ray `w` at `r` as the instance sees it. */
export function advanceRay(at: usize, w: usize, r: usize): void {
  transformRay(
    at, r, load<f32>(w), load<f32>(w, 16), load<f32>(w, 32),
    load<f32>(w + R_DIRECTION), load<f32>(w + R_DIRECTION, 16), load<f32>(w + R_DIRECTION, 32),
  );
}

/** True where a ray has a nearer hit in a packet of the present instance. */
export function intersectTrianglesOf(p: usize, r: usize): bool {
  if (!intersectTriangles<ClosestInMesh>(p, r)) return false;
  hitInstance = currentInstance;
  return true;
}

/** True where a ray has a nearer hit in the mesh of the present instance. */
export function closestHitInMesh(base: usize, root: i32, r: usize): bool {
  if (!traverse<ClosestInMesh>(base, root, r, meshStack)) return false;
  hitInstance = currentInstance;
  return true;
}

/** True where a ray of the world has a nearer hit in the scene. */
export function closestHitInScene(base: usize, root: i32, r: usize): bool {
  const own = worldRay;
  worldRay = r;
  const met = traverse<ClosestInScene>(base, root, r, sceneStack);
  worldRay = own;
  return met;
}
