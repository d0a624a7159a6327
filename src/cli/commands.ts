/** What each command does: the same use cases as the interface, without one. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { type Frame, shotIdOfOutput } from '../core/frame/frame.js';
import { PLAN_LISTS, type PlanList } from '../core/movie/lists.js';
import { planFrames } from '../core/planning/planFrames.js';
import { firstMissingMaterial } from '../core/materials/assignments.js';
import { selectPlannedFrames } from '../core/plan/selection.js';
import { missingGroups } from '../core/edit/remapParts.js';
import { type SetFile } from '../core/plan/set.js';
import { QUALITY_LEVELS, type QualityLevel } from '../core/frame/settings.js';
import { decodeScene } from '../engine/compile.js';
import { loadKernelModule } from '../engine/node/assets.js';
import { writeFileAtomic } from '../engine/node/files.js';
import { importModel } from '../engine/node/importModel.js';
import { startPool } from '../engine/node/threads.js';
import { exportPlanGlb } from '../engine/planGlb.js';
import { type Prepared } from '../engine/prepare.js';
import { fileNames, renderFrame } from '../engine/renderFrame.js';
import { bench } from './bench.js';
import { type Command } from './command.js';
import { backup, check, passphrase, restore } from './maintain.js';
import { sun } from './sun.js';
import { InputError, type Options, readOptions, readSet, readSources, readEnvironments, type EnvironmentFile, textureReader } from './input.js';

function onlyOne(words: string[], what: string): string {
  if (words.length !== 1) throw new InputError(`Give ${what}${words.length > 1 ? ', and only one' : ''}.`);
  return words[0]!;
}

async function load(file: string, options: Options): Promise<Prepared> {
  return importModel(readSources(file), readOptions(options));
}

function modelOption(options: Options): string {
  if (typeof options.model !== 'string') throw new InputError('Give the model with --model FILE.');
  return options.model;
}

/** The model that a set is laid on. */
async function loadFor(set: SetFile, options: Options, say: (line: string) => void): Promise<Prepared> {
  const prepared = await load(modelOption(options), options);
  for (const path of missingGroups(set, prepared.summary.parts))
    say(`note: "${path}" has fewer groups of faces than the set puts finishes on. Where they were kept apart, give --faces apart.`);
  return prepared;
}

function printPlan(set: SetFile, { summary }: Prepared, surrounds: EnvironmentFile[] = []): Frame[] {
  try {
    return planFrames(set, {
      bounds: summary.bounds,
      scene: summary.hash,
      model: summary.name,
      project: summary.name,
      surrounds: Object.fromEntries(surrounds.map((s) => [s.file, s.id])),
    });
  } catch (e) {
    throw new InputError((e as Error).message);
  }
}

const model: Command = {
  usage: 'import MODEL [--unit mm] [--up z] [--faces apart]',
  options: ['unit', 'up', 'faces'],
  async run(words, options, say) {
    const { summary } = await load(onlyOne(words, 'one model'), options);
    const { min, max } = summary.bounds;
    say(
      `${summary.name}: ${summary.parts.length} parts, ${summary.triangles} triangles, ${min.map((v, i) => (max[i]! - v).toFixed(3)).join(' × ')} m`,
    );
    for (const w of summary.warnings) say(`note: ${w}`);
    return {
      parts: summary.parts.length,
      triangles: summary.triangles,
      bounds: summary.bounds,
      finishes: summary.finishes,
      warnings: summary.warnings,
    };
  },
};

const plan: Command = {
  usage: 'plan SET --model MODEL [--unit mm] [--up z] [--faces apart]',
  options: ['model', 'unit', 'up', 'faces'],
  async run(words, options, say) {
    const file = onlyOne(words, 'one set file');
    const set = readSet(file);
    const frames = printPlan(set, await loadFor(set, options, say), readEnvironments(set, file));
    say(`${set.name}: ${set.shots.length} shots, ${frames.length} frames`);
    return {
      frames: frames.map(({ shot, index, number, name, time, size, camera, turn, sun, section, identity }) => ({
        shot,
        index,
        number,
        name,
        time,
        size,
        identity,
        camera: { eye: camera.eye, target: camera.target, viewMatrix: camera.viewMatrix, projectionMatrix: camera.projectionMatrix },
        ...(turn && { turn }),
        ...(sun && { sun }),
        ...(section && { section }),
      })),
    };
  },
};

function choose(set: SetFile, frames: Frame[], options: Options): Frame[] {
  let chosen = frames;
  if (typeof options.shot === 'string') {
    if (!set.shots.some((s) => s.id === options.shot))
      throw new InputError(`There is no shot "${options.shot}"; the set has ${set.shots.map((s) => s.id).join(', ') || 'none'}.`);
    chosen = frames.filter((f) => shotIdOfOutput(f.shot) === options.shot);
  }
  if (typeof options.select === 'string') {
    try {
      chosen = selectPlannedFrames(chosen, options.select);
    } catch (e) {
      throw new InputError(`--select, shot ${(e as Error).message}`);
    }
  }
  return chosen;
}

