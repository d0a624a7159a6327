/** What lights a pixel: it is traced once for each light alone, and once in the dark for what of the model shines. */
import * as L from '../../../kernel/layout.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import type { LightShare } from '../../core/image/pixelContent.js';
import type { Stage } from '../../core/stage/stage.js';
import { luminance } from '../../core/units/colour.js';
import type { CompiledScene } from '../scene/compile.js';
import type { Pool } from '../scheduler/pool.js';
import type { RenderOptions } from '../scheduler/job.js';

/** Samples of each light; a pixel's neighbours count as well. */
const SAMPLES = 64;
/** Pixels about the one that is asked, on each side. */
const REACH = 1;
/** Lights that are asked one by one; further ones are left out. */
const MAX_LIGHTS = 24;
const BLACK = { top: [0, 0, 0], middle: [0, 0, 0], bottom: [0, 0, 0] } as unknown as Stage['environment'];

/** The stage in the dark: nothing from around, no lights. */
function darkened({ sky: _sky, ...stage }: Stage): Stage {
  return {
    ...stage,
    environment: BLACK,
    backdrop: BLACK,
    lights: [],
    modelLights: false,
    ...(stage.image && { image: { ...stage.image, strength: 0 } }),
  };
}

/** Shares of the light that reaches the eye from a pixel and about it, the most first; empty where it is dark. @param load of the scene under `key`. */
export async function lightShares(
  pool: Pool,
  { key, load }: { key: string; load: () => Promise<CompiledScene> | CompiledScene },
  frame: Frame,
  x: number,
  y: number,
  options: Pick<RenderOptions, 'priority' | 'signal'> = {},
): Promise<LightShare[]> {
  const { width, height } = frame.size;
  const region = { x, y, width: 1, height: 1 };
  const lit = async (stage: Stage): Promise<number> => {
    const sampling = { ...frame.sampling, mode: 'traced' as const, samples: SAMPLES, denoise: false, noise: 0, seconds: 0 };
    const alone = withFrame(frame, { stage, passes: ['beauty'], lines: undefined, sampling });
    const { sums, stride, release } = await pool.render(key, load, alone, { ...options, region });
    let sum = 0;
    for (let py = Math.max(0, y - REACH); py <= Math.min(height - 1, y + REACH); py++) {
      for (let px = Math.max(0, x - REACH); px <= Math.min(width - 1, x + REACH); px++) {
        const at = (py * width + px) * stride;
        const n = sums[at + L.PIXEL_COUNT]!;
        if (n > 0) sum += luminance(sums[at]!, sums[at + 1]!, sums[at + 2]!) / n;
      }
    }
    release();
    return sum;
  };
  const { stage } = frame;
  const dark = darkened(stage);
  const shining = await lit(dark);
  const found: { light: LightShare['light']; amount: number }[] = [];
  const add = async (light: LightShare['light'], alone: Stage): Promise<void> => void found.push({ light, amount: (await lit(alone)) - shining });
  await add('surroundings', { ...stage, lights: [], modelLights: false, backdrop: BLACK });
  for (const [i, light] of stage.lights.slice(0, MAX_LIGHTS).entries()) await add(i, { ...dark, lights: [light] });
  const own = stage.modelLights ? await lit({ ...dark, modelLights: true }) : shining;
  found.push({ light: 'model', amount: own });
  const positive = found.filter((f) => f.amount > 0);
  const sum = positive.reduce((n, f) => n + f.amount, 0);
  return positive.map(({ light, amount }) => ({ light, share: amount / sum })).sort((a, b) => b.share - a.share);
}
