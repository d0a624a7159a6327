/**
 * Nearest hits of rays that go together, as the camera's rays through one pixel do. A node is asked once for all
 * of them, by the intervals that hold their origins and directions; only where a leaf is reached is every ray
 * asked. Boulos, Wald, Shirley, "Geometric and arithmetic culling methods for entire ray packets", 2006.
 *
 * The intervals are of the very numbers that single rays are tested with, and rounding keeps order, so nothing
 * that a single ray would meet is left out: a ray of a packet and the same ray alone have the same hit.
 */
import { NODE_CHILD, INSTANCE_FLAGS, INSTANCE_MESH, MESH_TREE, MESH_ROOT, UNTRANSFORMED, CAMERA_RAYS, PACKET_RAYS } from "../layout";
import { R_BYTES, R_NEAR, PLANES, setRay } from "./ray";
import { ROW, INVERSES, DISTANCES, ROWS_BYTES, boundRows, padPacket, sameDirectionSigns, intersectBox, min4, max4 } from "./packetRows";
import { packetBase, visibleInstance } from "./walk";
import { hitDistance, hitBlock, hitLane, hitU, hitV, hitInstance, resumeHit } from "./hit";
import { advanceRay } from "./objectRay";
import { intersectTrianglesOf } from "./triangle";
import { closestHit, enterPacket, closestHitInScene, closestHitInMesh } from "./traverse";

// Kinds of walk, told apart by their size when compiled.
type MeshLevel = i8;
type SceneLevel = i32;

// A ray's hit, beside its distance.
const H_BLOCK: usize = 0;
const H_LANE: usize = 4;
const H_U: usize = 8;
const H_V: usize = 12;
const H_INSTANCE: usize = 16;
const H_BYTES: usize = 32;

// Room in the worker's scratch: rays in the world and in an instance, both side by side, hits, keys, stacks.
const WORLD_RAYS: usize = 0;
const OBJECT_RAYS: usize = WORLD_RAYS + <usize>PACKET_RAYS * R_BYTES;
const WORLD_ROWS: usize = OBJECT_RAYS + <usize>PACKET_RAYS * R_BYTES;
const OBJECT_ROWS: usize = WORLD_ROWS + ROWS_BYTES;
const HITS: usize = OBJECT_ROWS + ROWS_BYTES;
const KEYS: usize = HITS + <usize>PACKET_RAYS * H_BYTES;
const SCRATCH: usize = 8192;
const SCENE_STACK: usize = 16384;
const MESH_STACK: usize = 32768;

/** Fewer rays than this go one by one. */
const MIN_PACKET: i32 = 3;

let rayCount: i32 = 0;
let expectedRays: i32 = -1;

/** Begins a packet. */
export function beginPacket(): void {
  rayCount = 0;
}

/** Adds a ray, PACKET_RAYS at most. */
export function addRay(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): void {
  const k = <usize>rayCount;
  const r = packetBase + WORLD_RAYS + k * R_BYTES;
  setRay(r, ox, oy, oz, dx, dy, dz);
  boundRows(r, packetBase + WORLD_ROWS, k);
  store<f32>(packetBase + WORLD_ROWS + DISTANCES + (k << 2), far);
  store<u32>(packetBase + HITS + k * H_BYTES, 0, H_BLOCK);
  store<u32>(packetBase + HITS + k * H_BYTES, 0, H_INSTANCE);
  rayCount++;
}

/** Finds the nearest hits of all rays that were added, among instances that the mask meets, none of which is cut or moves. */
export function closestHitPacket(base: usize, root: i32, at: usize, mask: u32): void {
  enterPacket(at, mask);
  const rows = packetBase + WORLD_ROWS, rays = packetBase + WORLD_RAYS;
  const all: u32 = (1 << rayCount) - 1;
  padPacket(rows, all);
  if (rayCount >= MIN_PACKET && sameDirectionSigns(rows)) {
    traversePacket<SceneLevel>(base, root, rows, rays, packetBase + SCENE_STACK, all);
    return;
  }
  for (let k: i32 = 0; k < rayCount; k++) {
    const r = rays + <usize>k * R_BYTES;
    loadRay(rows, k);
    if (closestHitInScene(base, root, r)) saveRay(rows, k);
  }
}

/** Room of 64 bytes for what is laid aside with ray k. */
// @ts-ignore: decorator
@inline
export function packetScratch(k: u32): usize {
  return packetBase + SCRATCH + (<usize>k << 6);
}

