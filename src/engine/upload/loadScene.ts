/**
 * A compiled scene in kernel memory, shared by all workers, with a fixed number of frame slots so
 * that the tiles of one frame and of the next can be traced side by side.
 */
import { mat4 } from 'gl-matrix';
import * as L from '../../../kernel/layout.js';
import { emptyBounds, isEmpty, joinBounds, transformBounds } from '../../core/math/bounds.js';
import { matrixOf } from '../../core/math/matrix.js';
import { isTransmissive } from '../../core/materials/material.js';
import { decodeTable } from '../../core/units/colour.js';
import type { CompiledScene } from '../scene/compile.js';
import { energyTables } from './energyCompensation.js';
import { SKY_SIZE } from '../scene/environmentMap.js';
import { Arena, instantiate, type Kernel, makeMemory } from '../kernel.js';
import { TILE_BYTES } from './tileMemory.js';
import { type Instance, MAX_LIGHTS, type SceneData } from './sceneData.js';
import { MATERIAL_STRIDE, writeMaterial } from './material.js';
import { writeFrame } from './frame.js';
import { placed } from './placement.js';
import type { FrameSlot } from './frameSlot.js';
import { writeEnvironment, allocEnvironment } from './environment.js';
import { cryptomatteHash, writeF32, writeU32, viewsOf } from './memoryViews.js';
import type { Frame } from '../../core/frame/frame.js';

const SLOTS = 3;
/** Triangles of shining meshes from which light is drawn; the rest are met by chance alone. */
const MAX_EMISSIVE_TRIANGLES = 65_536;

/** Where a worker keeps its scratch, its tile and what the denoiser needs. */
export interface WorkerArea {
  scratch: number;
  tile: number;
}

/** A scene in memory that workers share. */
export interface SceneHost {
  memory: WebAssembly.Memory;
  areas: WorkerArea[];
  slots: number;
  bytes: number;
  data: SceneData;
  /**
   * Lays a frame into a slot and returns the address of its record.
   * @param lit false where no light is wanted of it, only what rays meet: faces that shine are not made lights then.
   */
  lay(slot: number, frame: Frame, lit?: boolean): number;
}

function listInstances(scene: CompiledScene): Instance[] {
  const list: Instance[] = [];
  scene.parts.forEach((part, index) => {
    if (!part.renderVisible) return;
    const world = matrixOf(part.world);
    if (Math.abs(mat4.determinant(world)) < 1e-30) return;
    const first = list.length;
    const label = cryptomatteHash(part.path);
    for (const p of part.primitives) {
      const mesh = scene.meshes[p.mesh]!;
      if (mesh.triangles === 0 || isEmpty(mesh.bounds)) continue;
      const { camera, shadow, reflection } = part.visible;
      const blocks = isTransmissive(scene.materials[p.material]!) ? L.TRANSPARENT : L.OPAQUE;
      const flags = (camera ? L.CAMERA_RAYS : 0) | (reflection ? L.SCATTERED_RAYS : 0) | (shadow ? blocks : 0);
      list.push({
        part: index,
        path: part.path,
        mesh: p.mesh,
        material: p.material,
        world,
        bounds: mesh.bounds,
        flags,
        turns: !part.isContext,
        label,
        first,
        count: 0,
      });
    }
    for (let i = first; i < list.length; i++) list[i]!.count = list.length - first;
  });
  return list;
}

/** Instances with a shining material, as far as their triangles find room. */
function listEmissive(scene: CompiledScene, instances: Instance[]): { list: Instance[]; triangles: number } {
  let triangles = 0;
  const list = instances.filter((i) => {
    if (Math.max(...scene.materials[i.material]!.emission) <= 0) return false;
    const n = scene.meshes[i.mesh]!.triangles;
    if (triangles + n > MAX_EMISSIVE_TRIANGLES) return false;
    triangles += n;
    return true;
  });
  return { list, triangles };
}

