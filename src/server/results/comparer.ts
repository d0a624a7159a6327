/** Looks at finished renders in a process of its own, and keeps what comparisons came to. */
import { withFrame, type Frame } from '../../core/frame/frame.js';
import { lookedAt } from '../../core/planning/previewFrame.js';
import { TaskEndError, TaskFault, TaskProcess } from '../../engine/node/taskProcess.js';
import type { PartMap } from '../../core/review/changedParts.js';
import {
  type Comparison,
  type LinearSize,
  receivePartMap,
  type ReviewDone,
  type ReviewTask,
  type SentPartMap,
  type ShownFile,
} from '../../engine/node/reviewTask.js';
import { type Matte, matteMapOf } from '../../engine/queries/matteMap.js';
import { matteNames } from '../../engine/scene/matteNames.js';
import type { SheetType } from '../../contract/packages.js';
import type { Sheet } from '../../core/handover/sheets/page.js';
import type { FileFacts } from '../../core/handover/audit.js';
import type { FileEntry } from '../../core/handover/manifest.js';
import { resolveScene } from '../../engine/scene/resolveScene.js';
import type { Pool } from '../../engine/scheduler/pool.js';
import type { AssetStore } from '../assets/assetStore.js';
import { ServerError } from '../errors.js';
import { PRIORITY } from '../priorities.js';

/** Milliseconds for one picture or one comparison. */
const STALL_MS = 120_000;
const MAX_BYTES = 6 * 2 ** 30;
/** Pixels across at which whole sets are compared, and of maps of parts. */
export const COMPARED_WIDTH = 960;
const MAP_SIDE = 480;
const MAP_SAMPLES = 2;
/** Somebody waits for it, but for a single click sooner. */
const MAX_COMPARISONS = 2000;
const MAX_MAPS = 64;

/** A map that forgets what was asked least recently. */
class Recent<V> {
  private readonly kept = new Map<string, V>();
  constructor(private readonly most: number) {}

  get(key: string): V | undefined {
    const value = this.kept.get(key);
    if (value === undefined) return undefined;
    this.kept.delete(key);
    this.kept.set(key, value);
    return value;
  }

  set(key: string, value: V): void {
    this.kept.set(key, value);
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value!);
  }
}

/** What it works with of the server. */
interface Tools {
  pool: Pool;
  store: AssetStore;
}

/** A finished frame, and what tells its files from others. */
export interface ComparedFrame {
  frame: Frame;
  file: ShownFile;
  /** Content of its file. */
  tag: string;
  /** Content of its model. */
  scene: string;
}

/** Compares renders in a process of its own; what was compared is kept. */
export class Comparer {
  private readonly process = new TaskProcess<ReviewTask, ReviewDone>('review-worker.mjs', false);
  private readonly comparisons = new Recent<Comparison>(MAX_COMPARISONS);
  private readonly maps = new Recent<SentPartMap>(MAX_MAPS);

  /** Rejects with ServerError 'unusable' where a file cannot be read. */
  private async run(task: ReviewTask, signal: AbortSignal): Promise<ReviewDone> {
    try {
      return await this.process.run(task, { stallMs: STALL_MS, bytes: MAX_BYTES, signal });
    } catch (e) {
      if (e instanceof TaskFault) throw new ServerError('unusable', e.message);
      if (!(e instanceof TaskEndError) || e.end === 'stopped') throw e;
      throw new ServerError('unusable', 'A file of these renders is missing or damaged. Render it again in the Batch step.');
    }
  }

  /** Writes what a person sees of a file as PNG. */
  async show(file: ShownFile, out: string, signal: AbortSignal): Promise<void> {
    await this.run({ kind: 'show', file, out }, signal);
  }

  /** Writes the light of a master before its grade as halves; returns its size. */
  async linear(task: Omit<Extract<ReviewTask, { kind: 'linear' }>, 'kind'>, signal: AbortSignal): Promise<LinearSize> {
    const done = await this.run({ kind: 'linear', ...task }, signal);
    if (!('linear' in done)) throw new Error('The process that looks at renders gave an unexpected answer.');
    return done.linear;
  }

  /** Facts of a file of a package; null where there is none. */
  async facts(file: string, of: FileEntry['kind'], signal: AbortSignal): Promise<FileFacts | null> {
    const done = await this.run({ kind: 'facts', path: file, of }, signal);
    if (!('facts' in done)) throw new Error('The process that looks at files gave an unexpected answer.');
    return done.facts;
  }

  /** Writes a sheet: one PDF or HTML at `out`, or its pages as PNG in the folder `out` under the number of each. */
  async sheet(sheet: Sheet<ShownFile>, type: SheetType, out: string, signal: AbortSignal): Promise<void> {
    await this.run({ kind: 'sheet', sheet, type, out }, signal);
  }

  /** What stands in each pixel of a frame. */
  async partMap(tools: Tools, seen: Pick<ComparedFrame, 'frame' | 'scene'>, signal: AbortSignal): Promise<PartMap> {
    return receivePartMap(await this.sentPartMap(tools, seen, signal));
  }

  /** The same as it goes to other processes and to pages, of parts or of materials. */
  async sentPartMap(
    { pool, store }: Tools,
    { frame, scene: hash }: Pick<ComparedFrame, 'frame' | 'scene'>,
    signal: AbortSignal,
    matte: Matte = 'parts',
  ): Promise<SentPartMap> {
    const key = `${frame.identity} ${hash} ${matte}`;
    const known = this.maps.get(key);
    if (known) return known;
    const seen = lookedAt(frame, MAP_SIDE, MAP_SAMPLES);
    const small = withFrame(seen, { passes: ['beauty', matte], sampling: { ...seen.sampling, denoise: false, bounces: 1 } });
    const { key: sceneKey, load } = resolveScene(small, store.source(hash));
    const scene = await load();
    const picture = await pool.render(sceneKey, () => scene, small, { priority: PRIORITY.comparison, signal });
    // Parts are named as the scene has them; materials as the frame dresses it.
    const names = matte === 'parts' ? scene.parts.map((p) => p.path) : matteNames(small, await store.source(hash).scene()).materials;
    const { width, height, parts, map } = matteMapOf(picture, matte, names);
    picture.release();
    const sent = { width, height, parts, map: Buffer.from(map.buffer, map.byteOffset, map.byteLength).toString('base64') };
    this.maps.set(key, sent);
    return sent;
  }

  /** What is different between two frames, with the parts by name. */
  async compare(tools: Tools, first: ComparedFrame, second: ComparedFrame, threshold: number, signal: AbortSignal): Promise<Comparison> {
    const key = `${first.tag} ${second.tag} ${threshold}`;
    const known = this.comparisons.get(key);
    if (known) return known;
    const parts: [SentPartMap, SentPartMap] = [await this.sentPartMap(tools, first, signal), await this.sentPartMap(tools, second, signal)];
    const done = await this.run({ kind: 'compare', first: first.file, second: second.file, width: COMPARED_WIDTH, threshold, parts }, signal);
    if (!('comparison' in done)) throw new Error('The process that compares renders gave an unexpected answer.');
    this.comparisons.set(key, done.comparison);
    return done.comparison;
  }

  close(): void {
    this.process.close();
  }
}
