/** The nearest hit so far of the ray that is walked. */
import { BLOCK_V0, BLOCK_V1, BLOCK_V2, BLOCK_ID } from "../layout";
import { R_DIRECTION } from "./ray";

/** Hits at or before this distance do not count; not 0 only within a cut instance. */
export let hitNear: f32 = 0;
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
/** The plane whose cap was hit, where hitBlock is 0. */
export let hitPlaneIndex: usize = 0;

/** Number of the hit triangle in its mesh. */
export function hitTriangle(): u32 {
  return load<u32>(hitBlock + BLOCK_ID + (hitLane << 2));
}

/** Whether the hit triangle turns its back to the ray. */
export function isBackFace(r: usize): bool {
  const p = hitBlock + (hitLane << 2);
  const ax = load<f32>(p, BLOCK_V0), ay = load<f32>(p, BLOCK_V0 + 16), az = load<f32>(p, BLOCK_V0 + 32);
  const ux: f32 = load<f32>(p, BLOCK_V1) - ax, uy: f32 = load<f32>(p, BLOCK_V1 + 16) - ay, uz: f32 = load<f32>(p, BLOCK_V1 + 32) - az;
  const vx: f32 = load<f32>(p, BLOCK_V2) - ax, vy: f32 = load<f32>(p, BLOCK_V2 + 16) - ay, vz: f32 = load<f32>(p, BLOCK_V2 + 32) - az;
  const dx = load<f32>(r + R_DIRECTION), dy = load<f32>(r + R_DIRECTION, 16), dz = load<f32>(r + R_DIRECTION, 32);
  return (uy * vz - uz * vy) * dx + (uz * vx - ux * vz) * dy + (ux * vy - uy * vx) * dz > 0;
}

/** Takes a ray's hit so far up again; packet 0 where there is none. */
export function resumeHit(distance: f32, packet: usize, lane: usize, u: f32, v: f32, instance: usize): void {
  hitDistance = distance;
  hitBlock = packet;
  hitLane = lane;
  hitU = u;
  hitV = v;
  hitInstance = instance;
}
