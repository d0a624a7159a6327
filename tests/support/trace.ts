/** Traces small pictures in this thread, for tests of light transport. */
import * as L from '../../kernel/layout.js';
import { type Model, modelBounds } from '../../src/core/model/model.js';
import { withFrame, type Frame } from '../../src/core/frame/frame.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import type { Stage } from '../../src/core/stage/stage.js';
import { compile } from '../../src/engine/scene/compile.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import type { EnvironmentMap } from '../../src/engine/scene/environmentMap.js';
import { filmLayout } from '../../src/engine/upload/filmLayout.js';
import { loadScene, localKernel } from '../../src/engine/upload/loadScene.js';

/** An environment without light. */
export const BLACK: Stage['environment'] = { top: [0, 0, 0], middle: [0, 0, 0], bottom: [0, 0, 0] };
/** An environment of radiance 1. */
export const WHITE: Stage['environment'] = { top: [1, 1, 1], middle: [1, 1, 1], bottom: [1, 1, 1] };
/** A stage without light. */
export const DARK: Stage = { environment: BLACK, backdrop: BLACK, lights: [], base: null };

/** How a test traces. */
export interface TraceOptions {
  eye: [number, number, number];
  target: [number, number, number];
  focalLength?: number;
  width?: number;
  height?: number;
  samples?: number;
  bounces?: number;
  refractionDepth?: number;
  stage?: Partial<Stage>;
  /** Anything else of the frame. */
  frame?: Partial<Frame>;
  sampling?: Partial<Frame['sampling']>;
  /** The surround's picture; the stage names it by its id. */
  image?: EnvironmentMap;
}

/** A frame with those options. */
export function frameFor(model: Model, o: TraceOptions): Frame {
  const { eye, target, focalLength = 50, width = 32, height = 32, samples = 64, bounces = 8, refractionDepth = 32 } = o;
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'test',
    sheet: {
      size: { width, height },
      quality: { samples, depth: { bounces, refractionDepth }, denoise: false, fireflyClamp: 0, filter: { kind: 'box', width: 1 } },
    },
    views: [{ id: 'view', name: 'view', eye, target, focalLength }],
    shots: [{ id: 'still', kind: 'still', views: ['view'] }],
  });
  const [frame] = planFrames(set, { bounds: modelBounds(model), scene: model.name });
  // One seed for all, so that pictures of one view differ by their scenes alone.
  return withFrame(frame!, { seed: 12345, stage: { ...DARK, ...o.stage }, ...o.frame, sampling: { ...frame!.sampling, ...o.sampling } });
}

/** What was traced. */
export interface Traced {
  frame: Frame;
  /** Red, green, blue of each pixel. */
  colour: Float64Array;
  cover: Float64Array;
  /** Sums of each pixel as the kernel keeps them. */
  sums: Float32Array;
  stride: number;
  /** Samples a pixel, on average. */
  taken: number;
  /** Mean of the green channel over pixels that the choice keeps. */
  mean(keep?: (pixel: number) => boolean): number;
  /** Standard error of that mean, from the spread between pixels' own samples. */
  error(): number;
}

/** Renders whole, in tiles of the given side. */
export function trace(model: Model, options: TraceOptions, tile = 32): Traced {
  const frame = frameFor(model, options);
  const module = loadKernelModule();
  const host = loadScene(module, { ...compile(module, model), environment: options.image }, 1);
  const kernel = localKernel(module, host);
  const record = host.lay(0, frame);
  const { width, height } = frame.size;
  const { samples } = frame.sampling;
  const colour = new Float64Array(width * height * 3);
  const cover = new Float64Array(width * height);
  const { stride } = filmLayout(frame);
  const all = new Float32Array(width * height * stride);
  let variance = 0;
  let taken = 0;
  for (let y = 0; y < height; y += tile) {
    for (let x = 0; x < width; x += tile) {
      const [w, h] = [Math.min(tile, width - x), Math.min(tile, height - y)];
      const sums = new Float32Array(host.memory.buffer, host.areas[0]!.tile, w * h * stride);
      sums.fill(0);
      kernel.renderTile(record, x, y, w, h, 0, samples, host.areas[0]!.tile);
      for (let i = 0; i < w * h; i++) {
        const p = (y + Math.floor(i / w)) * width + x + (i % w);
        const at = i * stride;
        all.set(sums.subarray(at, at + stride), p * stride);
        const n = sums[at + L.PIXEL_COUNT]!;
        taken += n;
        for (let c = 0; c < 3; c++) colour[p * 3 + c] = sums[at + L.PIXEL_COLOUR + c]! / n;
        cover[p] = sums[at + L.PIXEL_COVERAGE]! / n;
        // The spread is known of what did not come straight.
        const part = (c: number): number => (sums[at + c]! - sums[at + L.PIXEL_UNSCATTERED + c]!) / n;
        const l = 0.2126 * part(0) + 0.7152 * part(1) + 0.0722 * part(2);
        variance += Math.max(0, sums[at + L.PIXEL_SCATTERED_SQ]! / n - l * l) / Math.max(1, n - 1);
      }
    }
  }
  return {
    frame,
    sums: all,
    stride,
    taken: taken / (width * height),
    colour,
    cover,
    mean(keep = () => true) {
      let [sum, n] = [0, 0];
      for (let p = 0; p < width * height; p++) {
        if (!keep(p)) continue;
        sum += colour[p * 3 + 1]!;
        n++;
      }
      return sum / n;
    },
    error: () => Math.sqrt(variance) / (width * height),
  };
}
