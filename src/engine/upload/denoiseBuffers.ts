/** A memory of the denoiser's own: planes of a whole picture, with a margin, and a tile for each worker. */
import * as L from '../../../kernel/layout.js';
import { Arena, makeMemory } from '../kernel.js';
import { MAX_TILE } from './tileMemory.js';

/** Sets that levels read and write in turn. */
const PLANE_SETS = 2;

/** Where a frame that is filtered lies in memory. */
export interface DenoiseLayout {
  /** Bytes from row to row and from plane to plane. */
  pitch: number;
  plane: number;
  /** Addresses of the picture's first pixel in the first plane of each set, and of the guides. */
  sets: number[];
  guides: number;
  /** Each worker's tile: sums that come in, then pixels that go out. */
  tiles: number[];
  bytes: number;
}

/** Where everything lies for a picture of width × height with `stride` sums a pixel. */
export function denoiseLayout(width: number, height: number, stride: number, workers: number): DenoiseLayout {
  const m = L.DENOISE_MARGIN;
  // The last four pixels of a row may reach past its margin.
  const pitch = Math.ceil(((width + 2 * m + 4) * 4) / 64) * 64;
  // Planes a whole number of pages apart would fight for the same lines of the cache.
  const plane = Math.ceil((pitch * (height + 2 * m)) / 4096) * 4096 + 192;
  const arena = new Arena(1024);
  const tiles = Array.from({ length: workers }, () => arena.take(MAX_TILE * MAX_TILE * Math.max(stride, 3) * 4));
  const first = (planes: number): number => arena.take(planes * plane) + m * pitch + m * 4;
  const sets = Array.from({ length: PLANE_SETS }, () => first(L.DENOISE_SET));
  const guides = first(L.DENOISE_GUIDES);
  return { pitch, plane, sets, guides, tiles, bytes: arena.take(1024) };
}

/** The memory, with a margin that the kernel leaves alone for good. Throws where the machine cannot give it. */
export function allocateDenoisePlanes(room: DenoiseLayout, width: number, height: number): WebAssembly.Memory {
  const memory = makeMemory(room.bytes);
  const floats = new Float32Array(memory.buffer);
  const row = room.pitch / 4;
  const first = (room.guides + L.DENOISE_DEPTH * room.plane) / 4;
  const [from, to] = [first - L.DENOISE_MARGIN * row - L.DENOISE_MARGIN, first + (height + L.DENOISE_MARGIN) * row - L.DENOISE_MARGIN];
  floats.fill(L.DENOISE_FAR, from, to);
  for (let y = 0; y < height; y++) floats.fill(0, first + y * row, first + y * row + width);
  return memory;
}
