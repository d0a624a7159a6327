/**
 * Rays a second of the kernel beside three-mesh-bvh, on the same rays, interleaved, in one thread;
 * the median of the runs is told.
 */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH, SAH } from 'three-mesh-bvh';
import { type Mesh, modelBounds } from '../src/core/model/model.js';
import { planFrames } from '../src/core/planning/planFrames.js';
import { parseSet } from '../src/core/plan/set.js';
import { compile } from '../src/engine/scene/compile.js';
import type { Pool } from '../src/engine/scheduler/pool.js';
import { MeshQueries } from '../src/engine/queries/meshQueries.js';
import { cameraRays, type RaySet, secondaryRays } from './raySets.js';
import { closedHall, displacedSphere, merged } from './scenes.js';
import { modelOf } from '../src/core/model/meshMaker.js';

/** Rays per second of one set of rays. */
export interface BenchRow {
  scene: string;
  rays: string;
  triangles: number;
  count: number;
  /** Rays a second, medians. */
  kernel: number;
  reference: number;
  ratio: number;
  /** Share of rays on which both agree whether something is hit. */
  agreement: number;
}

/** What building a tree took. */
export interface BuildRow {
  scene: string;
  triangles: number;
  seconds: number;
  /** Bytes of the tree and packets, a triangle. */
  bytes: number;
}

function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)]!;
}

class Reference {
  readonly geometry = new BufferGeometry();
  readonly bvh: MeshBVH;
  private readonly ray = new Ray(new Vector3(), new Vector3());

  constructor(mesh: Mesh) {
    this.geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    this.geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
    this.bvh = new MeshBVH(this.geometry, { strategy: SAH });
  }

  /** How many of the rays hit; three-mesh-bvh answers them one after another. */
  run(set: RaySet, count: number): number {
    const { rays, far } = set;
    let hits = 0;
    for (let i = 0; i < count; i++) {
      this.ray.origin.set(rays[i * 6]!, rays[i * 6 + 1]!, rays[i * 6 + 2]!);
      this.ray.direction.set(rays[i * 6 + 3]!, rays[i * 6 + 4]!, rays[i * 6 + 5]!);
      if (this.bvh.raycastFirst(this.ray, DoubleSide, 0, far[i]!)) hits++;
    }
    return hits;
  }
}

interface BenchScene {
  name: string;
  mesh: Mesh;
  eye: number[];
  forward: number[];
  light: number[];
}

/** The two scenes: a hall of about 200 000 triangles, a displaced sphere of about a million. */
function benchScenes(scale: number): BenchScene[] {
  return [
    { name: 'hall', mesh: merged(closedHall(Math.round(16 * scale))), eye: [-7, 1.7, -13.9], forward: [0.36, 0.02, 0.93], light: [0.5, 4.6, 1] },
    {
      name: 'million',
      mesh: merged(displacedSphere(Math.round((1000 * scale) / 2) * 2)),
      eye: [0.4, 0.5, 2.4],
      forward: [-0.16, -0.2, -0.966],
      light: [2, 3, 3],
    },
  ];
}

/**
 * Runs the benchmark. `size` is the width of the camera's square picture, `runs` how often each
 * side is measured, `scale` shrinks the scenes for a quick look.
 */
