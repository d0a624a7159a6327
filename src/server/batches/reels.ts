/** Reels: shots of a batch, and of others of its set, joined to one movie, with fades mixed from finished pictures. */
import path from 'node:path';
import sharp from 'sharp';
import { clipArguments, clipProblem, MOVIE_BACKGROUND } from '../../core/movie/clip.js';
import { reelSources, type ReelFrame, reelPlan } from '../../core/movie/reel.js';
import type { Reel, ReelEvent } from '../../core/plan/reel.js';
import { setFolder } from '../../core/planning/planFrames.js';
import { slugify } from '../../core/plan/fileNames.js';
import { parseRate } from '../../core/units/rate.js';
import type { Size } from '../../core/camera/view.js';
import type { ServerContext } from '../context.js';
import type { Batch, Clip } from '../db/models.js';
import { ServerError } from '../errors.js';
import { planSnapshot } from './snapshot.js';
import { fileToShow } from '../../core/image/fileTypes.js';
import { queueClip, unusedFileName, writeClip } from './clips.js';
import { NO_MOVIE_FILES } from './footage.js';
import { sourceOf } from './planMovie.js';
import { refuseLacked } from './encodeMovie.js';
import { findTakes, type FoundTake, rowsOfTakes } from './reelTakes.js';
import type { MadeMovie } from './madeMovie.js';
import { asDraft, type MovieFrame, overBackground } from './movieFrames.js';

/** Clips of reels stand in the same table as those of shots, under such a name. */
export const framesOfReel = (id: string): string => `reel:${id}`;

/** Display values of two pictures mixed, over a colour where they are clear, as a PNG that is quickly written. */
async function crossFade(from: string, into: string, share: number, background: string): Promise<Buffer> {
  const [a, b] = await Promise.all(
    [from, into].map((f) => sharp(f).flatten({ background }).toColourspace('srgb').raw().toBuffer({ resolveWithObject: true })),
  );
  const out = Buffer.alloc(a!.data.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.round(a!.data[i]! + (b!.data[i]! - a!.data[i]!) * share);
  const { width, height } = a!.info;
  return sharp(out, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 1 })
    .toBuffer();
}

/** The size that all clips of a reel have. Throws 'unusable' where one has another. */
function oneSize(takes: Map<ReelEvent, FoundTake>): Size {
  const [first, ...rest] = [...takes].map(([{ shot }, take]) => ({ shot, ...take.first.size }));
  const { shot, width, height } = first!;
  const other = rest.find((r) => r.width !== width || r.height !== height);
  if (other)
    throw new ServerError(
      'unusable',
      `"${shot}" is ${width} × ${height} and "${other.shot}" ${other.width} × ${other.height}; a reel has one size. Make them alike and render again.`,
    );
  return { width, height };
}

/** Starts making the movie of a reel; its row says when it is ready. Throws 409 and 422 where it cannot be made. */
export async function startReel(
  context: ServerContext,
  batch: Batch,
  reel: Reel,
  tell: () => Promise<void>,
  background = MOVIE_BACKGROUND,
  again?: Clip,
): Promise<Clip> {
  const { set, draft } = planSnapshot(batch);
  const takes = await findTakes(context, batch, reel);
  const rate = parseRate(set.sheet.rate);
  const footage = reelSources(set, (part) => takes.get(part)!.rows.map((r) => r.number));
  let plan: ReelFrame[];
  try {
    plan = reelPlan(reel, footage, rate).frames;
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  const size = oneSize(takes);
  // A shot may be clear where the set is not.
  const clear = [...takes.values()].some(({ first }) => first.transparent);
  const rows = rowsOfTakes(batch, takes.values());
  const problem = clipProblem({ size, frames: plan.length, missing: rows.filter((r) => r.state !== 'done').length });
  if (problem) throw new ServerError('unusable', problem);
  refuseLacked('h264');
  const fileAt = (part: number, index: number): string => {
    const { batch: from, rows: own } = takes.get(reel.parts[part]!)!;
    const shown = fileToShow(JSON.parse(own[index]!.files) as string[]);
    if (!shown) throw new ServerError('unusable', NO_MOVIE_FILES);
    return context.store.picture(from.folder, shown);
  };
  // One kind of picture in the row, whatever the shots' files are.
  const asPng = (file: string): MovieFrame => (file.endsWith('.png') && !clear ? file : overBackground(file, background));
  const pictures = plan.map(({ part, index, into }): MovieFrame => {
    const file = fileAt(part, index);
    const picture = into ? () => crossFade(file, fileAt(into.part, into.index), into.share, background) : asPng(file);
    return draft ? asDraft(picture) : picture;
  });
  const fileName = again?.fileName ?? (await unusedFileName(batch, path.posix.join(setFolder(set), slugify(reel.name)) + (draft ? '-draft' : '')));
  const made: MadeMovie = {
    codec: 'h264',
    rate: set.sheet.rate,
    frames: pictures.length,
    size,
    source: sourceOf(rows),
  };
  const values = {
    batchId: batch.id,
    shot: framesOfReel(reel.id),
    fileName,
    made: JSON.stringify(made),
    asked: JSON.stringify({ reel, background }),
  };
  const clip = await writeClip(context, values, again);
  const args = clipArguments({ rate: set.sheet.rate, size, pixelAspect: set.sheet.pixelAspect, input: 'png' });
  queueClip(context, batch, clip, { args, pictures }, tell);
  return clip;
}
