/** `easel render`: renders the frames of a set into a folder. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { Option } from 'commander';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { QUALITY_LEVELS, type QualityLevel } from '../../core/frame/settings.js';
import { firstMissingMaterial } from '../../core/materials/assignments.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import type { SetFile } from '../../core/plan/set.js';
import { writeFileAtomic } from '../../engine/node/files.js';
import { startPool } from '../../engine/node/threads.js';
import { fileNames, renderFrame } from '../../engine/output/renderFrame.js';
import type { Prepared } from '../../engine/scene/prepare.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { type Command, InputError, type Say } from '../command.js';
import { readEnvironments, readSet } from '../input.js';
import { assetsOf, loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

interface RenderOptions extends PlanOptions {
  out: string;
  shot?: string;
  select?: string;
  quality?: QualityLevel;
}

interface FileResult {
  shot: string;
  number: number;
  file: string;
  seconds: number;
  samples: number;
}

/** Frames at a time: the second fills the end of the first while that is being written. */
const FRAMES_IN_FLIGHT = 3;

/** The frames that --shot and --select ask for. */
function choose(set: SetFile, frames: Frame[], { shot, select }: RenderOptions): Frame[] {
  if (shot !== undefined && !set.shots.some((s) => s.id === shot))
    throw new InputError(`There is no shot "${shot}"; the set has ${set.shots.map((s) => s.id).join(', ') || 'none'}.`);
  const ofShot = shot === undefined ? frames : frames.filter((f) => shotIdOfOutput(f.shot) === shot);
  if (select === undefined) return ofShot;
  try {
    return selectPlannedFrames(ofShot, select);
  } catch (e) {
    throw new InputError(`--select: ${(e as Error).message}`);
  }
}

/** Gives every shot this quality, also one that has another of its own. */
function setQuality(set: SetFile, quality: QualityLevel): void {
  set.sheet.quality = quality;
  for (const shot of set.shots) delete shot.overrides?.quality;
}

/** Throws InputError where a material is missing or a file would be overwritten. */
function checkInput(file: string, frames: Frame[], { summary }: Prepared, out: string): void {
  const missing = frames[0]?.materials && firstMissingMaterial(frames[0].materials, summary.materials);
  if (missing) throw new InputError(`${file}: there is no material "${missing}" in the set, the library or the model; correct it under materials.`);
  const present = frames.flatMap(fileNames).find((name) => existsSync(path.join(out, name)));
  if (present) throw new InputError(`${path.join(out, present)} exists and would be overwritten; choose another --out or remove it.`);
}

async function renderAll(frames: Frame[], assets: AssetProvider, out: string, say: Say): Promise<FileResult[]> {
  const results: FileResult[] = [];
  const total = frames.reduce((n, f) => n + fileNames(f).length, 0);
  const pool = startPool();
  try {
    pool.resetStats();
    let next = 0;
    const lane = async (): Promise<void> => {
      for (let i = next++; i < frames.length; i = next++) {
        const frame = frames[i]!;
        const { files, seconds, samples } = await renderFrame(pool, assets, frame);
        for (const { name, bytes } of files) {
          await writeFileAtomic(path.join(out, name), bytes);
          results.push({ shot: frame.shot, number: frame.number, file: path.join(out, name), seconds, samples });
        }
        say(`${results.length}/${total} ${files.map((f) => f.name).join(' ')} ${seconds.toFixed(2)} s`);
      }
    };
    await Promise.all(Array.from({ length: FRAMES_IN_FLIGHT }, lane));
    const { busy, wall, workers } = pool.stats();
    if (frames.length > 0) say(`worker idle time ${(100 * (1 - busy / (wall * workers))).toFixed(1)} %`);
  } finally {
    await pool.close();
  }
  const order = new Map(frames.map((f, i) => [`${f.shot}/${f.number}`, i]));
  return results.sort((a, b) => order.get(`${a.shot}/${a.number}`)! - order.get(`${b.shot}/${b.number}`)!);
}

export const renderCommand: Command<RenderOptions> = {
  name: 'render',
  summary: 'render the frames of a set into a folder',
  argument: ['set', 'the set file'],
  options: [
    ...planOptions(),
    new Option('--out <folder>', 'folder for the files').makeOptionMandatory(),
    new Option('--shot <id>', 'this shot alone'),
    new Option('--select <list>', 'these frames alone, for example "1-20, 35, last" or, by shot, "spin: 1-4; all"'),
    new Option('--quality <level>', 'instead of the quality in the set and of each shot').choices(Object.keys(QUALITY_LEVELS)),
  ],
  async run(file, options, say) {
    const set = readSet(file);
    const out = path.resolve(options.out);
    if (options.quality) setQuality(set, options.quality);
    const prepared = await loadModelFor(set, options, say);
    const environments = readEnvironments(set, file);
    const frames = choose(set, planOf(set, prepared, environments), options);
    checkInput(file, frames, prepared, out);
    const started = performance.now();
    const results = await renderAll(frames, assetsOf(prepared, file, environments), out, say);
    return { frames: results, seconds: (performance.now() - started) / 1000 };
  },
};
