/** What a movie is made of: the frames of a run with their plan, the words of each, and the same run of another batch beside it. */
import type { Frame } from '../../core/frame/frame.js';
import { shotIdOfOutput } from '../../core/frame/frame.js';
import { fileToShow, isLinear } from '../../core/image/fileTypes.js';
import type { LineWords, MovieOptions } from '../../core/movie/movieOptions.js';
import { frameStride } from '../../core/plan/selection.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import { everyNth, parseRate } from '../../core/units/rate.js';
import { timecode } from '../../core/units/timecode.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { findProject } from '../projects.js';
import { findBatch, readyRows } from './repository.js';
import { digestOfBatch, nameOfRun, planSnapshot } from './snapshot.js';

/** What is answered where no movie can be made. */
export const NO_MOVIE_FILES = 'Movies are made of PNG, JPEG, TIFF, WebP or AVIF as a person sees them, and this batch has none.';

/** Whether some file of a frame can be a frame of a movie. */
export const canBecomeMovie = ({ files }: Pick<Frame, 'files'>): boolean => files.some((f) => f.type !== 'bmp' && !isLinear(f));

/** Letter of the revision that a batch is of. */
async function letterOf(batch: Batch): Promise<string> {
  return (await Revision.findByPk(batch.revisionId, { attributes: ['letter'] }))?.letter ?? '';
}

/** What a movie of one shot is asked for. */
export interface Asked {
  shot: string;
  date?: string;
  background?: string;
  options?: MovieOptions;
}

/** Frames of a run, the plan of the first of them, and the rate at which they play as planned. */
export async function footageOf(context: ServerContext, batch: Batch, { shot, date }: Asked) {
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

/** The frames of a run with their plan. */
export type Footage = Awaited<ReturnType<typeof footageOf>>;

/** What the tokens of a movie's words stand for in one frame. */
export async function wordsOf(batch: Batch, { frameOf, set }: Footage, rate: string): Promise<(row: BatchFrame, place: number) => LineWords> {
  const project = await findProject(batch.projectId);
  const letter = await letterOf(batch);
  const digest = digestOfBatch(batch);
  return (row, place) => {
    const { sun, size } = frameOf(row);
    return {
      project: project.name,
      set: set.name,
      shot: nameOfRun(digest, row.shot),
      view: set.views.find((v) => v.id === row.view)?.name ?? '',
      revision: letter,
      frame: String(row.number).padStart(4, '0'),
      timecode: timecode(place, parseRate(rate)),
      date: sun?.date ?? '',
      time: sun?.time ?? '',
      size: `${size.width} × ${size.height}`,
    };
  };
}

/** The same run of another batch, frame by frame. */
export interface Beside {
  /** File of the frame of that number. */
  fileOf: (number: number) => string;
  /** Of its frames. */
  size: { width: number; height: number };
  /** What the two sides are called: their revisions, and their batches where these are alike. */
  names: [string, string];
  rows: readonly BatchFrame[];
}

/** Throws ServerError 'unusable' where the other batch lacks the run or a frame of it. @param shown frames that the movie shows. */
export async function besideOf(context: ServerContext, batch: Batch, asked: Asked, shown: readonly BatchFrame[]): Promise<Beside | undefined> {
  const id = asked.options?.beside?.batch;
  if (id === undefined) return undefined;
  const other = await findBatch(id);
  const { rows, frameOf } = await footageOf(context, other, asked);
  const done = new Map(rows.filter((r) => r.state === 'done').map((r) => [r.number, r]));
  const missing = shown.filter((r) => !done.has(r.number)).map((r) => r.number);
  if (missing.length > 0)
    throw new ServerError(
      'unusable',
      `Batch ${other.number} has no finished frame ${missing.slice(0, 5).join(', ')}${missing.length > 5 ? ` and ${missing.length - 5} more` : ''} of this shot. Render them, or choose another batch.`,
    );
  const first = frameOf(rows[0]!);
  if (!canBecomeMovie(first)) throw new ServerError('unusable', NO_MOVIE_FILES);
  const letters = [await letterOf(batch), await letterOf(other)];
  const isAlike = letters[0] === letters[1];
  const name = (letter: string, { number }: Batch): string => `revision ${letter}${isAlike ? `, batch ${number}` : ''}`;
  return {
    fileOf: (number) => context.store.picture(other.folder, fileToShow(JSON.parse(done.get(number)!.files) as string[])!),
    size: first.size,
    names: [name(letters[0]!, batch), name(letters[1]!, other)],
    rows: shown.map((r) => done.get(r.number)!),
  };
}