/** Loads a compiled scene. `workers` areas are set aside, with tiles of up to `stride` floats a pixel. */
export function loadScene(module: WebAssembly.Module, scene: CompiledScene, workers: number): SceneHost {
  const instances = listInstances(scene);
  const shining = listEmissive(scene, instances);
  const count = instances.length + MAX_LIGHTS;
  const arena = new Arena(1024);
  const image = arena.take(scene.image.byteLength);
  const tables = arena.take(2048);
  const energy = arena.take(L.ENERGY_BYTES);
  const materials = arena.take((scene.materials.length + 1) * MATERIAL_STRIDE);
  const textures = arena.take((scene.textures.length + 1) * L.TEXTURE_BYTES);
  const meshes = arena.take((scene.meshes.length + 1) * L.MESH_BYTES);
  const buildScratch = arena.take(L.BUILD_SCRATCH_FIXED + (count + 1) * L.BUILD_SCRATCH_PER_PRIMITIVE + 64);
  const picture = scene.environment;
  const environment = picture ? allocEnvironment(arena, picture) : null;
  const lights = MAX_LIGHTS + shining.triangles + 1;
  const slots = Array.from({ length: SLOTS }, (): FrameSlot => ({
    frame: arena.take(L.FRAME_BYTES),
    instances: arena.take((count + 1) * L.INSTANCE_BYTES),
    lights: arena.take(lights * L.LIGHT_BYTES),
    chances: arena.take(lights * 4),
    suns: arena.take(MAX_LIGHTS * 4),
    planes: arena.take(L.MAX_PLANES * L.PLANE_BYTES),
    filter: arena.take((L.FILTER_CELLS + 1) * 4),
    base: arena.take(MATERIAL_STRIDE),
    cap: arena.take(MATERIAL_STRIDE),
    hatch: arena.take(MATERIAL_STRIDE),
    clay: arena.take(MATERIAL_STRIDE),
    tree: arena.take((count + 1) * L.NODE_BYTES),
    image: arena.take(L.ENV_BYTES),
    look: arena.take((L.INVERSE_TONE_CELLS + 10) * 4),
    sky: allocEnvironment(arena, SKY_SIZE),
  }));
  const areas = Array.from({ length: workers }, (): WorkerArea => ({
    scratch: arena.take(L.WORKER_BYTES),
    tile: arena.take(TILE_BYTES),
  }));
  const memory = makeMemory(arena.take(1024));
  const kernel = instantiate(module, memory);
  const views = viewsOf(memory);

  views.u8.set(scene.image, image);
  writeF32(views, tables, decodeTable());
  writeF32(
    views,
    tables + 1024,
    Float32Array.from({ length: 256 }, (_, i) => i / 255),
  );
  writeF32(views, energy, energyTables());
  scene.textures.forEach((t, i) => {
    const at = textures + i * L.TEXTURE_BYTES;
    writeU32(views, at + L.TEXTURE_WIDTH, t.width);
    writeU32(views, at + L.TEXTURE_HEIGHT, t.height);
    writeU32(views, at + L.TEXTURE_TEXELS, image + t.texels);
    writeU32(views, at + L.TEXTURE_WRAP_U, t.wrapU);
    writeU32(views, at + L.TEXTURE_WRAP_V, t.wrapV);
  });
  const places = { records: textures, colour: tables, linear: tables + 1024 };
  scene.materials.forEach((f, i) => writeMaterial(views, materials + i * MATERIAL_STRIDE, f, places));
  scene.meshes.forEach((m, i) => {
    const at = meshes + i * L.MESH_BYTES;
    const pointer = (offset: number): number => (offset >= 0 ? image + offset : 0);
    writeU32(views, at + L.MESH_TREE, image + m.tree);
    views.i32[(at + L.MESH_ROOT) >> 2] = m.root;
    writeU32(views, at + L.MESH_INDEX, image + m.index);
    writeU32(views, at + L.MESH_NORMAL, pointer(m.normal));
    writeU32(views, at + L.MESH_UV, pointer(m.uv));
    writeU32(views, at + L.MESH_UV_SECOND, pointer(m.secondUv));
    writeU32(views, at + L.MESH_COLOUR, pointer(m.colour));
  });
  const environmentMean = environment && picture ? writeEnvironment(views, environment, picture) : 0;
  const subject = instances.filter((i) => i.turns).reduce((all, i) => joinBounds(all, transformBounds(i.bounds, i.world)), emptyBounds());
  const data: SceneData = {
    scene,
    edges: new Map(),
    filters: new Map(),
    skies: { latest: null, laid: new Map() },
    standing: instances.map((instance) => placed(instance, instance.world)),
    instances,
    shining: shining.list,
    shiningTriangles: shining.triangles,
    subject: isEmpty(subject) ? { min: [-1, -1, -1], max: [1, 1, 1] } : subject,
    views,
    kernel,
    image,
    meshes,
    materials,
    textures: places,
    ...(scene.backdrop !== undefined && {
      backdrop: { texture: scene.backdrop, width: scene.textures[scene.backdrop]!.width, height: scene.textures[scene.backdrop]!.height },
    }),
    energy,
    buildScratch,
    environment: environment?.record ?? 0,
    environmentMean,
  };
  return {
    memory,
    areas,
    slots: SLOTS,
    bytes: memory.buffer.byteLength,
    data,
    lay: (index, frame, lit = true) => writeFrame(data, slots[index]!, frame, lit),
  };
}

/** For queries and tests: a kernel of this scene's own in the calling thread. */
export function localKernel(module: WebAssembly.Module, host: SceneHost, area = 0): Kernel {
  const kernel = instantiate(module, host.memory);
  kernel.setWorkerScratch(host.areas[area]!.scratch);
  return kernel;
}
