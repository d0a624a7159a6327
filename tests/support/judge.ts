/** Pictures beside a long reference: root mean square error and structural similarity of display values. */
import { ssim } from 'ssim.js';
import { PIXEL_COUNT } from '../../kernel/layout.js';
import { applyGrade } from '../../src/core/image/grade.js';
import { withFrame, type Frame } from '../../src/core/frame/frame.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { type Model, modelBounds } from '../../src/core/model/model.js';
import { compile } from '../../src/engine/scene/compile.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import type { Region } from '../../src/engine/sampling/renderSteps.js';
import { startPool } from '../../src/engine/node/threads.js';

/** How far a render is from its reference. */
export interface Judged {
  rmse: number;
  ssim: number;
}

/** Display values 0..255 of linear pixels. */
export function shown(colour: Float32Array): Float32Array {
  const out = new Float32Array(colour.length);
  applyGrade(colour, out);
  return out.map((v) => v * 255);
}

/** `reference` holds display values already. */
export function judge(picture: Float32Array, reference: Float32Array, width: number, height: number): Judged {
  const a = shown(picture);
  const b = reference;
  const rmse = Math.sqrt(a.reduce((s, v, i) => s + (v - b[i]!) ** 2, 0) / a.length);
  const image = (values: Float32Array) => {
    const data = new Uint8ClampedArray((values.length / 3) * 4).fill(255);
    values.forEach((v, i) => (data[Math.floor(i / 3) * 4 + (i % 3)] = v));
    return { data, width, height };
  };
  return { rmse, ssim: ssim(image(a), image(b)).mssim };
}

/** Renders frames of a model's set on all workers; each is asked with its own sampling. */
export async function studio(model: Model, set: unknown, size: { width: number; height: number }) {
  const pool = startPool();
  const scene = compile(loadKernelModule(), model);
  const base = parseSet(set);
  const frames = planFrames({ ...base, sheet: { ...base.sheet, size } }, { bounds: base.reference ?? modelBounds(model), scene: 'judge' });
  return {
    frames,
    /** A part of the frame, the rest is not sampled; and how many samples its pixels took in the mean. */
    async shoot(frame: Frame, region: Region, samples: number, denoise: boolean): Promise<{ colour: Float32Array; taken: number }> {
      const picture = await pool.render('judge', () => scene, withFrame(frame, { sampling: { ...frame.sampling, samples, denoise } }), { region });
      const colour = new Float32Array(region.width * region.height * 3);
      let taken = 0;
      for (let y = 0; y < region.height; y++) {
        const at = ((region.y + y) * picture.width + region.x) * 3;
        colour.set(picture.colour.subarray(at, at + region.width * 3), y * region.width * 3);
        for (let x = 0; x < region.width; x++) taken += picture.sums[(at / 3 + x) * picture.stride + PIXEL_COUNT]!;
      }
      picture.release();
      return { colour, taken: taken / (region.width * region.height) };
    },
    close: () => pool.close(),
  };
}