/** Makes the hit of ray k the present one; false where it met nothing. */
export function loadHit(k: i32): bool {
  loadRay(packetBase + WORLD_ROWS, k);
  return hitBlock != 0;
}

/** Lets the next path begin with the hit of ray k. */
export function announceRay(k: i32): void {
  expectedRays = k;
}

/** The nearest hit of an eye's ray: the expected one, which was found before, or its own. */
export function closestHitOfCamera(base: usize, root: i32, at: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): bool {
  const k = expectedRays;
  expectedRays = -1;
  return k >= 0 ? loadHit(k) : closestHit(base, root, at, CAMERA_RAYS, ox, oy, oz, dx, dy, dz, f32.MAX_VALUE);
}

function loadRay(rows: usize, k: i32): void {
  const h = packetBase + HITS + <usize>k * H_BYTES;
  resumeHit(
    load<f32>(rows + DISTANCES + (<usize>k << 2)), <usize>load<u32>(h, H_BLOCK), <usize>load<u32>(h, H_LANE), load<f32>(h, H_U), load<f32>(h, H_V), <usize>load<u32>(h, H_INSTANCE),
  );
}

function saveRay(rows: usize, k: i32): void {
  const h = packetBase + HITS + <usize>k * H_BYTES;
  store<f32>(rows + DISTANCES + (<usize>k << 2), hitDistance);
  store<u32>(h, <u32>hitBlock, H_BLOCK);
  store<u32>(h, <u32>hitLane, H_LANE);
  store<f32>(h, hitU, H_U);
  store<f32>(h, hitV, H_V);
  store<u32>(h, <u32>hitInstance, H_INSTANCE);
}

/** A leaf: every ray that meets its box is asked. True where a nearer hit was found. */
// @ts-ignore: decorator
@inline
function intersectLeaf<Walk>(base: usize, ref: i32, rows: usize, rays: usize, mask: u32): bool {
  if (sizeof<Walk>() == 4) return intersectInstance(~ref, rows, mask);
  let found = false;
  while (mask != 0) {
    const k = ctz(mask);
    mask &= mask - 1;
    loadRay(rows, k);
    if (!intersectTrianglesOf(base + <usize>~ref, rays + <usize>k * R_BYTES)) continue;
    saveRay(rows, k);
    found = true;
  }
  return found;
}

/** Nearest hits in an instance's mesh. */
function intersectInstance(index: i32, world: usize, mask: u32): bool {
  const at = visibleInstance(index);
  if (at == 0) return false;
  const moved = (load<u32>(at + INSTANCE_FLAGS) & UNTRANSFORMED) == 0;
  const worldRays = packetBase + WORLD_RAYS;
  const mesh = <usize>load<u32>(at + INSTANCE_MESH);
  const base = <usize>load<u32>(mesh + MESH_TREE), root = load<i32>(mesh + MESH_ROOT);
  const rays = moved ? packetBase + OBJECT_RAYS : worldRays;
  if (!moved && <i32>popcnt(mask) == rayCount) return traversePacket<MeshLevel>(base, root, world, rays, packetBase + MESH_STACK, mask);
  const rows = packetBase + OBJECT_ROWS;
  for (let m = mask; m != 0; m &= m - 1) {
    const k = <usize>ctz(m);
    const r = rays + k * R_BYTES;
    if (moved) advanceRay(at, worldRays + k * R_BYTES, r);
    boundRows(r, rows, k);
    store<f32>(rows + DISTANCES + (k << 2), load<f32>(world + DISTANCES + (k << 2)));
  }
  let found = false;
  if (<i32>popcnt(mask) >= MIN_PACKET) {
    padPacket(rows, mask);
    if (sameDirectionSigns(rows)) {
      found = traversePacket<MeshLevel>(base, root, rows, rays, packetBase + MESH_STACK, mask);
      if (found) for (let m = mask; m != 0; m &= m - 1) {
        const k = <usize>ctz(m);
        store<f32>(world + DISTANCES + (k << 2), load<f32>(rows + DISTANCES + (k << 2)));
      }
      return found;
    }
  }
  for (let m = mask; m != 0; m &= m - 1) {
    const k = ctz(m);
    loadRay(world, k);
    if (!closestHitInMesh(base, root, rays + <usize>k * R_BYTES)) continue;
    saveRay(world, k);
    found = true;
  }
  return found;
}

