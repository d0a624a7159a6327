/** `easel render`: renders the frames of a set into a folder. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { Option } from 'commander';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { QUALITY_LEVELS, type QualityLevel } from '../../core/frame/settings.js';
import { firstMissingMaterial } from '../../core/materials/assignments.js';
import { selectPlannedFrames } from '../../core/plan/selection.js';
import type { SetFile } from '../../core/plan/set.js';
import { filesKeyOf } from '../../core/frame/identity.js';
import { writeFileAtomic } from '../../engine/node/files.js';
import { framesBudget } from '../../engine/node/memoryBudget.js';
import { bytesOfFrame, MemoryGate } from '../../engine/node/memoryGate.js';
import { renderLargeFrame } from '../../engine/node/renderLargeFrame.js';
import { startPool } from '../../engine/node/threads.js';
import { fileNames, renderFrame, type RenderedFrame } from '../../engine/output/renderFrame.js';
import { needsStrips } from '../../engine/sampling/strips.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { Pool } from '../../engine/scheduler/pool.js';
import type { Prepared } from '../../engine/scene/prepare.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { type Command, InputError, type Say } from '../command.js';
import { readEnvironments, readSet } from '../input.js';
import { isWhole, JOURNAL, noteFrame, readJournal, sha256Of } from '../renderJournal.js';
import { ProgressLine } from '../progressLine.js';
import { assetsOf, loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

interface RenderOptions extends PlanOptions {
  out: string;
  shot?: string;
  select?: string;
  quality?: QualityLevel;
  resume?: boolean;
}

interface FileResult {
  shot: string;
  number: number;
  file: string;
  seconds: number;
  samples: number;
  /** It was there from an earlier run. */
  takenOver?: true;
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

/** Throws InputError where a material is missing, or a file would be overwritten that no run before this one wrote. */
function checkInput(file: string, frames: Frame[], { summary }: Prepared, { out, resume }: Pick<RenderOptions, 'out' | 'resume'>): void {
  const missing = frames[0]?.materials && firstMissingMaterial(frames[0].materials, summary.materials);
  if (missing) throw new InputError(`${file}: there is no material "${missing}" in the set, the library or the model; correct it under materials.`);
  const present = frames.flatMap(fileNames).find((name) => existsSync(path.join(out, name)));
  if (!present) return;
  const begun = existsSync(path.join(out, JOURNAL));
  if (resume && begun) return;
  const remedy = begun ? 'give --resume to go on with what is there, choose another --out or remove it' : 'choose another --out or remove it';
  throw new InputError(`${path.join(out, present)} exists and would be overwritten; ${remedy}.`);
}

/** Aborted by Ctrl-C, once; a second one ends the process at once. */
function interrupt(): AbortSignal {
  const stop = new AbortController();
  process.once('SIGINT', () => stop.abort());
  process.once('SIGTERM', () => stop.abort());
  return stop.signal;
}

/** Files of the frames that an earlier run finished, and the frames that are left. */
function takeOver(frames: Frame[], out: string): { results: FileResult[]; left: Frame[] } {
  const journal = readJournal(out);
  const results: FileResult[] = [];
  const left = frames.filter((frame) => {
    const entry = journal.get(filesKeyOf(frame, frame.identity));
    if (!entry || !isWhole(out, entry, fileNames(frame))) return true;
    const { seconds, samples } = entry;
    for (const { name } of entry.files)
      results.push({ shot: frame.shot, number: frame.number, file: path.join(out, name), seconds, samples, takenOver: true });
    return false;
  });
  return { results, left };
}

/** One frame, in strips where it is too large for memory. What is done of such a one is gone on with by --resume. */
function renderAny(pool: Pool, assets: AssetProvider, frame: Frame, signal: AbortSignal, out: string): Promise<RenderedFrame> {
  if (!needsStrips(frame, framesBudget())) return renderFrame(pool, assets, frame, { signal });
  return renderLargeFrame(pool, assets, frame, { signal, folder: path.join(out, `.film-${frame.identity.slice(0, 16)}`) });
}

/** Throws where it is ended by Ctrl-C; what is finished stays. */
async function renderAll(frames: Frame[], assets: AssetProvider, { out, resume }: RenderOptions, say: Say): Promise<FileResult[]> {
  const { results, left } = resume ? takeOver(frames, out) : { results: [], left: frames };
  if (results.length > 0) say(`${frames.length - left.length} of ${frames.length} frames are reused`);
  const stop = interrupt();
  const progress = new ProgressLine(left.length, say);
  const pool = startPool();
  const memory = new MemoryGate();
  try {
    pool.resetStats();
    let next = 0;
    const lane = async (): Promise<void> => {
      for (let i = next++; i < left.length && !stop.aborted; i = next++) {
        const frame = left[i]!;
        const bytes = bytesOfFrame(frame);
        await memory.enter(bytes);
        const { files, seconds, samples } = await renderAny(pool, assets, frame, stop, out).finally(() => memory.leave(bytes));
        for (const { name, bytes } of files) {
          await writeFileAtomic(path.join(out, name), bytes);
          results.push({ shot: frame.shot, number: frame.number, file: path.join(out, name), seconds, samples });
        }
        noteFrame(out, {
          key: filesKeyOf(frame, frame.identity),
          files: files.map((f) => ({ name: f.name, sha256: sha256Of(f.bytes) })),
          seconds,
          samples,
        });
        progress.step(`${files.map((f) => f.name).join(' ')} ${seconds.toFixed(2)} s`);
      }
    };
    // All of them are over before it is said what is kept.
    const ends = await Promise.allSettled(Array.from({ length: FRAMES_IN_FLIGHT }, lane));
    const broken = ends.find((end) => end.status === 'rejected' && !(end.reason instanceof AbortedError));
    if (broken?.status === 'rejected') throw broken.reason;
    progress.end();
    if (stop.aborted) {
      const whole = new Set(results.map((r) => `${r.shot}/${r.number}`)).size;
      throw new Error(`Stopped: ${whole} of ${frames.length} frames are whole and kept in ${out}. Give --resume to go on with them.`);
    }
    const { busy, wall, workers } = pool.stats();
    if (left.length > 0) say(`worker idle time ${(100 * (1 - busy / (wall * workers))).toFixed(1)} %`);
  } finally {
    await pool.close();
  }
  const order = new Map(frames.map((f, i) => [`${f.shot}/${f.number}`, i]));
  return results.sort((a, b) => order.get(`${a.shot}/${a.number}`)! - order.get(`${b.shot}/${b.number}`)!);
}

/** `easel render`. */
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
    new Option('--resume', 'go on with a render into the same folder that was stopped: whole frames are reused'),
  ],
  async run(file, options, say) {
    const set = readSet(file);
    const out = path.resolve(options.out);
    const into = { ...options, out };
    if (options.quality) setQuality(set, options.quality);
    const prepared = await loadModelFor(set, options, say);
    const environments = await readEnvironments(set, file);
    const frames = choose(set, planOf(set, prepared, environments), options);
    checkInput(file, frames, prepared, into);
    const started = performance.now();
    const results = await renderAll(frames, assetsOf(prepared, file, environments), into, say);
    return { frames: results, seconds: (performance.now() - started) / 1000 };
  },
};
