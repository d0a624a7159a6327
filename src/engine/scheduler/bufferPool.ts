/** Shared buffers and the denoiser's memory, used again by pictures of the same size. */
import { allocateDenoisePlanes, denoiseLayout, type DenoiseLayout } from '../upload/denoiseBuffers.js';

/** The denoiser's memory; pictures of the same size use it one after the other. */
export interface DenoisePlanes {
  size: string;
  memory: WebAssembly.Memory;
  room: DenoiseLayout;
}

/** Spare buffers of one size, sizes of buffers, and spare sets of planes that are kept. */
const MAX_SPARE_PER_SIZE = 3;
const MAX_SIZES = 8;
const MAX_SPARE_PLANES = 3;

/** Memory of films and of denoising, used again from frame to frame. */
export class BufferPool {
  private readonly spare = new Map<number, SharedArrayBuffer[]>();
  private sparePlanes: DenoisePlanes[] = [];

  /** @param workers for which planes have room. */
  constructor(private readonly workers: number) {}

  /** A buffer of so many bytes. It may hold an earlier picture. */
  take(bytes: number): SharedArrayBuffer {
    return this.spare.get(bytes)?.pop() ?? new SharedArrayBuffer(bytes);
  }

  recycle(...buffers: (SharedArrayBuffer | undefined)[]): void {
    for (const b of buffers) {
      if (!b) continue;
      const list = this.spare.get(b.byteLength) ?? [];
      if (list.length < MAX_SPARE_PER_SIZE) list.push(b);
      this.spare.set(b.byteLength, list);
      // Sizes that are no longer asked for must not pile up.
      if (this.spare.size > MAX_SIZES) this.spare.delete(this.spare.keys().next().value!);
    }
  }

  /** Planes for a picture of so many pixels, with so many floats a pixel in its film. */
  takePlanes(width: number, height: number, stride: number): DenoisePlanes {
    const size = `${width} × ${height} × ${stride}`;
    const at = this.sparePlanes.findIndex((p) => p.size === size);
    if (at >= 0) return this.sparePlanes.splice(at, 1)[0]!;
    const room = denoiseLayout(width, height, stride, this.workers);
    return { size, room, memory: allocateDenoisePlanes(room, width, height) };
  }

  recyclePlanes(planes: DenoisePlanes | undefined): void {
    if (planes) this.sparePlanes = [planes, ...this.sparePlanes].slice(0, MAX_SPARE_PLANES);
  }
}
