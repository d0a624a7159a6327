/** Movies that go into a package: of its shots, and reels of them. */
import path from 'node:path';
import type { FileEntry } from '../../core/handover/manifest.js';
import { shotIdOfOutput } from '../../core/frame/frame.js';
import { CODEC_LIST } from '../../core/movie/movieOptions.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import { frameStride } from '../../core/plan/selection.js';
import type { SetFile } from '../../core/plan/set.js';
import { everyNth } from '../../core/units/rate.js';
import type { RenderFacts } from '../../formats/image/xmp.js';
import type { MadeMovie } from '../batches/madeMovie.js';
import { reelOf } from '../batches/movies.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Clip } from '../db/models.js';
import type { ShownRows } from '../results/reviewPageContent.js';

/** A file to be linked into the package, with what the audit will hold it to. */
export interface PackedFile {
  from: string;
  entry: FileEntry;
  /** What a copy of it tells of how it was made; absent where the file itself is packed. */
  facts?: RenderFacts;
}

/** @param run that the movie belongs to in the manifest. */
function packedMovie(
  store: ServerContext['store'],
  batch: Batch,
  { fileName, bytes }: Clip,
  { codec, rate, frames, sound, size }: MadeMovie & Required<Pick<MadeMovie, 'size'>>,
  run: string,
  folder: string,
): PackedFile {
  const entry: FileEntry = {
    kind: 'movie',
    path: path.posix.join(folder, fileName),
    bytes,
    sha256: ''.padEnd(64, '0'),
    ...size,
    type: CODEC_LIST[codec].probed,
    run,
    rate,
    frames,
    ...(sound !== undefined && { sound: CODEC_LIST[codec].sound?.probed }),
  };
  return { from: store.picture(batch.folder, fileName), entry };
}

/** Movies that were made of a run. @param key of the run in the manifest. */
export async function moviesOf(
  { store }: ServerContext,
  key: string,
  { batch, rows }: ShownRows,
  run: string,
  folder: string,
  set: SetFile,
): Promise<PackedFile[]> {
  const all = await BatchFrame.findAll({ where: { batchId: batch.id, shot: run }, attributes: ['number', 'date'], order: ['position'] });
  const clips = await Clip.findAll({ where: { batchId: batch.id, state: 'ready' }, order: ['id'] });
  const shot = set.shots.find((s) => s.id === shotIdOfOutput(run));
  const [first] = rows;
  if (!shot || !first) return [];
  const { rate } = effectiveSettings(set.sheet, shot);
  const size = digestOfBatch(batch).sizes?.[run] ?? set.sheet.size;
  return clips.flatMap((clip): PackedFile[] => {
    const [of, date] = clip.shot.split('#') as [string, string?];
    if (of !== run) return [];
    const numbers = all.filter((f) => date === undefined || f.date === date).map((f) => f.number);
    // Movies of earlier versions are H.264 of all frames as planned.
    const planned: MadeMovie = { codec: 'h264', rate: everyNth(rate, frameStride(numbers)), frames: numbers.length };
    const made = clip.made ? (JSON.parse(clip.made) as MadeMovie) : planned;
    return [packedMovie(store, batch, clip, { ...made, size: made.size ?? size }, key, folder)];
  });
}

/** The latest movie of each reel that was made of a batch and shows nothing but some shots. @param shots ids of these. */
export async function reelsOf({ store }: ServerContext, batch: Batch, shots: ReadonlySet<string>, folder: string): Promise<PackedFile[]> {
  const clips = await Clip.findAll({ where: { batchId: batch.id, state: 'ready' }, order: ['id'] });
  const latest = new Map<string, PackedFile>();
  for (const clip of clips) {
    const reel = reelOf(clip);
    if (!reel?.parts.every((p) => shots.has(p.shot)) || !clip.made) continue;
    const made = JSON.parse(clip.made) as MadeMovie;
    // Reels of earlier versions are of the size of the set.
    const size = made.size ?? digestOfBatch(batch).size;
    latest.set(reel.id, packedMovie(store, batch, clip, { ...made, size }, `${batch.id} ${clip.shot}`, folder));
  }
  return [...latest.values()];
}
