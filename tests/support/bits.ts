/** Traces one frame whatever the host is, and tells its bits: bundled for Chromium, imported in Node. */
import * as L from '../../kernel/layout.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { decodeScene } from '../../src/engine/scene/compile.js';
import { filmLayout } from '../../src/engine/upload/filmLayout.js';
import { allocateDenoisePlanes, denoiseLayout } from '../../src/engine/upload/denoiseBuffers.js';
import { instantiate } from '../../src/engine/kernel.js';
import { loadScene, localKernel } from '../../src/engine/upload/loadScene.js';

async function hex(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(hash, (b) => b.toString(16).padStart(2, '0')).join('');
}

/**
 * SHA-256 of a traced tile's sums and of its denoised pixels; the frame is at most one tile large.
 * `mean` is the green channel's, so that equal nothing is not taken for equal light.
 */
export async function bitsOf(
  kernelBytes: Uint8Array<ArrayBuffer>,
  sceneBytes: Uint8Array<ArrayBuffer>,
  frame: Frame,
): Promise<{ sums: string; pixels: string; mean: number }> {
  const module = await WebAssembly.compile(kernelBytes);
  const host = loadScene(module, decodeScene(sceneBytes)!, 1);
  const kernel = localKernel(module, host);
  const record = host.lay(0, frame);
  const { width, height } = frame.size;
  const { stride } = filmLayout(frame);
  const tile = new Float32Array(host.memory.buffer, host.areas[0]!.tile, width * height * stride);
  tile.fill(0);
  kernel.renderTile(record, 0, 0, width, height, 0, frame.sampling.samples, host.areas[0]!.tile);
  const room = denoiseLayout(width, height, stride, 1);
  const memory = allocateDenoisePlanes(room, width, height);
  const filter = instantiate(module, memory);
  const { pitch, plane, guides, tiles } = room;
  const [a, b] = [room.sets[0]!, room.sets[1]!];
  new Float32Array(memory.buffer, tiles[0], tile.length).set(tile);
  filter.denoisePrepare(tiles[0]!, width, height, stride, a, b + L.DENOISE_LUMINANCE * plane, guides, pitch, plane);
  filter.denoiseSmooth(b + L.DENOISE_LUMINANCE * plane, a, guides, width, height, pitch, plane);
  for (let level = 0; level < L.DENOISE_LEVELS; level++)
    filter.denoiseLevel(level % 2 ? b : a, level % 2 ? a : b, guides, width, height, pitch, plane, level);
  filter.denoiseFinish(L.DENOISE_LEVELS % 2 ? b : a, guides, width, height, pitch, plane, tiles[0]!);
  const pixels = new Float32Array(memory.buffer, tiles[0], width * height * 3).slice();
  const mean = pixels.reduce((s, v, i) => (i % 3 === 1 ? s + v : s), 0) / (width * height);
  return { sums: await hex(new Uint8Array(tile.slice().buffer)), pixels: await hex(new Uint8Array(pixels.buffer)), mean };
}
