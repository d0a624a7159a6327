/** A frame's instances and light shapes in kernel memory, and the tree over them. */
import { mat4 } from 'gl-matrix';
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { type Bounds, joinBounds, radiusOf, type Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import { isBelow } from '../../core/model/paths.js';
import { luminance } from '../../core/units/colour.js';
import type { FrameSlot } from './frameSlot.js';
import type { WrittenLights } from './lights.js';
import { MATERIAL_STRIDE } from './material.js';
import { writeF32, writeU32 } from './memoryViews.js';
import type { Instance, Placed, SceneData } from './sceneData.js';

function writeCuts(frame: Frame, instance: Instance): number {
  let bits = 0;
  frame.section?.planes.forEach((plane, i) => {
    if (plane.part === undefined ? instance.turns : isBelow(instance.path, plane.part)) bits |= 1 << i;
  });
  return bits;
}

/** Boxes for the tree, widened by more than single precision loses on the way through the inverse. */
function writeBox({ views: { f32 }, buildScratch }: SceneData, i: number, { min, max }: Bounds): void {
  const box = (buildScratch + L.BUILD_SCRATCH_FIXED + i * L.BUILD_BOX_BYTES) >> 2;
  const pad = 1e-6 * Math.max(...min.map(Math.abs), ...max.map(Math.abs));
  for (let a = 0; a < 3; a++) {
    f32[box + a] = min[a]! - pad;
    f32[box + 4 + a] = max[a]! + pad;
  }
  f32[box + 3] = 0;
  f32[box + 7] = 0;
}

/** What the kernel must know of the instances that were written. */
export interface WrittenInstances {
  /** Index of the tree's root. */
  root: number;
  /** Instances of parts, without the shapes of lights. */
  instances: number;
  /** Largest coordinate or radius, in metres. */
  extent: number;
  /** Whether some of it lets light through. */
  glass: boolean;
}

const UNMOVED = identity();

function instanceFlags(instance: Instance, frame: Frame, world: mat4): number {
  // Clay is opaque, whatever it stands for.
  const opaque = frame.clay && instance.flags & L.TRANSPARENT;
  const flags = opaque ? (instance.flags & ~L.TRANSPARENT) | L.OPAQUE : instance.flags;
  const moves = frame.shutter !== undefined && frame.turn?.what.includes('subject') === true && instance.turns;
  const stands = mat4.exactEquals(world, UNMOVED) ? L.UNTRANSFORMED : 0;
  return flags | (moves ? L.MOVING : stands) | (writeCuts(frame, instance) << L.CUT_SHIFT);
}

function writeInstance(data: SceneData, room: FrameSlot, at: number, frame: Frame, { instance, world }: Placed, flags: number, pdf: number): void {
  const { views } = data;
  const inverse = mat4.invert(identity(), world)!;
  for (let row = 0; row < 3; row++) for (let c = 0; c < 4; c++) views.f32[((at + L.INSTANCE_INVERSE) >> 2) + row * 4 + c] = inverse[c * 4 + row]!;
  writeU32(views, at + L.INSTANCE_MESH, data.meshes + instance.mesh * L.MESH_BYTES);
  writeU32(views, at + L.INSTANCE_MATERIAL, frame.clay ? room.clay : data.materials + instance.material * MATERIAL_STRIDE);
  writeU32(views, at + L.INSTANCE_FLAGS, flags);
  writeU32(views, at + L.INSTANCE_PART, instance.part);
  writeU32(views, at + L.INSTANCE_FIRST, room.instances + instance.first * L.INSTANCE_BYTES);
  writeU32(views, at + L.INSTANCE_COUNT, instance.count);
  writeF32(views, at + L.INSTANCE_LIGHT_PDF, [pdf]);
  writeU32(views, at + L.INSTANCE_MATTE_ID, instance.label);
  writeF32(views, at + L.INSTANCE_SIZE, [Math.cbrt(Math.abs(mat4.determinant(world)))]);
}

/** Lights with a shape stand among the instances, so that rays meet them. Returns how many instances there are with them. */
function writeLightShapes(data: SceneData, room: FrameSlot, lights: WrittenLights, from: number): number {
  let count = from;
  for (const { index, centre, u, v } of lights.shapes) {
    const at = room.instances + count * L.INSTANCE_BYTES;
    writeU32(data.views, at + L.INSTANCE_MESH, room.lights + index * L.LIGHT_BYTES);
    writeU32(data.views, at + L.INSTANCE_FLAGS, L.LIGHT_SHAPES | L.LIGHT_SHAPE | L.UNTRANSFORMED);
    const half = [0, 1, 2].map((a) => Math.abs(u[a]!) + Math.abs(v[a]!));
    writeBox(data, count, { min: centre.map((c, a) => c - half[a]!) as Vec3, max: centre.map((c, a) => c + half[a]!) as Vec3 });
    count++;
  }
  return count;
}

/** Writes all instances with the shapes of lights, and builds the tree over them. */
export function writeInstances(data: SceneData, room: FrameSlot, frame: Frame, placed: Placed[], lights: WrittenLights): WrittenInstances {
  const { views, scene } = data;
  let all: Bounds = { min: [0, 0, 0], max: [0, 0, 0] };
  let glass = false;
  const shining = new Set(frame.clay ? [] : data.shining);
  placed.forEach((one, i) => {
    const { instance, world, bounds } = one;
    all = i === 0 ? bounds : joinBounds(all, bounds);
    const flags = instanceFlags(instance, frame, world);
    glass ||= (flags & L.TRANSPARENT) !== 0;
    const pdf = shining.has(instance) ? lights.perRadiance * luminance(...scene.materials[instance.material]!.emission) : 0;
    writeInstance(data, room, room.instances + i * L.INSTANCE_BYTES, frame, one, flags, pdf);
    writeBox(data, i, bounds);
  });
  const count = writeLightShapes(data, room, lights, placed.length);
  const extent = Math.max(radiusOf(all), ...all.min.map(Math.abs), ...all.max.map(Math.abs), 1e-6);
  if (count === 0) {
    // An empty scene is one node with nothing in it.
    views.f32.fill(Infinity, room.tree >> 2, (room.tree + L.NODE_MAX) >> 2);
    views.f32.fill(-Infinity, (room.tree + L.NODE_MAX) >> 2, (room.tree + L.NODE_CHILD) >> 2);
    return { root: 0, instances: placed.length, extent, glass };
  }
  return { root: data.kernel.buildScene(count, data.buildScratch, room.tree), instances: placed.length, extent, glass };
}
