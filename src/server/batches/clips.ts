/** Movies of one shot, made of its finished pictures by ffmpeg. The pictures stay beside them. */
import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { mkdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import sharp from 'sharp';
import { clipArguments, clipProblem, MOVIE_BACKGROUND } from '../../core/movie/clip.js';
import { shotIdOfOutput } from '../../core/frame/frame.js';
import { fileToShow } from '../../core/image/fileTypes.js';
import { frameStride } from '../../core/plan/selection.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import { everyNth } from '../../core/units/rate.js';
import { legendOverlay } from '../../formats/image/legend.js';
import { fileNames } from '../../engine/output/encodeFiles.js';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';
import { TEMPORARY_SUFFIX, commitFile } from '../../engine/node/files.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Clip } from '../db/models.js';
import { ERROR_CATALOGUE, ServerError, storageFault } from '../errors.js';
import { checkRoom } from './diskRoom.js';
import { readyRows } from './repository.js';
import { planSnapshot } from './snapshot.js';

/** A picture of a movie: its file, or what makes its bytes. */
export type MovieFrame = string | (() => Promise<Buffer>);

/** The render over a colour, as a PNG that is quickly written: an encoder that drops alpha shows what lies in clear pixels. */
export const overBackground =
  (file: string, background = MOVIE_BACKGROUND): (() => Promise<Buffer>) =>
  () =>
    sharp(file).flatten({ background }).png({ compressionLevel: 1 }).toBuffer();

/** What movies of drafts say in their upper left corner. */
const DRAFT_MARK = 'DRAFT';

/** A frame of a movie with the mark of a draft, as a PNG that is quickly written. */
export const asDraft =
  (picture: MovieFrame): (() => Promise<Buffer>) =>
  async () => {
    const image = sharp(typeof picture === 'string' ? picture : await picture());
    const { width, height } = await image.metadata();
    const { left, top, svg } = legendOverlay({ corner: 'top left', text: DRAFT_MARK }, width, height, 1);
    return image
      .composite([{ input: Buffer.from(svg), left, top }])
      .png({ compressionLevel: 1 })
      .toBuffer();
  };

/** Feeds the pictures one after another to ffmpeg. Rejects with what it said last. */
async function encode(args: string[], pictures: MovieFrame[]): Promise<void> {
  const child = spawn(findFfmpeg(), args, { stdio: ['pipe', 'ignore', 'pipe'] });
  let said = '';
  child.stderr.on('data', (d: Buffer) => {
    said = (said + d.toString()).slice(-2000);
  });
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) =>
      code === 0 ? resolve() : reject(new Error(`The movie could not be made: ${said.trim().split('\n').at(-1) ?? `exit ${code}`}`)),
    );
  });
  // A child that ends early closes its end; the reason is in what it said.
  child.stdin.on('error', () => undefined);
  for (const picture of pictures) {
    if (child.exitCode !== null) break;
    const source = typeof picture === 'string' ? createReadStream(picture) : Readable.from([await picture()]);
    await new Promise<void>((resolve, reject) => {
      source.on('error', reject).on('end', resolve).pipe(child.stdin, { end: false });
    });
  }
  child.stdin.end();
  await ended;
}

