/** Movies of one shot, made of its finished pictures by ffmpeg. The pictures stay beside them. */
import { mkdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { CODEC_LIST } from '../../core/movie/movieOptions.js';
import { TEMPORARY_SUFFIX, commitFile } from '../../engine/node/files.js';
import type { ServerContext } from '../context.js';
import { type Batch, Clip } from '../db/models.js';
import { ERROR_CATALOGUE, storageFault } from '../errors.js';
import { checkRoom } from './diskRoom.js';
import { type ClipWork, encodeMovie } from './encodeMovie.js';
import type { Asked } from './footage.js';
import { STOPPED } from './movieQueue.js';
import { planMovie } from './planMovie.js';

/**
 * Starts making the clip of a shot, or of one date of a sun study; its row says when it is ready. Throws 422 where it cannot be made.
 * @param again row of a movie that is made anew under its name.
 */
export async function startClip(context: ServerContext, batch: Batch, asked: Asked, tell: () => Promise<void>, again?: Clip): Promise<Clip> {
  const { work, made, stem, codec } = await planMovie(context, batch, asked);
  // Clips of one date stand beside those of the whole shot.
  const run = asked.date === undefined ? asked.shot : `${asked.shot}#${asked.date}`;
  const fileName = again?.fileName ?? (await unusedFileName(batch, stem, CODEC_LIST[codec].ending));
  const clip = await writeClip(context, { batchId: batch.id, shot: run, fileName, made: JSON.stringify(made), asked: JSON.stringify(asked) }, again);
  queueClip(context, batch, clip, work, tell);
  return clip;
}

/** The row of a movie that is about to be made. @param again the row that it has already. */
export function writeClip(
  { database }: ServerContext,
  values: Pick<Clip, 'batchId' | 'shot' | 'fileName' | 'made' | 'asked'>,
  again: Clip | undefined,
): Promise<Clip> {
  return database.write((transaction) =>
    again
      ? again.set({ ...values, state: 'making', message: null }).save({ transaction })
      : Clip.create({ ...values, state: 'making' }, { transaction }),
  );
}

/** Has a movie made after those before it. */
export function queueClip(context: ServerContext, batch: Batch, clip: Clip, work: ClipWork, tell: () => Promise<void>): void {
  context.movies.add({
    id: clip.id,
    run: (signal, onShare) => makeClip(context, batch, clip, work, { signal, onShare }).then(tell, (e: unknown) => context.log.error(e)),
    tell: (share) => context.events.send(batch.projectId, { type: 'clip', batchId: batch.id, clipId: clip.id, share }),
  });
}

/** Name of a movie of the batch, numbered where one is there already. */
export async function unusedFileName(batch: Batch, stem: string, ending = 'mp4'): Promise<string> {
  const known = new Set((await Clip.findAll({ where: { batchId: batch.id } })).map((c) => c.fileName));
  for (let n = 1; ; n++) {
    const fileName = n === 1 ? `${stem}.${ending}` : `${stem}-${n}.${ending}`;
    if (!known.has(fileName)) return fileName;
  }
}

/** Encodes the pictures to the clip's file and writes down how it went. Never rejects: where that cannot be written, the next start says so. */
async function makeClip(
  context: ServerContext,
  batch: Batch,
  clip: Clip,
  work: ClipWork,
  { signal, onShare }: { signal: AbortSignal; onShare: (share: number) => void },
): Promise<void> {
  const file = context.store.picture(batch.folder, clip.fileName);
  const temporary = `${file}${TEMPORARY_SUFFIX}`;
  try {
    await checkRoom(context.store.root, context.config.reserveBytes);
    await mkdir(path.dirname(file), { recursive: true });
    await encodeMovie(work, temporary, signal, onShare);
    await commitFile(temporary, file);
    clip.set({ state: 'ready', bytes: (await stat(file)).size });
  } catch (e) {
    await rm(temporary, { force: true }).catch(() => undefined);
    // The server ends: the next start makes it again.
    if (signal.aborted && signal.reason !== STOPPED) return;
    const fault = signal.aborted ? null : storageFault(e, true);
    if (signal.aborted) clip.set({ state: 'failed', message: 'Stopped. Make it again.' });
    else {
      context.log.warn({ err: e, batch: batch.number }, 'a movie could not be made');
      clip.set({ state: 'failed', message: fault ? `${fault.message} ${ERROR_CATALOGUE[fault.code].remedy}` : (e as Error).message });
    }
  }
  await context.database
    .write((transaction) => clip.save({ transaction }))
    .catch((e: unknown) => context.log.error({ err: e, batch: batch.number }, 'how a movie went could not be written down'));
}
