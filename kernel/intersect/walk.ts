/** What a walk is told before it begins, and the scratch that it works in. */
import { INSTANCE_FLAGS, INSTANCE_BYTES } from "../layout";

// Kinds of walk, told apart by their size when compiled.
export type ClosestInMesh = i8;
export type AnyInMesh = i16;
export type ClosestInScene = i32;
export type AnyInScene = i64;

/** The ray in the world, and as the present instance sees it. */
export let worldRay: usize = 0;
export let objectRay: usize = 0;
/** Room for sorting: 64 bytes. */
export let keys: usize = 0;
export let sceneStack: usize = 0;
export let meshStack: usize = 0;
/** Where rays that go together have their room. */
export let packetBase: usize = 0;
/** Where paths keep the branches that wait, 64 bytes each. */
export let branchScratch: usize = 0;
/** Where the sampler lays the numbers that it draws together: 64 bytes. */
export let drawScratch: usize = 0;

export let instanceRecords: usize = 0;
/** Instances without any of these bits are passed by. */
export let rayMask: u32 = 0;
/** Instance whose mesh is walked. */
export let currentInstance: usize = 0;

/** Gives this worker its own scratch (WORKER_BYTES). */
export function setWorkerScratch(scratch: usize): void {
  worldRay = scratch;
  objectRay = scratch + 256;
  keys = scratch + 512;
  branchScratch = scratch + 576;
  drawScratch = scratch + 832;
  sceneStack = scratch + 1024;
  meshStack = scratch + 16384;
  packetBase = scratch + 65536;
}

/** The record of an instance, whose mesh is asked from now on; 0 where these rays do not meet it. */
export function visibleInstance(index: i32): usize {
  currentInstance = instanceRecords + <usize>index * INSTANCE_BYTES;
  return (load<u32>(currentInstance + INSTANCE_FLAGS) & rayMask) != 0 ? currentInstance : 0;
}
