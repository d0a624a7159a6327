/** Whole frames: samples a second of the demo designs and of scenes made by code, and the kernel beside a plain tracer. */
import * as L from '../kernel/layout.js';
import { type Model, modelBounds, triangleCount } from '../src/core/model/model.js';
import { withFrame } from '../src/core/frame/frame.js';
import { planFrames } from '../src/core/planning/planFrames.js';
import { parseSet } from '../src/core/plan/set.js';
import { compile } from '../src/engine/scene/compile.js';
import type { Pool } from '../src/engine/scheduler/pool.js';
import { PlainTracer } from './plainTracer.js';
import { closedHall, displacedSphere, forest, merged } from './scenes.js';

/** A scene whose frames are timed. */
export interface FrameScene {
  name: string;
  model: Model;
  eye: [number, number, number];
  target: [number, number, number];
  focalLength: number;
  stage?: { preset: 'bright sweep' | 'open sky' };
  quality: 'review' | { samples: number };
}

/** What a frame took. */
export interface FrameRow {
  scene: string;
  /** Triangles in memory, and as seen through instances. */
  triangles: number;
  seen: number;
  /** Path-traced samples a second of all workers. */
  samples: number;
  /** Share of the workers' time that went into the denoiser. */
  denoise: number;
  /** Seconds from the model to kernel memory's image. */
  build: number;
  /** Bytes a triangle in memory, with shading data; pictures are apart. */
  bytes: number;
  /** Bytes of its pictures. */
  texels: number;
}

/** The kernel beside the plain tracer. */
export interface PlainRow {
  /** Samples a second in one thread. */
  kernel: number;
  plain: number;
  ratio: number;
  /** Mean radiance of the kernel's picture over the plain tracer's. */
  agreement: number;
}

const SIZE = { width: 640, height: 360 };
const HALL = { eye: [-7, 1.7, -13.9] as [number, number, number], target: [0, 1.9, 4] as [number, number, number], focalLength: 24 };

/** Scenes made by code, beside whatever designs are given. */
export function codeScenes(): FrameScene[] {
  const quality = { samples: 8 };
  return [
    { name: 'hall', model: closedHall(16), ...HALL, quality },
    { name: 'million', model: displacedSphere(1000), eye: [0.4, 0.5, 2.4], target: [0, 0, 0], focalLength: 36, quality },
    { name: 'forest', model: forest(), eye: [40, 9, 118], target: [0, 2, 0], focalLength: 30, stage: { preset: 'open sky' }, quality },
  ];
}

function frameOf({ model, eye, target, focalLength, stage, quality }: FrameScene, size = SIZE) {
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'bench',
    sheet: { size, quality },
    stage,
    views: [{ id: 'view', name: 'view', eye, target, focalLength }],
    shots: [{ id: 'still', kind: 'still', views: ['view'] }],
  });
  return planFrames(set, { bounds: modelBounds(model), scene: model.name })[0]!;
}

function median(values: number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

/** Renders each scene's frame `runs` times on the pool, after once to warm up; medians. */
export async function measureFrames(module: WebAssembly.Module, pool: Pool, scenes: FrameScene[], runs: number): Promise<FrameRow[]> {
  const rows: FrameRow[] = [];
  for (const scene of scenes) {
    const started = performance.now();
    const compiled = compile(module, scene.model);
    const build = (performance.now() - started) / 1000;
    const triangles = scene.model.meshes.reduce((n, m) => n + m.indices.length / 3, 0);
    const frame = frameOf(scene);
    const speeds: number[] = [];
    const shares: number[] = [];
    for (let r = 0; r <= runs; r++) {
      pool.resetStats();
      const from = performance.now();
      const picture = await pool.render(scene.name, () => compiled, frame);
      const seconds = (performance.now() - from) / 1000;
      let samples = 0;
      for (let i = L.PIXEL_COUNT; i < picture.sums.length; i += picture.stride) samples += picture.sums[i]!;
      picture.release();
      if (r === 0) continue;
      const { busy, traced } = pool.stats();
      speeds.push(samples / seconds);
      shares.push((busy - traced) / busy);
    }
    const texels = compiled.textures.reduce((n, t) => n + t.width * t.height * 4, 0);
    rows.push({
      scene: scene.name,
      triangles,
      seen: triangleCount(scene.model),
      samples: median(speeds),
      denoise: median(shares),
      build,
      bytes: (compiled.image.byteLength - texels) / triangles,
      texels,
    });
  }
  return rows;
}

/** The hall by the kernel in one thread beside the plain tracer, turn by turn; medians. */
export async function besidePlain(module: WebAssembly.Module, pool: Pool, runs: number): Promise<PlainRow> {
  if (pool.workers !== 1) throw new Error('The plain tracer runs in one thread, so must the kernel.');
  const samples = 8;
  const model = closedHall(16);
  const size = { width: 320, height: 180 };
  const frame = frameOf({ name: 'hall', model, ...HALL, quality: { samples } }, size);
  const compiled = compile(module, model);
  const tracer = new PlainTracer(model, merged(model));
  const forward = HALL.target.map((t, i) => t - HALL.eye[i]!);
  // The long side of the frame is 36 mm.
  const angle = Math.atan(18 / HALL.focalLength);
  const ours: number[] = [];
  const theirs: number[] = [];
  const count = size.width * size.height * samples;
  const undenoised = withFrame(frame, { sampling: { ...frame.sampling, denoise: false, fireflyClamp: 0 } });
  let [mean, other] = [0, 0];
  for (let r = 0; r <= runs; r++) {
    const a = performance.now();
    const picture = await pool.render('hall', () => compiled, undenoised);
    const b = performance.now();
    mean = picture.colour.reduce((s, v, i) => (i % 3 === 1 ? s + v : s), 0) / (size.width * size.height);
    picture.release();
    const c = performance.now();
    other = tracer.picture(HALL.eye, forward, angle, size.width, size.height, samples, frame.sampling.bounces);
    const d = performance.now();
    if (r === 0) continue;
    ours.push(count / ((b - a) / 1000));
    theirs.push(count / ((d - c) / 1000));
  }
  const [kernel, plain] = [median(ours), median(theirs)];
  return { kernel, plain, ratio: kernel / plain, agreement: mean / other };
}
