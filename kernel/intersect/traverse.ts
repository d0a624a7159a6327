/**
 * Walks the two-level tree: the scene's nodes lead to instances, an instance's mesh tree leads to
 * packets of four triangles. One walk serves nearest-hit and any-hit, of meshes and of the scene;
 * what differs is decided when it is compiled (Walk).
 *
 * Boxes: slabs, with near and far planes chosen by the sign bit of the inverse direction. The test
 * `d < 0` is wrong for -0.0, whose reciprocal is negative.
 */
import {
  NODE_CHILD, INSTANCE_MESH, INSTANCE_FLAGS, INSTANCE_FIRST, INSTANCE_COUNT, INSTANCE_BYTES,
  LIGHT_SHAPE, CUT_SHIFT, MESH_TREE, MESH_ROOT, PLANE_NORMAL, PLANE_OFFSET, PLANE_CHANGE, PLANE_BYTES,
} from "../layout";
import { R_INVERSE, R_DIRECTION, R_NEAR, PLANES, setRay } from "./ray";
import { ClosestInMesh, AnyInMesh, ClosestInScene, AnyInScene, worldRay, keys, sceneStack, meshStack, instanceRecords, rayMask, currentInstance } from "./walk";
import { shutterTime, planes, planeCount } from "./shutter";
import { hitNear, hitDistance, hitBlock, hitLane, hitU, hitV, hitInstance, hitPlaneIndex, isBackFace } from "./hit";
import { intersectTriangles } from "./triangle";
import { intersectLightShape } from "./lightShape";
import { toObjectRay } from "./objectRay";

/** First record of the cut part that the present ray asked last: asking it as a whole again, from another of its instances, tells nothing new. */
let queriedPart: usize = 0;

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

/** Walks a tree from its root; true where a hit was found. One function of over 80 lines: what is met often must not be a call. */
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

// What rayPacket.ts asks ray by ray. Nothing of it is cut, and nothing moves.

/** Begins the walk of several rays through the same instances. */
export function enterPacket(at: usize, mask: u32): void {
  instanceRecords = at;
  rayMask = mask;
  hitPlaneIndex = 0;
  queriedPart = 0;
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