/** Walks a tree with the rays of `all`; true where a nearer hit was found. */
function traversePacket<Walk>(base: usize, root: i32, rows: usize, rays: usize, stack: usize, all: u32): bool {
  // The first ray's near planes are everybody's.
  const first = rays + <usize>ctz(all) * R_BYTES;
  const nx = <usize>load<u32>(first, R_NEAR), ny = <usize>load<u32>(first, R_NEAR + 4), nz = <usize>load<u32>(first, R_NEAR + 8);
  const fx = PLANES - nx, fy = PLANES + 32 - ny, fz = PLANES + 64 - nz;
  // Where rays go upwards a plane is met soonest from the highest origin, and last from the lowest; else the other way round.
  const up0 = nx == 0, up1 = ny == 16, up2 = nz == 32;
  const lowX = min4(rows), highX = max4(rows), lowY = min4(rows + ROW), highY = max4(rows + ROW), lowZ = min4(rows + 2 * ROW), highZ = max4(rows + 2 * ROW);
  const soonX = up0 ? highX : lowX, lateX = up0 ? lowX : highX;
  const soonY = up1 ? highY : lowY, lateY = up1 ? lowY : highY;
  const soonZ = up2 ? highZ : lowZ, lateZ = up2 ? lowZ : highZ;
  const ax = min4(rows + INVERSES), bx = max4(rows + INVERSES);
  const ay = min4(rows + INVERSES + ROW), by = max4(rows + INVERSES + ROW);
  const az = min4(rows + INVERSES + 2 * ROW), bz = max4(rows + INVERSES + 2 * ROW);
  const zero = f32x4.splat(0);
  const keys = packetBase + KEYS;
  let reach = max4(rows + DISTANCES);
  let found = false;
  let sp = stack;
  let ref = root;
  let mask = all;
  while (true) {
    if (ref >= 0) {
      const n = base + <usize>ref;
      const sx = f32x4.sub(v128.load(n + nx), soonX), sy = f32x4.sub(v128.load(n + ny), soonY), sz = f32x4.sub(v128.load(n + nz), soonZ);
      const tn = f32x4.pmax(
        f32x4.pmax(f32x4.pmin(f32x4.mul(sx, ax), f32x4.mul(sx, bx)), f32x4.pmin(f32x4.mul(sy, ay), f32x4.mul(sy, by))),
        f32x4.pmax(f32x4.pmin(f32x4.mul(sz, az), f32x4.mul(sz, bz)), zero),
      );
      const lx = f32x4.sub(v128.load(n + fx), lateX), ly = f32x4.sub(v128.load(n + fy), lateY), lz = f32x4.sub(v128.load(n + fz), lateZ);
      const tf = f32x4.pmin(
        f32x4.pmin(f32x4.pmax(f32x4.mul(lx, ax), f32x4.mul(lx, bx)), f32x4.pmax(f32x4.mul(ly, ay), f32x4.mul(ly, by))),
        f32x4.pmin(f32x4.pmax(f32x4.mul(lz, az), f32x4.mul(lz, bz)), reach),
      );
      let open = i32x4.bitmask(f32x4.le(tn, tf));
      v128.store(keys, tn);
      const bottom = sp;
      while (open != 0) {
        const lane = <usize>ctz(open) << 2;
        open &= open - 1;
        const key: u64 = <u64>load<u32>(keys + lane) << 32 | <u64>load<u32>(n + lane, NODE_CHILD);
        // The nearest is to be taken first.
        let q = sp;
        while (q > bottom && load<u64>(q - 16) < key) {
          v128.store(q, v128.load(q - 16));
          q -= 16;
        }
        store<u64>(q, key);
        store<u32>(q, <u32>(n + lane), 8);
        sp += 16;
      }
    } else if (mask != 0 && intersectLeaf<Walk>(base, ref, rows, rays, mask)) {
      found = true;
      reach = max4(rows + DISTANCES);
    }
    const limit = <u32>i32x4.extract_lane(reach, 0);
    let key: u64 = 0;
    do {
      if (sp == stack) return found;
      sp -= 16;
      key = load<u64>(sp);
    } while (<u32>(key >> 32) > limit);
    ref = <i32>key;
    if (ref < 0) mask = intersectBox(rows, <usize>load<u32>(sp, 8), nx, ny, nz);
  }
}
