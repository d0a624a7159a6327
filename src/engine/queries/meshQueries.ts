/** Ray queries against a scene that is laid out in kernel memory, from the calling thread. */
import * as L from '../../../kernel/layout.js';
import { Arena, instantiate, type Kernel, makeMemory } from '../kernel.js';
import type { CompiledScene } from '../scene/compile.js';

/** What rays met: metres, and indices of triangle and instance; −1 as instance where nothing was met. */
export interface Hits {
  distance: Float32Array;
  triangle: Uint32Array;
  instance: Int32Array;
}

/** A kernel over one mesh of a compiled scene as a single unmoved instance, with room for rays. */
export class MeshQueries {
  readonly kernel: Kernel;
  private readonly memory: WebAssembly.Memory;
  private readonly frame: number;
  private readonly rays: number;
  private readonly hits: number;

  /** Throws where the mesh has no triangles. `most` is the largest number of rays a call may ask. */
  constructor(
    module: WebAssembly.Module,
    scene: CompiledScene,
    mesh: number,
    readonly most: number,
  ) {
    const entry = scene.meshes[mesh];
    if (!entry || entry.tree === entry.index) throw new Error(`The scene has no triangles in mesh ${mesh}.`);
    const arena = new Arena(1024);
    const image = arena.take(scene.image.byteLength);
    const record = arena.take(L.MESH_BYTES);
    const instance = arena.take(L.INSTANCE_BYTES);
    this.frame = arena.take(L.FRAME_BYTES);
    const node = arena.take(L.NODE_BYTES);
    const scratch = arena.take(L.WORKER_BYTES);
    this.rays = arena.take(most * L.QUERY_BYTES);
    this.hits = arena.take(most * L.HIT_BYTES);
    this.memory = makeMemory(arena.take(1024));
    const u32 = new Uint32Array(this.memory.buffer);
    const i32 = new Int32Array(this.memory.buffer);
    const f32 = new Float32Array(this.memory.buffer);
    new Uint8Array(this.memory.buffer).set(scene.image, image);
    u32[(record + L.MESH_TREE) >> 2] = image + entry.tree;
    i32[(record + L.MESH_ROOT) >> 2] = entry.root;
    u32[(record + L.MESH_INDEX) >> 2] = image + entry.index;
    for (const i of [0, 5, 10]) f32[((instance + L.INSTANCE_INVERSE) >> 2) + i] = 1;
    u32[(instance + L.INSTANCE_MESH) >> 2] = record;
    u32[(instance + L.INSTANCE_FLAGS) >> 2] = L.CAMERA_RAYS | L.OPAQUE | L.UNTRANSFORMED;
    u32[(this.frame + L.FRAME_TREE) >> 2] = node;
    i32[(this.frame + L.FRAME_ROOT) >> 2] = ~0;
    u32[(this.frame + L.FRAME_INSTANCES) >> 2] = instance;
    this.kernel = instantiate(module, this.memory);
    this.kernel.setWorkerScratch(scratch);
  }

  /** Puts the rays in place: six numbers a ray, and each ray's farthest distance. */
  load(rays: Float32Array, far: Float32Array): number {
    const count = far.length;
    if (count > this.most) throw new Error(`${count} rays requested; this was made for ${this.most}.`);
    const f32 = new Float32Array(this.memory.buffer, this.rays, (count * L.QUERY_BYTES) / 4);
    for (let i = 0; i < count; i++) {
      for (let a = 0; a < 6; a++) f32[i * 8 + a] = rays[i * 6 + a]!;
      f32[i * 8 + 6] = far[i]!;
    }
    return count;
  }

  /** Nearest hits of the loaded rays, the same as `run` has them, sooner where rays that follow one another go nearly the same way. */
  runTogether(count: number): void {
    this.kernel.queryTogether(this.frame, this.rays, this.hits, count, L.CAMERA_RAYS);
  }

  /** Answers the loaded rays. */
  run(count: number, any: boolean): void {
    this.kernel.query(this.frame, this.rays, this.hits, count, any ? 1 : 0, any ? L.OPAQUE : L.CAMERA_RAYS);
  }

  read(count: number): Hits {
    const u32 = new Uint32Array(this.memory.buffer, this.hits, (count * L.HIT_BYTES) / 4);
    const f32 = new Float32Array(this.memory.buffer, this.hits, (count * L.HIT_BYTES) / 4);
    const out: Hits = { distance: new Float32Array(count), triangle: new Uint32Array(count), instance: new Int32Array(count) };
    for (let i = 0; i < count; i++) {
      out.distance[i] = f32[i * 4]!;
      out.triangle[i] = u32[i * 4 + 1]!;
      out.instance[i] = u32[i * 4 + 2]! | 0;
    }
    return out;
  }
}
