/** Balls of the library's materials, drawn by the kernel once and kept: one sheet, cut up by the page. */
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { LIBRARY, SWATCH } from '../../core/materials/library.js';
import type { Rgb } from '../../core/units/colour.js';
import { modelBounds } from '../../core/model/model.js';
import { applyGrade } from '../../core/image/grade.js';
import { withFrame } from '../../core/frame/frame.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { hashOf } from '../../core/base/hash.js';
import { parseSet } from '../../core/plan/set.js';
import { modelOf, sphere } from '../../core/model/meshMaker.js';
import { compile } from '../../engine/scene/compile.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { writeFileAtomic } from '../../engine/node/files.js';
import type { ServerContext } from '../context.js';
import { PRIORITY } from '../priorities.js';

const SAMPLES = 12;
const ROUNDNESS = 96;
/** Metres from ball to ball: what glass absorbs depends on how much of it there is. */
const PITCH = 0.06;
/** What shines would light its neighbours. */
const MAX_GLOW = 1.2;

let making: Promise<Buffer> | null = null;

/** WebP of all swatches in rows of SWATCH.columns. */
export function swatchSheet(context: ServerContext): Promise<Buffer> {
  making ??= draw(context).catch((e: unknown) => {
    making = null;
    throw e;
  });
  return making;
}

async function draw({ pool, store }: ServerContext): Promise<Buffer> {
  const key = hashOf({ library: LIBRARY.map((l) => l.material), SAMPLES, SWATCH, PITCH, MOST_GLOW: MAX_GLOW });
  const target = store.thumbnail(key, SWATCH.side);
  if (await store.exists(target)) return readFile(target);
  const { columns, side } = SWATCH;
  const rows = Math.ceil(LIBRARY.length / columns);
  const ball = sphere(ROUNDNESS, () => 0.42 * PITCH);
  const model = modelOf(
    'swatches',
    LIBRARY.map(({ material }, i) => {
      const [x, y] = [(i % columns) + 0.5 - columns / 2, rows / 2 - Math.floor(i / columns) - 0.5];
      return {
        mesh: ball,
        at: [PITCH * x, PITCH * y, 0],
        material: { ...material, emission: material.emission.map((c) => Math.min(MAX_GLOW, c)) as Rgb },
      };
    }),
  );
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'swatches',
    sheet: { size: { width: columns * side, height: rows * side }, quality: { samples: SAMPLES } },
    stage: { preset: 'overcast court', ground: { kind: 'none' } },
    views: [{ id: 'all', name: 'all', kind: 'parallel', eye: [0, 0, 20 * PITCH], target: [0, 0, 0], width: Math.max(columns, rows) * PITCH }],
    shots: [{ id: 'all', kind: 'still', views: ['all'] }],
  });
  const [frame] = planFrames(set, { bounds: modelBounds(model), scene: key });
  // One soft window for all, at the upper left: what tells gloss from matt.
  const light = {
    kind: 'rectangle' as const,
    centre: [-9, 9, 16].map((v) => v * PITCH) as [number, number, number],
    u: [5 * PITCH, 0, 0] as [number, number, number],
    v: [0, 3.5 * PITCH, -3.5 * PITCH] as [number, number, number],
    radiance: [9, 9, 9] as [number, number, number],
  };
  const scene = compile(loadKernelModule(), model);
  const picture = await pool.render(key, () => scene, withFrame(frame!, { stage: { ...frame!.stage, lights: [light] } }), {
    priority: PRIORITY.swatches,
  });
  const display = new Float32Array(picture.colour.length);
  applyGrade(picture.colour, display);
  const { width, height } = picture;
  picture.release();
  const bytes = await sharp(
    Uint8Array.from(display, (v) => Math.round(v * 255)),
    { raw: { width, height, channels: 3 } },
  )
    .webp({ quality: 90 })
    .toBuffer();
  await writeFileAtomic(target, bytes);
  return bytes;
}
