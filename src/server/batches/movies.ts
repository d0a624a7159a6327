/** Movies that are there: made again, by the next start too, stopped, and told apart where their frames have changed. */
import { newClip } from '../../contract/batches.js';
import { type Reel, reelSchema } from '../../core/plan/reel.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Clip } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { startClip } from './clips.js';
import { sourceOf } from './planMovie.js';
import type { MadeMovie } from './madeMovie.js';
import { framesOfReel, startReel } from './reels.js';
import { findTakes, rowsOfTakes } from './reelTakes.js';
import { findBatch } from './repository.js';

/** Tells pages of a batch's movies. */
export type TellBatch = (batch: Batch) => Promise<void>;

/** The movie of that id. @throws 404 where there is none. */
export async function findClip(id: number): Promise<Clip> {
  const clip = await Clip.findByPk(id);
  if (!clip) throw notFound(`Movie ${id}`);
  return clip;
}

/** Makes a movie of what its frames are now, as it was asked for. Throws ServerError where that cannot be done, or it is being made. */
export function makeAgain(context: ServerContext, clip: Clip, tell: TellBatch): Promise<Clip> {
  if (clip.state === 'making') throw new ServerError('conflict', 'This movie is being made already. Stop it first.');
  return start(context, clip, tell);
}

async function start(context: ServerContext, clip: Clip, tell: TellBatch): Promise<Clip> {
  if (!clip.asked) throw new ServerError('conflict', 'This movie is of an earlier version, which did not keep how it was asked for. Make another.');
  const batch = await findBatch(clip.batchId);
  const asked = newClip.parse(JSON.parse(clip.asked));
  const told = (): Promise<void> => tell(batch);
  return 'reel' in asked ? startReel(context, batch, asked.reel, told, asked.background, clip) : startClip(context, batch, asked, told, clip);
}

/** Goes on with the movies that a server which ended had not made. */
export async function recoverMovies(context: ServerContext, tell: TellBatch): Promise<void> {
  for (const clip of await Clip.findAll({ where: { state: 'making' }, order: ['id'] }))
    await start(context, clip, tell).catch((e: unknown) =>
      context.database.write((transaction) => clip.set({ state: 'failed', message: (e as Error).message }).save({ transaction })),
    );
}

/** Stops a movie that is being made. Throws 'conflict' where it is not. */
export async function stopMovie(context: ServerContext, clip: Clip): Promise<void> {
  if (!(await context.movies.stop(clip.id))) throw new ServerError('conflict', 'This movie is not being made.');
}

/** The reel of a movie; null where it is of one shot. */
export function reelOf({ shot, asked }: Clip): Reel | null {
  if (!asked) return null;
  const parsed = reelSchema.safeParse((JSON.parse(asked) as { reel?: unknown }).reel);
  return parsed.success && shot === framesOfReel(parsed.data.id) ? parsed.data : null;
}

const SOURCE_FIELDS = ['number', 'checksums', 'files', 'state'];

/** Frames of the other batch that stand beside these, where the movie has one. */
async function besideRows(clip: Clip, where: object, rows: readonly BatchFrame[]): Promise<BatchFrame[]> {
  const asked = clip.asked === null ? undefined : newClip.safeParse(JSON.parse(clip.asked)).data;
  const other = asked && 'shot' in asked ? asked.options?.beside?.batch : undefined;
  if (other === undefined) return [];
  const found = await BatchFrame.findAll({ where: { ...where, batchId: other, state: 'done' }, attributes: SOURCE_FIELDS });
  const byNumber = new Map(found.map((r) => [r.number, r]));
  return rows.flatMap((r) => byNumber.get(r.number) ?? []);
}

/** Renders of a reel's clips; none where a clip has none any more, so that its movie is told to be stale. */
async function takesToday(context: ServerContext, batch: Batch, reel: Reel): ReturnType<typeof findTakes> {
  try {
    return await findTakes(context, batch, reel);
  } catch (e) {
    if (e instanceof ServerError && e.code === 'unusable') return new Map();
    throw e;
  }
}

/** Finished frames that a movie would be made of today. */
async function rowsToday(context: ServerContext, batch: Batch, clip: Clip): Promise<BatchFrame[]> {
  const reel = reelOf(clip);
  if (reel) return rowsOfTakes(batch, (await takesToday(context, batch, reel)).values());
  const [run, date] = clip.shot.split('#') as [string, string?];
  const where = { batchId: batch.id, shot: run, ...(date !== undefined && { date }) };
  const rows = (await BatchFrame.findAll({ where, attributes: SOURCE_FIELDS, order: ['position'] })).filter((r) => r.state === 'done');
  return [...rows, ...(await besideRows(clip, where, rows))];
}

/** Ids of a batch's ready movies that would come out otherwise today: frames were rendered again, or came since. */
export async function staleMovies(context: ServerContext, batch: Batch): Promise<number[]> {
  const stale: number[] = [];
  for (const clip of await Clip.findAll({ where: { batchId: batch.id, state: 'ready' }, order: ['id'] })) {
    const { source } = (clip.made ? JSON.parse(clip.made) : {}) as Partial<MadeMovie>;
    // Movies of earlier versions do not say what they were made of.
    if (source !== undefined && sourceOf(await rowsToday(context, batch, clip)) !== source) stale.push(clip.id);
  }
  return stale;
}