export function runBench(
  module: WebAssembly.Module,
  { size = 1000, runs = 5, scale = 1, referenceRays = 60_000 } = {},
): { rows: BenchRow[]; builds: BuildRow[] } {
  const rows: BenchRow[] = [];
  const builds: BuildRow[] = [];
  for (const scene of benchScenes(scale)) {
    const triangles = scene.mesh.indices.length / 3;
    const started = performance.now();
    const compiled = compile(module, modelOf(scene.name, [{ mesh: scene.mesh }]));
    builds.push({
      scene: scene.name,
      triangles,
      seconds: (performance.now() - started) / 1000,
      bytes: (compiled.meshes[0]!.index - compiled.meshes[0]!.tree) / triangles,
    });
    const reference = new Reference(scene.mesh);
    const queries = new MeshQueries(module, compiled, 0, size * size);
    const camera = cameraRays(scene.eye, scene.forward, [0, 1, 0], size, size);
    const n = queries.load(camera.rays, camera.far);
    queries.run(n, false);
    const first = queries.read(n);
    const hits = Array.from(first.distance, (distance, i) => ({ distance, triangle: first.triangle[i]! }));
    for (const set of [camera, ...secondaryRays(scene.mesh, camera, hits, scene.light)]) {
      rows.push(measure(scene.name, triangles, set, queries, reference, runs, referenceRays));
    }
  }
  return { rows, builds };
}

function measure(
  scene: string,
  triangles: number,
  set: RaySet,
  queries: MeshQueries,
  reference: Reference,
  runs: number,
  referenceRays: number,
): BenchRow {
  const count = queries.load(set.rays, set.far);
  // The slower side is asked every k-th ray of the same set.
  const stride = Math.max(1, Math.floor(count / referenceRays));
  const few = Math.floor(count / stride);
  const thinned: RaySet = { ...set, rays: new Float32Array(few * 6), far: new Float32Array(few) };
  for (let i = 0; i < few; i++) {
    thinned.rays.set(set.rays.subarray(i * stride * 6, i * stride * 6 + 6), i * 6);
    thinned.far[i] = set.far[i * stride]!;
  }
  const kernelTimes: number[] = [];
  const referenceTimes: number[] = [];
  // The renderer asks the eye's rays together, and all others one by one.
  const ask = (): void => (set.name === 'camera' ? queries.runTogether(count) : queries.run(count, set.any));
  ask();
  let theirs = reference.run(thinned, few);
  for (let r = 0; r < runs; r++) {
    const a = performance.now();
    ask();
    const b = performance.now();
    theirs = reference.run(thinned, few);
    kernelTimes.push(count / ((b - a) / 1000));
    referenceTimes.push(few / ((performance.now() - b) / 1000));
  }
  const out = queries.read(count);
  let ours = 0;
  for (let i = 0; i < few; i++) if (set.any ? out.triangle[i * stride] === 1 : Number.isFinite(out.distance[i * stride]!)) ours++;
  const kernel = median(kernelTimes);
  const other = median(referenceTimes);
  return { scene, rays: set.name, triangles, count, kernel, reference: other, ratio: kernel / other, agreement: 1 - Math.abs(ours - theirs) / few };
}

/** What a second worker brings. */
export interface ScalingRow {
  /** Samples a second of whole frames with one worker and with two. */
  one: number;
  two: number;
  ratio: number;
}

/** Path-traced samples a second of full frames of the hall, with one worker and with two. */
export async function scaling(module: WebAssembly.Module, start: (threads: number) => Pool, runs: number): Promise<ScalingRow> {
  const model = closedHall(16);
  const scene = compile(module, model);
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'bench',
    sheet: { size: { width: 640, height: 360 }, quality: { samples: 8 } },
    views: [{ id: 'hall', name: 'hall', eye: [-7, 1.7, -13.9], target: [0, 1.9, 4], focalLength: 24 }],
    shots: [{ id: 'still', kind: 'still', views: ['hall'] }],
  });
  const [frame] = planFrames(set, { bounds: modelBounds(model), scene: 'bench' });
  const speed = async (threads: number): Promise<number> => {
    const pool = start(threads);
    // The first picture warms the workers up.
    (await pool.render('bench', () => scene, frame!)).release();
    const times: number[] = [];
    for (let r = 0; r < runs; r++) {
      const started = performance.now();
      (await pool.render('bench', () => scene, frame!)).release();
      times.push((640 * 360 * 8) / ((performance.now() - started) / 1000));
    }
    await pool.close();
    return median(times);
  };
  const one = await speed(1);
  const two = await speed(2);
  return { one, two, ratio: two / one };
}
