/** Ray queries against everything in a frame's picture, from the calling thread. */
import * as L from '../../../kernel/layout.js';
import { withFrame, type Frame } from '../../core/frame/frame.js';
import type { CompiledScene } from '../scene/compile.js';
import type { Kernel } from '../kernel.js';
import { TILE_BYTES } from '../upload/tileMemory.js';
import { loadScene, localKernel, type SceneHost } from '../upload/loadScene.js';

/** Rays and answers lie in the tile's room of one worker. */
const MAX_EXTRA = Math.floor(TILE_BYTES / (L.QUERY_BYTES + L.HIT_BYTES));

/** Rays into a scene outside of rendering. */
export class SceneQueries {
  private readonly host: SceneHost;
  private readonly kernel: Kernel;
  private readonly record: number;

  /** Cutting planes of the frame are left out: light does not fall through a section. */
  constructor(module: WebAssembly.Module, scene: CompiledScene, frame: Frame) {
    this.host = loadScene(module, scene, 1);
    this.kernel = localKernel(module, this.host);
    this.record = this.host.lay(0, withFrame(frame, { section: undefined }), false);
  }

  private ask(rays: Float32Array, any: boolean, mask: number): Uint32Array {
    const count = rays.length / 6;
    if (count > MAX_EXTRA) throw new Error(`${count} rays requested at once; ${MAX_EXTRA} is the most.`);
    const at = this.host.areas[0]!.tile;
    const hits = at + count * L.QUERY_BYTES;
    const f32 = new Float32Array(this.host.memory.buffer, at, count * 8);
    for (let i = 0; i < count; i++) {
      f32.set(rays.subarray(i * 6, i * 6 + 6), i * 8);
      f32[i * 8 + 6] = Infinity;
    }
    this.kernel.query(this.record, at, hits, count, any ? 1 : 0, mask);
    return new Uint32Array(this.host.memory.buffer, hits, count * 4);
  }

  /** What each ray meets first, glass too: its distance in lengths of the direction, and whether it is surroundings. */
  met(rays: Float32Array): { distance: Float32Array; isContext: Uint8Array } {
    const u32 = this.ask(rays, false, L.OPAQUE | L.TRANSPARENT);
    const f32 = new Float32Array(u32.buffer, u32.byteOffset, u32.length);
    const { instances } = this.host.data;
    const count = rays.length / 6;
    return {
      distance: Float32Array.from({ length: count }, (_, i) => f32[i * 4]!),
      isContext: Uint8Array.from({ length: count }, (_, i) => (instances[u32[i * 4 + 2]! | 0]?.turns === false ? 1 : 0)),
    };
  }

  /** 1 for each ray (origin and direction, six numbers) in whose way something opaque stands, however far. */
  blocked(rays: Float32Array): Uint8Array {
    const u32 = this.ask(rays, true, L.OPAQUE);
    return Uint8Array.from({ length: rays.length / 6 }, (_, i) => u32[i * 4 + 1]!);
  }
}
