/** The kernel's functions, over a memory that the host lays out (kernel/layout.ts). */

/** Entry points of the compiled kernel; addresses and sizes in bytes where nothing else is said. */
export interface Kernel {
  buildMesh(positions: number, indices: number, count: number, extra: number, scratch: number, out: number): number;
  buildScene(count: number, scratch: number, out: number): number;
  emittedBytes(): number;
  setWorkerScratch(scratch: number): void;
  renderTile(frame: number, x: number, y: number, width: number, height: number, s0: number, s1: number, out: number): void;
  estimateNeed(frame: number, width: number, height: number, out: number): void;
  denoisePrepare(
    input: number,
    width: number,
    height: number,
    stride: number,
    out: number,
    light: number,
    guides: number,
    pitch: number,
    plane: number,
  ): void;
  denoiseSmooth(from: number, into: number, guides: number, width: number, height: number, pitch: number, plane: number): void;
  denoiseLevel(from: number, into: number, guides: number, width: number, height: number, pitch: number, plane: number, level: number): void;
  denoiseFinish(from: number, guides: number, width: number, height: number, pitch: number, plane: number, out: number): void;
  query(frame: number, rays: number, hits: number, count: number, any: number, mask: number): void;
  queryTogether(frame: number, rays: number, hits: number, count: number, mask: number): void;
  probePixels(frame: number, out: number): void;
  probeRays(frame: number, rays: number, out: number, count: number): void;
  gradePixels(grade: number, count: number, out: number): void;
  planeBytes(width: number, rows: number): number;
  inPlane(start: number, width: number): number;
  ciede2000OfPair(L1: number, a1: number, b1: number, L2: number, a2: number, b2: number): number;
  differenceScratchBytes(width: number, rows: number): number;
  differenceOfRows(
    first: number,
    second: number,
    width: number,
    rows: number,
    from: number,
    to: number,
    table: number,
    ground: number,
    least: number,
    scratch: number,
    values: number,
  ): void;
  shrinkLightness(scratch: number, width: number, rows: number, from: number, to: number, factor: number, first: number, second: number): void;
  ssimScratchBytes(width: number, rows: number): number;
  ssimOfPlanes(first: number, second: number, width: number, rows: number, range: number, scratch: number): number;
}

/** Bytes of a page of WebAssembly memory. */
export const PAGE = 65_536;

/** Pages that hold so many bytes. */
export function pagesFor(bytes: number): number {
  return Math.ceil(bytes / PAGE);
}

/** A shared memory of fixed size. Throws with the remedy where the machine cannot give it. */
export function makeMemory(bytes: number): WebAssembly.Memory {
  const pages = pagesFor(bytes);
  if (pages > PAGE) throw new Error('The scene needs more than 4 GiB of kernel memory; reduce the model or the textures.');
  try {
    return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
  } catch {
    throw new Error(`There is not enough memory for the scene (${Math.ceil(bytes / 2 ** 20)} MiB); close other work or reduce the model.`);
  }
}

/** Binds a compiled module to a memory. */
export function instantiate(module: WebAssembly.Module, memory: WebAssembly.Memory): Kernel {
  const instance = new WebAssembly.Instance(module, {
    env: {
      memory,
      abort: () => {
        throw new Error('The ray kernel stopped on an internal fault.');
      },
    },
  });
  return instance.exports as unknown as Kernel;
}

/** Hands out memory from the bottom up, aligned for SIMD. */
export class Arena {
  constructor(public at: number) {}

  take(bytes: number, align = 64): number {
    const start = Math.ceil(this.at / align) * align;
    this.at = start + bytes;
    return start;
  }
}
