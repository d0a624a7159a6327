/** Movies of one shot, made of its finished pictures by ffmpeg. The pictures stay beside them. */
import { spawn } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { mkdir, readFile, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable, type Writable } from 'node:stream';
import { clipArguments, clipProblem, MOVIE_BACKGROUND } from '../../core/movie/clip.js';
import { CODEC_LIST, fillLine, type LineWords, type MovieOptions, movieSteps, PLAIN_MOVIE } from '../../core/movie/movieOptions.js';
import { hashOf } from '../../core/base/hash.js';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { fileToShow, isLinear } from '../../core/image/fileTypes.js';
import { frameStride } from '../../core/plan/selection.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import { everyNth, parseRate, rateValue } from '../../core/units/rate.js';
import { timecode } from '../../core/units/timecode.js';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';
import { TEMPORARY_SUFFIX, commitFile } from '../../engine/node/files.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Clip, Revision } from '../db/models.js';
import { ERROR_CATALOGUE, ServerError, storageFault } from '../errors.js';
import { findProject } from '../projects.js';
import { checkRoom } from './diskRoom.js';
import type { MadeMovie } from './madeMovie.js';
import { STOPPED } from './movieQueue.js';
import { DRAFT_WORDS, type MovieFrame, treatedFrame } from './movieFrames.js';
import { readyRows } from './repository.js';
import { digestOfBatch, nameOfRun, planSnapshot } from './snapshot.js';

/** Feeds the pictures one after another to ffmpeg. Rejects with what it said last. */
async function encode(args: string[], pictures: MovieFrame[], signal: AbortSignal, onShare: (share: number) => void): Promise<void> {
  signal.throwIfAborted();
  const child = spawn(findFfmpeg(), args, { stdio: ['pipe', 'ignore', 'pipe'], signal, killSignal: 'SIGKILL' });
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
  ended.catch(() => undefined);
  try {
    for (const [i, picture] of pictures.entries()) {
      if (child.exitCode !== null || signal.aborted) break;
      onShare(i / pictures.length);
      await feed(child.stdin, typeof picture === 'string' ? createReadStream(picture) : Readable.from([await picture()]));
    }
  } catch (e) {
    // A picture cannot be read: nothing more comes.
    child.kill('SIGKILL');
    throw e;
  }
  child.stdin.end();
  await ended;
}

/** Pours a picture into the encoder; ends too where nobody takes what is left of it. Rejects where it cannot be read. */
function feed(into: Writable, source: Readable): Promise<void> {
  return new Promise((resolve, reject) => {
    const onClose = (): void => resolve();
    into.once('close', onClose);
    const end = (act: () => void) => (): void => {
      into.off('close', onClose);
      act();
    };
    source
      .on('error', (e: Error) => end(() => reject(e))())
      .on('end', end(resolve))
      .pipe(into, { end: false });
  });
}

/** What is answered where no movie can be made. */
export const NO_MOVIE_FILES = 'Movies are made of PNG, JPEG, TIFF, WebP or AVIF as a person sees them, and this batch has none.';

/** Whether some file of a frame can be a frame of a movie. */
export const canBecomeMovie = ({ files }: Pick<Frame, 'files'>): boolean => files.some((f) => f.type !== 'bmp' && !isLinear(f));

interface Asked {
  shot: string;
  date?: string;
  background?: string;
  options?: MovieOptions;
}

/** Frames of a run, the plan of the first of them, and the rate at which they play as planned. */
async function footageOf(context: ServerContext, batch: Batch, { shot, date }: Asked) {
  await readyRows(context, batch);
  const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot, ...(date !== undefined && { date }) }, order: ['position'] });
  if (rows.length === 0) throw new ServerError('not-found', `There is no shot "${shot}" in batch ${batch.number}.`);
  const frames = await (await context.planner.open(batch.plan)).frames(rows[0]!.position, rows.at(-1)!.position + 1);
  const { set } = planSnapshot(batch);
  const planned = set.shots.find((s) => s.id === shotIdOfOutput(shot))!;
  // Every n-th frame alone is shown at an n-th of the rate, so that the movie keeps its pace.
  const rate = everyNth(effectiveSettings(set.sheet, planned).rate, frameStride(rows.map((r) => r.number)));
  return { rows, frameOf: (row: BatchFrame) => frames[row.position - rows[0]!.position]!, set, rate };
}

type Footage = Awaited<ReturnType<typeof footageOf>>;

/** What the tokens of a movie's line stand for in one frame. */
async function wordsOf(batch: Batch, { frameOf, set }: Footage, rate: string): Promise<(row: BatchFrame, place: number) => LineWords> {
  const project = await findProject(batch.projectId);
  const revision = await Revision.findByPk(batch.revisionId, { attributes: ['letter'] });
  const digest = digestOfBatch(batch);
  return (row, place) => {
    const { sun, size } = frameOf(row);
    return {
      project: project.name,
      set: set.name,
      shot: nameOfRun(digest, row.shot),
      view: set.views.find((v) => v.id === row.view)?.name ?? '',
      revision: revision?.letter ?? '',
      frame: String(row.number).padStart(4, '0'),
      timecode: timecode(place, parseRate(rate)),
      date: sun?.date ?? '',
      time: sun?.time ?? '',
      size: `${size.width} × ${size.height}`,
    };
  };
}