/** Starts making the clip of a shot, or of one date of a sun study; its row says when it is ready. Throws 422 where it cannot be made. */
export async function startClip(
  context: ServerContext,
  batch: Batch,
  { shot, date, background }: { shot: string; date?: string; background?: string },
  tell: () => Promise<void>,
): Promise<Clip> {
  const { set, draft } = planSnapshot(batch);
  await readyRows(context, batch);
  // Clips of one date stand beside those of the whole shot.
  const run = date === undefined ? shot : `${shot}#${date}`;
  const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot, ...(date !== undefined && { date }) }, order: ['position'] });
  if (rows.length === 0) throw new ServerError('not-found', `There is no shot "${shot}" in batch ${batch.number}.`);
  const plan = await context.planner.open(batch.plan);
  const [first] = await plan.frames(rows[0]!.position, rows[0]!.position + 1);
  const missing = rows.filter((r) => r.state !== 'done').length;
  const still = fileToShow(fileNames(first!));
  if (!still)
    throw new ServerError(
      'unusable',
      'Movies need an image file, and this batch has only OpenEXR. Add PNG to the files of the set and render again.',
    );
  // Others than these, and what is clear, go through PNG.
  const input = first!.transparent ? 'png' : still.endsWith('.png') ? 'png' : still.endsWith('.jpg') ? 'jpeg' : null;
  const problem = clipProblem({ size: first!.size, frames: rows.length, missing });
  if (problem) throw new ServerError('unusable', problem);
  if (await Clip.findOne({ where: { batchId: batch.id, shot: run, state: 'making' } }))
    throw new ServerError('conflict', 'This clip is being made already.');
  const pictures = rows.map((r): MovieFrame => {
    const file = context.store.picture(batch.folder, fileToShow(JSON.parse(r.files) as string[])!);
    const picture = first!.transparent || input === null ? overBackground(file, background) : file;
    return draft ? asDraft(picture) : picture;
  });
  // Beside its stills.
  const stem = path.posix.join(
    path.posix.dirname(first!.name),
    path.posix.basename(first!.name).replace(/[._-]?0*\d+$/, '') + (draft ? '-draft' : ''),
  );
  const fileName = await unusedFileName(batch, date === undefined ? stem : `${stem}_${date}`);
  // Every n-th frame alone is shown at an n-th of the rate, so that the movie keeps its pace.
  const every = frameStride(rows.map((r) => r.number));
  const clip = await context.database.write((transaction) =>
    Clip.create({ batchId: batch.id, shot: run, state: 'making', fileName }, { transaction }),
  );
  void makeClip(
    context,
    batch,
    clip,
    clipArguments({
      rate: everyNth(
        effectiveSettings(
          set.sheet,
          set.shots.find((s) => s.id === shotIdOfOutput(shot))!,
        ).rate,
        every,
      ),
      size: first!.size,
      pixelAspect: set.sheet.pixelAspect,
      input: draft ? 'png' : (input ?? 'png'),
    }),
    pictures,
  ).then(tell, (e: unknown) => context.log.error(e));
  return clip;
}

/** Name of a movie of the batch, numbered where one is there already. */
export async function unusedFileName(batch: Batch, stem: string): Promise<string> {
  const known = new Set((await Clip.findAll({ where: { batchId: batch.id } })).map((c) => c.fileName));
  for (let n = 1; ; n++) {
    const fileName = n === 1 ? `${stem}.mp4` : `${stem}-${n}.mp4`;
    if (!known.has(fileName)) return fileName;
  }
}

/** Encodes the pictures to the clip's file and writes down how it went. Never rejects: where that cannot be written, the next start says so. */
export async function makeClip(context: ServerContext, batch: Batch, clip: Clip, args: string[], pictures: MovieFrame[]): Promise<void> {
  const file = context.store.picture(batch.folder, clip.fileName);
  const temporary = `${file}${TEMPORARY_SUFFIX}`;
  try {
    await checkRoom(context.store.root, context.config.reserveBytes);
    await mkdir(path.dirname(file), { recursive: true });
    await encode([...args, temporary], pictures);
    await commitFile(temporary, file);
    clip.set({ state: 'ready', bytes: (await stat(file)).size });
  } catch (e) {
    await rm(temporary, { force: true }).catch(() => undefined);
    const fault = storageFault(e, true);
    context.log.warn({ err: e, batch: batch.number }, 'a movie could not be made');
    clip.set({ state: 'failed', message: fault ? `${fault.message} ${ERROR_CATALOGUE[fault.code].remedy}` : (e as Error).message });
  }
  await context.database
    .write((transaction) => clip.save({ transaction }))
    .catch((e: unknown) => context.log.error({ err: e, batch: batch.number }, 'how a movie went could not be written down'));
}
