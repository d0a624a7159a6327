/** Batches that were recorded, to be replayed by tests of the forecast: what was foreseen, and what happened when. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { LAMP_SHOTS, LANDING } from '../../demo/sets.js';
import { northmere } from '../../demo/northmere.js';
import { tern } from '../../demo/tern.js';
import { type Model, modelBounds } from '../../src/core/model/model.js';
import type { PlannedWork } from '../../src/core/forecast/forecast.js';
import { plannedWork } from '../../src/core/forecast/plannedWork.js';
import { framesToMeasure } from '../../src/core/forecast/traits.js';
import { type Trial, TRIAL_LIMITS, trialFrame } from '../../src/core/forecast/trial.js';
import { DEFAULT_FIRST_FRAMES } from '../../src/core/plan/firstFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { firstFrames } from '../../src/core/planning/firstFrames.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { preflightPlan, wantedProbes } from '../../src/core/preflight/preflight.js';
import { summarizeProbe } from '../../src/core/preflight/summarizeProbe.js';
import { runTrial } from '../../src/engine/forecast/runTrial.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { OutputWorkers } from '../../src/engine/node/outputWorkers.js';
import { startPool } from '../../src/engine/node/threads.js';
import { renderFrame } from '../../src/engine/output/renderFrame.js';
import { FrameProber } from '../../src/engine/probes/frameProber.js';
import { compile } from '../../src/engine/scene/compile.js';
import { sphere } from '../../src/core/model/meshMaker.js';
import { box, modelOfPieces, type Piece } from './checkModel.js';

const FOLDER = path.join(import.meta.dirname, '../recordings');
/** One batch: `frames` are told by their index in `plan.frames`, in the order in which they were done. */
export interface Recording {
  name: string;
  workers: number;
  plan: PlannedWork;
  /** Trials by index of their frame. */
  trials: Record<number, Trial>;
  /** Frame, its seconds of all workers, and its bytes. */
  done: { frame: number; seconds: number; bytes: number }[];
}

interface Scene {
  name: string;
  model: () => Model;
  set: object;
}

/** Each frame is rendered so many times, one after another, and told by the least: what disturbs a machine passes. */
const ROUNDS = 2;

/**
 * Seconds of this process on all its cores. Recordings are told in them: what else runs at the machine, and what its host
 * gives to others, would be in the times by the clock, and is not what a forecast foresees.
 */
const cpu = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};

const SHEET = { size: { width: 256, height: 144 }, rate: '5', quality: { samples: 32 } };
const base = (model: () => Model, name: string, rest: Record<string, unknown>): Scene => ({
  name,
  model,
  set: { format: 'cold-easel.set', version: 2, name, sheet: SHEET, stage: { preset: 'bright sweep' }, ...rest },
});
const lampSet = (shots: object[], sheet: object = SHEET): object => ({ ...LAMP_SHOTS, sheet, shots });
const landingSet = (shots: object[], sheet: object = SHEET): object => ({ ...LANDING, sheet, shots });
const GLASS = { transmission: 1, ior: 1.5, roughness: 0 };
const spheres = (n: number, at: (i: number) => [number, number, number], r: number, material: object): Piece[] =>
  Array.from({ length: n }, (_, i) => {
    const ball = sphere(16, () => r);
    const c = at(i);
    return { name: `Ball ${i}`, mesh: { ...ball, positions: ball.positions.map((v, k) => v + c[k % 3]!) }, material };
  });
const house: Piece[] = [
  { name: 'House', mesh: box([-1, 0, -0.8], [1, 1.2, 0.8]) },
  { name: 'Chimney', mesh: box([0.3, 1.2, -0.2], [0.5, 1.7, 0]) },
];
/** A street that gets fuller of glass from one end to the other. */
const street = (): Model =>
  modelOfPieces([
    { name: 'Floor', mesh: box([-40, -0.2, -3], [4, 0, 3]), isContext: true },
    ...spheres(24, (i) => [-4 - 28 * Math.sqrt(i / 24), 0.5 + (i % 3) * 0.7, ((i * 7) % 5) - 2], 0.45, GLASS),
  ]);
const streetWalk = (from: number, to: number): object[] => [
  {
    id: 'walk',
    name: 'Walk',
    kind: 'walkthrough',
    look: 'ahead',
    ease: false,
    stations: [{ eye: [from, 1.2, 0] }, { eye: [to, 1.2, 0], seconds: 5 }],
  },
];
/** A house that a wall of glass stands before, in a few frames of its turntable. */
const spiked = (): Model =>
  modelOfPieces([...house, ...spheres(24, (i) => [(i % 8) * 0.13 - 0.45, 0.15 + Math.floor(i / 8) * 0.3, 3.2 + (i % 3) * 0.15], 0.14, GLASS)]);
const VIEW = { id: 'v', name: 'Front', eye: [0, 1.1, 6.5], target: [0, 0.75, 0], focalLength: 40 };
const turned = { id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 24, turns: ['camera'], pivot: 'target' };

