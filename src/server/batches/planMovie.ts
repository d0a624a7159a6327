/** A movie of one shot before it is made: its frames with all that lies over them, and how they are encoded. */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { hashOf } from '../../core/base/hash.js';
import { fileToShow } from '../../core/image/fileTypes.js';
import { clipArguments, clipProblem, MOVIE_BACKGROUND } from '../../core/movie/clip.js';
import { type Codec, CODEC_LIST, fillLine, movieSteps, PLAIN_MOVIE } from '../../core/movie/movieOptions.js';
import { parseRate, rateValue } from '../../core/units/rate.js';
import type { ServerContext } from '../context.js';
import type { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { type ClipWork, refuseLacked } from './encodeMovie.js';
import { type Asked, besideOf, canBecomeMovie, footageOf, NO_MOVIE_FILES, wordsOf } from './footage.js';
import type { MadeMovie } from './madeMovie.js';
import { DRAFT_WORDS, joinedSize, type MovieFrame, sideBySide, slateFrame, treatedFrame } from './movieFrames.js';
import { planSnapshot } from './snapshot.js';

/** What tells the files of frames from what they were before. */
export const sourceOf = (rows: readonly BatchFrame[]): string => hashOf(rows.map((r) => r.checksums ?? r.files)).slice(0, 32);

/** A movie before it is made. */
export interface PlannedMovie {
  work: ClipWork;
  /** How the same is made without its sound. */
  silent: { args: string[] } | { sequence: string };
  made: MadeMovie;
  /** Frames of its slate, all alike, which come first. */
  slateFrames: number;
  /** Path of its file below the batch's folder, without number and ending. */
  stem: string;
  codec: Codec;
}

/** What a movie is made of, and how. Throws ServerError 'unusable' where it cannot be made. */
export async function planMovie(context: ServerContext, batch: Batch, asked: Asked): Promise<PlannedMovie> {
  const { date, options = PLAIN_MOVIE } = asked;
  const { draft } = planSnapshot(batch);
  const footage = await footageOf(context, batch, asked);
  const { rows, frameOf, set } = footage;
  const first = frameOf(rows[0]!);
  const { codec, line, slate, partial } = options;
  if (!canBecomeMovie(first)) throw new ServerError('unusable', `${NO_MOVIE_FILES} Add PNG to the files of the set and render again.`);
  const there = rows.filter((r) => r.state === 'done');
  const missing = partial ? 0 : rows.length - there.length;
  const shown = partial ? there : rows;
  const beside = missing > 0 ? undefined : await besideOf(context, batch, asked, shown);
  const size = beside ? joinedSize(first.size, beside.size) : first.size;
  const problem = clipProblem({ size, frames: shown.length, missing }, codec);
  if (problem) throw new ServerError('unusable', problem);
  refuseLacked(codec);
  const rate = options.rate ?? footage.rate;
  const background = options.background ?? asked.background;
  const alpha = first.transparent && CODEC_LIST[codec].alpha && background === undefined && options.fadeIn === 0 && options.fadeOut === 0;
  const behind = first.transparent && !alpha ? (background ?? MOVIE_BACKGROUND) : undefined;
  const wordsAt = await wordsOf(batch, footage, rate);
  const { logo } = options;
  if (logo && !(await context.store.hasTexture(logo.file)))
    throw new ServerError('unusable', `The logo "${logo.name}" is not here. Choose its file again.`);
  const over = logo && { ...logo, bytes: await readFile(context.store.texture(logo.file)) };
  const plain = behind === undefined && !line && !draft && !over && !beside;
  let pictures: MovieFrame[];
  let slateFrames = 0;
  try {
    const steps = movieSteps(
      shown.map((r) => r.number),
      options,
      parseRate(rate),
    );
    pictures = steps.map(({ index, share }, place): MovieFrame => {
      const row = shown[index]!;
      const file = context.store.picture(batch.folder, fileToShow(JSON.parse(row.files) as string[])!);
      // Encoders take PNG and JPEG as they are; of one kind alone.
      if (plain && !slate && share === 1 && /\.(png|jpg)$/.test(file) && (options.fadeIn + options.fadeOut === 0 || file.endsWith('.png')))
        return file;
      const words = [...(draft ? [DRAFT_WORDS] : []), ...(line ? [{ corner: line.corner, text: fillLine(line.text, wordsAt(row, place)) }] : [])];
      return treatedFrame(beside ? sideBySide([file, beside.fileOf(row.number)], [first.size, beside.size], beside.names) : file, {
        ...(behind !== undefined && { background: behind }),
        share,
        fadeColour: options.fadeColour,
        words: words.filter((w) => w.text !== ''),
        ...(over && { logo: over }),
      });
    });
    if (slate) {
      const page = slateFrame(fillLine(slate.text, wordsAt(shown[steps[0]!.index]!, 0)), size, set.sheet.pixelAspect);
      slateFrames = Math.max(1, Math.round(slate.seconds * rateValue(parseRate(rate))));
      pictures.unshift(...Array.from({ length: slateFrames }, () => page));
    }
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
    source: sourceOf([...shown, ...(beside?.rows ?? [])]),
    ...(there.length < rows.length && { partial }),
    ...(sound && { sound: sound.file, fit: sound.fit }),
    ...(beside && { size }),
  };
  const heard = sound && { ...sound, path: context.store.sound(sound.file), length: pictures.length / rateValue(parseRate(rate)) };
  // Beside its stills.
  const name = path.posix.basename(first.name).replace(/[._-]?0*\d+$/, '');
  const stem = path.posix.join(
    path.posix.dirname(first.name),
    `${name}${draft ? '-draft' : ''}${beside ? '-beside' : ''}${date === undefined ? '' : `_${date}`}`,
  );
  if (codec === 'sequence') {
    const sequence = path.posix.basename(stem);
    return { work: { sequence, pictures }, silent: { sequence }, made, slateFrames, stem, codec };
  }
  const encoding = {
    rate,
    size,
    pixelAspect: set.sheet.pixelAspect,
    input: pictures.every((p) => typeof p === 'string' && p.endsWith('.jpg')) ? 'jpeg' : 'png',
    codec,
    quality: options.quality,
    ...(options.bitRate !== undefined && { bitRate: options.bitRate }),
    alpha,
  } as const;
  const silent = { args: clipArguments(encoding) };
  const { args } = heard ? { args: clipArguments({ ...encoding, sound: heard }) } : silent;
  return { work: { args, pictures }, silent, made, slateFrames, stem, codec };
}
