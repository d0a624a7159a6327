/** Which file of a finished frame shows a pass, and how: as it is, or out of OpenEXR. */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { LinearQuery } from '../../contract/results.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { EXTENSIONS, isLinear } from '../../core/image/fileTypes.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import type { LinearSize, ShownFile, ShownPass } from '../../engine/node/reviewTask.js';
import { readyRows } from '../batches/repository.js';
import type { ServerContext } from '../context.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { Batch, BatchFrame, Master } from '../db/models.js';
import { ServerError } from '../errors.js';
import { PRIORITY } from '../priorities.js';

/** The frame as its batch planned it. */
export async function frameOfRow(context: ServerContext, batch: Batch, row: BatchFrame): Promise<Frame> {
  await readyRows(context, batch);
  const [frame] = await (await context.planner.open(batch.plan)).frames(row.position, row.position + 1);
  return frame!;
}

const exrOf = (files: readonly string[]): string[] => files.filter((name) => name.endsWith('.exr'));

/** Throws ServerError 'not-found' where the frame has no such pass, or no file that a person can be shown it of. */
export function shownFile({ store, masters }: ServerContext, batch: Pick<Batch, 'folder'>, row: BatchFrame, frame: Frame, pass: PassId): ShownFile {
  const files = JSON.parse(row.files) as string[];
  const place = frame.passes.indexOf(pass);
  if (place < 0)
    throw new ServerError(
      'not-found',
      `Frame ${row.number} has no ${passOf(pass).label}; it was rendered with ${frame.passes.map((p) => passOf(p).label).join(', ')}.`,
    );
  const stem = frame.passNames[place]!;
  const graded = frame.files.filter((f) => !isLinear(f)).map((f) => `${stem}.${EXTENSIONS[f.type]}`);
  const own = graded.find((name) => files.includes(name));
  if (own) return { path: store.picture(batch.folder, own) };
  const exr = exrOf(files).map((name) => store.picture(batch.folder, name));
  const { grade, passes, transparent, lines } = frame;
  const kept = { pass, grade, passes, transparent, ...(lines && { lines }) };
  if (exr.length > 0) return { exr, ...kept };
  // Files of other numbers than OpenEXR are not read here; what they were made of is, for as long as it is kept.
  if (row.masterKey) return { master: masters.file(row.masterKey), ...kept };
  throw new ServerError('not-found', `Frame ${row.number} has no file of its ${passOf(pass).label} that can be shown.`);
}

/**
 * A pass as a person sees it, as PNG. Throws as shownFile does, and 'unusable' where the file cannot be read.
 * @param range metres that are white and nearly black, of depth, which is read from numbers then.
 */
export async function shownBytes(
  context: ServerContext,
  batch: Batch,
  row: BatchFrame,
  pass: PassId,
  signal: AbortSignal,
  range?: [number, number],
): Promise<Buffer> {
  const frame = await frameOfRow(context, batch, row);
  const file = range ? { ...(await numbersOf(context, batch, row, frame, pass)), range } : shownFile(context, batch, row, frame, pass);
  return inFolder(context, 'shown.png', async (out) => {
    await context.comparer.show(file, out, signal);
    return readFile(out);
  });
}

/** Where the numbers of a pass are: in its OpenEXR file, else in its master. Throws ServerError 'not-found' where neither is kept. */
async function numbersOf({ store, masters }: ServerContext, batch: Batch, row: BatchFrame, frame: Frame, pass: PassId): Promise<ShownPass> {
  const { grade, passes, transparent, lines } = frame;
  const exr = exrOf(JSON.parse(row.files) as string[]).map((name) => store.picture(batch.folder, name));
  const kept = { pass, grade, passes, transparent, ...(lines && { lines }) };
  if (exr.length > 0 && passes.includes(pass)) return { exr, ...kept };
  if (row.masterKey && passes.includes(pass) && (await masters.find(row.masterKey))) return { master: masters.file(row.masterKey), ...kept };
  throw new ServerError(
    'not-found',
    `The numbers of the ${passOf(pass).label} of frame ${row.number} are not kept. Render it again, or add OpenEXR to its files.`,
  );
}

/** Has a file of that name written to a folder for it alone, which goes afterwards. */
export async function inFolder<T>({ store }: ServerContext, name: string, act: (out: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(path.join(store.uploads(), 'shown-'));
  try {
    return await act(path.join(folder, name));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Pixels of light that are sent at most: those of full HD. */
const MAX_LINEAR_PIXELS = 1920 * 1080;

/** Passes that a grade can mix, as far as there are of them. */
const MIXED: readonly PassId[] = ['diffuse', 'specular', 'occlusion', 'depth'];

/** Light of a render, as it is sent to be graded on screen. */
export interface SentLight {
  size: LinearSize;
  /** What the channels are of, in their order; of lines the distance from the nearest, in pixels of this light. */
  passes: PassId[];
  bytes: Buffer;
}

/** Beauty of a master, filtered or not, as an OpenEXR file in halves. Throws ServerError 'unusable' where it cannot be made. */
async function refiltered(
  context: ServerContext,
  batch: Batch,
  frame: Frame,
  master: Master,
  denoise: boolean,
  signal: AbortSignal,
): Promise<Buffer> {
  const { executor, masters, store } = context;
  const alone = withFrame(frame, {
    sampling: { ...frame.sampling, denoise },
    passes: ['beauty'],
    lines: undefined,
    files: [{ type: 'exr', bits: 16, quality: 100 }],
  });
  const file = { path: masters.file(master.key), sha256: master.sha256 };
  const done = await executor.develop(alone, store.source(digestOfBatch(batch).scene), file, { priority: PRIORITY.shownFile, signal });
  if (!done) throw new ServerError('unusable', 'The light that is kept of this frame cannot be filtered otherwise. Render it again.');
  return done.files[0]!.bytes;
}

/**
 * The light of a frame before its grade, of its master. Throws ServerError 'not-found' where none is kept.
 * @param mixed passes that are wanted beside beauty; those that the frame lacks are left out.
 * @param denoise whether noise is filtered; as it was kept where absent.
 */
export async function linearOf(
  context: ServerContext,
  batch: Batch,
  row: BatchFrame,
  { mix: mixed, denoise }: LinearQuery,
  signal: AbortSignal,
): Promise<SentLight> {
  const master = row.masterKey ? await context.masters.find(row.masterKey) : null;
  if (!master) throw new ServerError('not-found', `No linear light is kept of frame ${row.number}. Render it again to grade it here.`);
  const { masters, comparer } = context;
  const frame = await frameOfRow(context, batch, row);
  const { lines, transparent, passes: own, sampling } = frame;
  await masters.noteUse(master);
  const passes: PassId[] = [
    'beauty',
    ...(transparent ? (['alpha'] as const) : []),
    ...MIXED.filter((id) => mixed.includes(id) && own.includes(id)),
    ...(lines ? (['lines'] as const) : []),
  ];
  return inFolder(context, 'shown.png', async (out) => {
    const task = { master: masters.file(master.key), passes, maxPixels: MAX_LINEAR_PIXELS, out };
    const other = denoise !== undefined && sampling.mode === 'traced' && denoise !== (master.filtered === 1);
    const beauty = path.join(path.dirname(out), 'beauty.exr');
    if (other) await writeFile(beauty, await refiltered(context, batch, frame, master, denoise, signal));
    const size = await comparer.linear({ ...task, ...(other && { beauty }) }, signal);
    return { size, passes, bytes: await readFile(out) };
  });
}