/** Batches that are recorded, each with another course of its cost. */
export const SCENES: readonly Scene[] = [
  { name: 'even: the lamp turns', model: () => tern(), set: lampSet([{ id: 'turntable', kind: 'turntable', view: 'three-quarter', frames: 24 }]) },
  base(() => modelOfPieces(house), 'even: a house turns', { views: [VIEW], shots: [turned] }),
  base(street, 'light to heavy: into a street of glass', { views: [VIEW], shots: streetWalk(-1, -26) }),
  base(street, 'heavy to light: away from a street of glass', { views: [VIEW], shots: streetWalk(-26, -1) }),
  base(spiked, 'one spike: glass before a house', { views: [VIEW], shots: [turned] }),
  {
    name: 'mixed: review of the lamp',
    model: () => tern(),
    set: lampSet([
      LAMP_SHOTS.shots[0]!,
      { ...LAMP_SHOTS.shots[1]!, frames: 18, overrides: { size: { width: 200, height: 200 } } },
      { ...LAMP_SHOTS.shots[2]!, stations: [{ height: 0.1 }, { height: -0.01, seconds: 2 }] },
    ]),
  },
  {
    name: 'mixed: review of the landing',
    model: northmere,
    set: landingSet([
      LANDING.shots[0]!,
      { ...LANDING.shots[1]!, frames: 16 },
      { ...LANDING.shots[3]!, overrides: { size: { width: 200, height: 112 }, quality: { samples: 64 } } },
    ]),
  },
  { name: 'walk: arrival at the landing', model: northmere, set: landingSet([{ ...LANDING.shots[2]!, overrides: { rate: '3' } }]) },
  {
    name: 'light to heavy: closer to the glass shade',
    model: () => tern(),
    set: lampSet([
      {
        id: 'closer',
        name: 'Closer',
        kind: 'walkthrough',
        look: 'target',
        target: [0.16, 0.345, 0],
        ease: false,
        stations: [{ eye: [1.9, 0.9, 1.6] }, { eye: [0.36, 0.4, 0.22], seconds: 5 }],
      },
    ]),
  },
  {
    name: 'quick: the landing turns',
    model: northmere,
    set: landingSet([{ ...LANDING.shots[1]!, frames: 36 }], { ...SHEET, quality: 'quick' }),
  },
];

/** Makes what is foreseen of a scene's batch, renders it as the server would, and tells both. */
export async function record({ name, model: make, set: file }: Scene): Promise<Recording> {
  const module = loadKernelModule();
  const model = make();
  const scene = compile(module, model);
  const bounds = modelBounds(model);
  const set = parseSet(file);
  const frames = planFrames(set, { bounds, scene: name });
  const parts = model.parts.map(({ path: at, renderVisible, isContext, primitives }) => ({
    path: at,
    renderVisible,
    isContext,
    triangles: primitives.length,
  }));
  const prober = new FrameProber(module, scene);
  const answers = new Map(
    wantedProbes(preflightPlan(set, frames, { parts, bounds, scene: name })).map(({ frame, request }) => [
      frame,
      summarizeProbe(prober.probe(frame, { ...request, light: false }), frame),
    ]),
  );
  const plan = plannedWork(frames, (f) => answers.get(f));
  const nothing = (): never => {
    throw new Error('This model has no images.');
  };
  const assets = { hash: name, scene: () => scene, module: () => module, texture: nothing, picture: nothing };
  const pool = startPool();
  const output = new OutputWorkers();
  try {
    const trials: Record<number, Trial> = {};
    const chosen = framesToMeasure(plan.frames, TRIAL_LIMITS);
    await runTrial(pool, assets, trialFrame(frames[0]!, name));
    for (let round = 0; round < ROUNDS; round++) {
      for (const i of chosen) {
        const before = cpu();
        const trial = await runTrial(pool, assets, trialFrame(frames[i]!, name));
        const share = (cpu() - before) / ((trial.traced + trial.developed) * pool.workers + trial.written);
        const told = { ...trial, traced: trial.traced * share, developed: trial.developed * share, written: trial.written * share };
        if (!trials[i] || told.traced + told.developed < trials[i].traced + trials[i].developed) trials[i] = told;
      }
    }
    const first = firstFrames(frames, DEFAULT_FIRST_FRAMES);
    const order = [...frames.keys()].sort((a, b) => Number(first.has(frames[b]!)) - Number(first.has(frames[a]!)) || a - b);
    const done = order.map((frame) => ({ frame, seconds: Infinity, bytes: 0 }));
    for (let round = 0; round < ROUNDS; round++) {
      for (const d of done) {
        const before = cpu();
        const { files } = await renderFrame(pool, assets, frames[d.frame]!, {}, output.finish);
        d.seconds = Math.min(d.seconds, (cpu() - before) / pool.workers);
        d.bytes = files.reduce((n, f) => n + f.bytes.length, 0);
      }
    }
    return { name, workers: pool.workers, plan, trials, done };
  } finally {
    await output.close();
    await pool.close();
  }
}

const rounded = (_: string, value: unknown): unknown => (typeof value === 'number' ? Number(value.toPrecision(4)) : value);
const fileOf = (name: string): string => path.join(FOLDER, `${name.replace(/[^a-z]+/g, '-')}.json`);

/** Writes a recording, its numbers rounded. */
export const saveRecording = (recording: Recording): void => writeFileSync(fileOf(recording.name), `${JSON.stringify(recording, rounded)}\n`);

/** All recordings that are kept. */
export const readRecordings = (): Recording[] =>
  readdirSync(FOLDER)
    .filter((f) => f.endsWith('.json'))
    .sort()
    .map((f) => JSON.parse(readFileSync(path.join(FOLDER, f), 'utf8')) as Recording);