const render: Command = {
  usage: 'render SET --model MODEL --out DIR [--shot ID] [--select LIST] [--quality draft] [--unit mm] [--up z] [--faces apart]',
  options: ['model', 'out', 'shot', 'select', 'quality', 'unit', 'up', 'faces'],
  async run(words, options, say) {
    const file = onlyOne(words, 'one set file');
    const set = readSet(file);
    if (typeof options.out !== 'string') throw new InputError('Give the folder for the pictures with --out DIR.');
    const out = path.resolve(options.out);
    if (typeof options.quality === 'string') {
      if (!(options.quality in QUALITY_LEVELS))
        throw new InputError(`--quality ${options.quality} is not known; there is ${Object.keys(QUALITY_LEVELS).join(', ')}.`);
      set.sheet.quality = options.quality as QualityLevel;
    }
    const prepared = await loadFor(set, options, say);
    const surrounds = readEnvironments(set, file);
    const frames = choose(set, printPlan(set, prepared, surrounds), options);
    const lost = frames[0]?.dressing && firstMissingMaterial(frames[0].dressing, prepared.summary.finishes);
    if (lost)
      throw new InputError(
        `${file}: there is no finish "${lost}", neither in the set nor in the library nor in the model; correct it under dressing.`,
      );
    const present = frames.flatMap(fileNames).find((name) => existsSync(path.join(out, name)));
    if (present) throw new InputError(`${path.join(out, present)} is there already and would be written over; choose another --out or remove it.`);
    const scene = decodeScene(prepared.scene)!;
    const source = {
      hash: prepared.summary.hash,
      scene: () => scene,
      module: loadKernelModule,
      texture: textureReader(file),
      picture: (id: string) => Promise.resolve(surrounds.find((s) => s.id === id)!),
    };
    const pool = startPool();
    const started = performance.now();
    const results: { shot: string; number: number; file: string; seconds: number; samples: number }[] = [];
    try {
      pool.resetStats();
      let next = 0;
      // Three frames at a time: the second fills the end of the first while that is being written.
      const lane = async (): Promise<void> => {
        for (let i = next++; i < frames.length; i = next++) {
          const frame = frames[i]!;
          const done = await renderFrame(pool, source, frame);
          for (const f of done.files) {
            await writeFileAtomic(path.join(out, f.name), f.bytes);
            results.push({ shot: frame.shot, number: frame.number, file: path.join(out, f.name), seconds: done.seconds, samples: done.samples });
          }
          say(`${results.length}/${frames.length * set.sheet.files.length} ${done.files.map((f) => f.name).join(' ')} ${done.seconds.toFixed(2)} s`);
        }
      };
      await Promise.all([lane(), lane(), lane()]);
      const stats = pool.stats();
      const share = (seconds: number): string => (100 * (1 - seconds / (stats.wall * stats.workers))).toFixed(1);
      if (frames.length > 0) say(`workers had no work ${share(stats.busy)} % of the time, and did not trace ${share(stats.traced)} %`);
    } finally {
      await pool.close();
    }
    const order = new Map(frames.map((f, i) => [`${f.shot}/${f.number}`, i]));
    results.sort((a, b) => order.get(`${a.shot}/${a.number}`)! - order.get(`${b.shot}/${b.number}`)!);
    return { frames: results, seconds: (performance.now() - started) / 1000 };
  },
};

const exported: Command = {
  usage: `export SET --model MODEL --out FILE.glb|${Object.keys(PLAN_LISTS).join('|')} [--unit mm] [--up z] [--faces apart]`,
  options: ['model', 'out', 'unit', 'up', 'faces'],
  async run(words, options, say) {
    const file = onlyOne(words, 'one set file');
    const set = readSet(file);
    const out = typeof options.out === 'string' ? options.out : '';
    const list = (Object.keys(PLAN_LISTS) as PlanList[]).find((ending) => out.toLowerCase().endsWith(`.${ending}`));
    if (!list && !/\.glb$/i.test(out))
      throw new InputError(
        `Give the file to write with --out, ending in .glb, ${Object.keys(PLAN_LISTS)
          .map((e) => `.${e}`)
          .join(', ')}.`,
      );
    const prepared = await loadFor(set, options, say);
    const frames = printPlan(set, prepared, readEnvironments(set, file));
    const bytes = list
      ? new TextEncoder().encode(PLAN_LISTS[list].make(set, frames))
      : await exportPlanGlb(set, prepared.glb, frames, textureReader(file));
    await writeFileAtomic(path.resolve(out), bytes);
    say(`${out}: ${bytes.length} bytes, ${frames.length} frames`);
    return { file: path.resolve(out), bytes: bytes.length };
  },
};

export const COMMANDS: Record<string, Command> = {
  import: model,
  plan,
  render,
  export: exported,
  sun,
  bench,
  check,
  backup,
  restore,
  passphrase,
};