/**
 * Starts making the clip of a shot, or of one date of a sun study; its row says when it is ready. Throws 422 where it cannot be made.
 * @param again row of a movie that is made anew under its name.
 */
export async function startClip(context: ServerContext, batch: Batch, asked: Asked, tell: () => Promise<void>, again?: Clip): Promise<Clip> {
  const { shot, date, options = PLAIN_MOVIE } = asked;
  const { draft } = planSnapshot(batch);
  const footage = await footageOf(context, batch, asked);
  const { rows, frameOf, set } = footage;
  const first = frameOf(rows[0]!);
  const { codec, line } = options;
  // Clips of one date stand beside those of the whole shot.
  const run = date === undefined ? shot : `${shot}#${date}`;
  if (!canBecomeMovie(first)) throw new ServerError('unusable', `${NO_MOVIE_FILES} Add PNG to the files of the set and render again.`);
  const there = rows.filter((r) => r.state === 'done');
  const { partial } = options;
  const missing = partial ? 0 : rows.length - there.length;
  const problem = clipProblem({ size: first.size, frames: partial ? there.length : rows.length, missing }, codec);
  if (problem) throw new ServerError('unusable', problem);
  const rate = options.rate ?? footage.rate;
  const background = options.background ?? asked.background;
  const alpha = first.transparent && CODEC_LIST[codec].alpha && background === undefined && options.fadeIn === 0 && options.fadeOut === 0;
  const behind = first.transparent && !alpha ? (background ?? MOVIE_BACKGROUND) : undefined;
  const wordsAt = await wordsOf(batch, footage, rate);
  const { logo } = options;
  if (logo && !(await context.store.hasTexture(logo.file)))
    throw new ServerError('unusable', `The logo "${logo.name}" is not here. Choose its file again.`);
  const over = logo && { ...logo, bytes: await readFile(context.store.texture(logo.file)) };
  const plain = behind === undefined && !line && !draft && !over;
  const shown = partial ? there : rows;
  let pictures: MovieFrame[];
  try {
    pictures = movieSteps(
      shown.map((r) => r.number),
      options,
      parseRate(rate),
    ).map(({ index, share }, place): MovieFrame => {
      const row = shown[index]!;
      const file = context.store.picture(batch.folder, fileToShow(JSON.parse(row.files) as string[])!);
      // Encoders take PNG and JPEG as they are; of one kind alone.
      if (plain && share === 1 && /\.(png|jpg)$/.test(file) && (options.fadeIn + options.fadeOut === 0 || file.endsWith('.png'))) return file;
      const words = [...(draft ? [DRAFT_WORDS] : []), ...(line ? [{ corner: line.corner, text: fillLine(line.text, wordsAt(row, place)) }] : [])];
      return treatedFrame(file, {
        ...(behind !== undefined && { background: behind }),
        share,
        fadeColour: options.fadeColour,
        words: words.filter((w) => w.text !== ''),
        ...(over && { logo: over }),
      });
    });
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  const { sound } = options;
  if (sound && !(await context.store.hasSound(sound.file)))
    throw new ServerError('unusable', `The sound "${sound.name}" is not here. Choose its file again.`);
  const made: MadeMovie = {
    codec,
    rate,
    frames: pictures.length,
    source: sourceOf(shown),
    ...(there.length < rows.length && { partial }),
    ...(sound && { sound: sound.file, fit: sound.fit }),
  };
  const heard = sound && { ...sound, path: context.store.sound(sound.file), length: pictures.length / rateValue(parseRate(rate)) };
  // Beside its stills.
  const stem = path.posix.join(path.posix.dirname(first.name), path.posix.basename(first.name).replace(/[._-]?0*\d+$/, '') + (draft ? '-draft' : ''));
  const fileName = again?.fileName ?? (await unusedFileName(batch, date === undefined ? stem : `${stem}_${date}`, CODEC_LIST[codec].ending));
  const clip = await writeClip(context, { batchId: batch.id, shot: run, fileName, made: JSON.stringify(made), asked: JSON.stringify(asked) }, again);
  const input = pictures.every((p) => typeof p === 'string' && p.endsWith('.jpg')) ? 'jpeg' : 'png';
  const args = clipArguments({
    rate,
    size: first.size,
    pixelAspect: set.sheet.pixelAspect,
    input,
    codec,
    quality: options.quality,
    alpha,
    ...(heard && { sound: heard }),
  });
  queueClip(context, batch, clip, { args, pictures }, tell);
  return clip;
}

/** What tells the files of frames from what they were before. */
export const sourceOf = (rows: readonly BatchFrame[]): string => hashOf(rows.map((r) => r.checksums ?? r.files)).slice(0, 32);

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

/** Arguments of the encoder, and what it is fed with. */
export interface ClipWork {
  args: string[];
  pictures: MovieFrame[];
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
  { args, pictures }: ClipWork,
  { signal, onShare }: { signal: AbortSignal; onShare: (share: number) => void },
): Promise<void> {
  const file = context.store.picture(batch.folder, clip.fileName);
  const temporary = `${file}${TEMPORARY_SUFFIX}`;
  try {
    await checkRoom(context.store.root, context.config.reserveBytes);
    await mkdir(path.dirname(file), { recursive: true });
    await encode([...args, temporary], pictures, signal, onShare);
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
