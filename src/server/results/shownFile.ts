/** Which file of a finished frame shows a pass, and how: as it is, or out of OpenEXR. */
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import type { Frame } from '../../core/frame/frame.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { fileNames } from '../../engine/output/encodeFiles.js';
import type { LinearSize, ShownFile, ShownPass } from '../../engine/node/reviewTask.js';
import { readyRows } from '../batches/repository.js';
import type { ServerContext } from '../context.js';
import type { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';

/** The frame as its batch planned it. */
export async function frameOfRow(context: ServerContext, batch: Batch, row: BatchFrame): Promise<Frame> {
  await readyRows(context, batch);
  const [frame] = await (await context.planner.open(batch.plan)).frames(row.position, row.position + 1);
  return frame!;
}

/** Throws ServerError 'not-found' where the frame has no such pass. */
export function shownFile({ store }: ServerContext, batch: Pick<Batch, 'folder'>, row: BatchFrame, frame: Frame, pass: PassId): ShownFile {
  const files = JSON.parse(row.files) as string[];
  const place = frame.passes.indexOf(pass);
  if (place < 0)
    throw new ServerError(
      'not-found',
      `Frame ${row.number} has no ${passOf(pass).label}; it was rendered with ${frame.passes.map((p) => passOf(p).label).join(', ')}.`,
    );
  const stem = frame.passNames[place]!;
  const own = fileNames(frame).find((name) => name.startsWith(`${stem}.`) && !name.endsWith('.exr') && files.includes(name));
  if (own) return { path: store.picture(batch.folder, own) };
  const exr = files.find((name) => name.endsWith('.exr'));
  if (!exr) throw new ServerError('not-found', `Frame ${row.number} has no file of its ${passOf(pass).label}.`);
  const { grade, passes, transparent } = frame;
  return { exr: store.picture(batch.folder, exr), pass, grade, passes, transparent };
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
  const { grade, passes, transparent } = frame;
  const exr = (JSON.parse(row.files) as string[]).find((name) => name.endsWith('.exr'));
  const kept = { pass, grade, passes, transparent };
  if (exr && passes.includes(pass)) return { exr: store.picture(batch.folder, exr), ...kept };
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

export interface SentLight {
  size: LinearSize;
  /** What the channels are of, in their order. */
  passes: PassId[];
  /** Linear colour of the lines, where the frame has some: they are drawn over the mix. */
  lineColour: readonly number[] | null;
  bytes: Buffer;
}

/**
 * The light of a frame before its grade, of its master. Throws ServerError 'not-found' where none is kept.
 * @param mixed passes that are wanted beside beauty; those that the frame lacks are left out.
 */
export async function linearOf(
  context: ServerContext,
  batch: Batch,
  row: BatchFrame,
  mixed: readonly PassId[],
  signal: AbortSignal,
): Promise<SentLight> {
  const master = row.masterKey ? await context.masters.find(row.masterKey) : null;
  if (!master || row.masterKey === null || row.masterKey === undefined)
    throw new ServerError('not-found', `No linear light is kept of frame ${row.number}. Render it again to grade it here.`);
  const { masters, comparer } = context;
  const { lines, transparent, passes: own } = await frameOfRow(context, batch, row);
  await masters.noteUse(master);
  const file = masters.file(row.masterKey);
  const passes: PassId[] = [
    'beauty',
    ...(transparent ? (['alpha'] as const) : []),
    ...MIXED.filter((id) => mixed.includes(id) && own.includes(id)),
    ...(lines ? (['lines'] as const) : []),
  ];
  return inFolder(context, 'shown.png', async (out) => {
    const size = await comparer.linear({ master: file, passes, maxPixels: MAX_LINEAR_PIXELS, out }, signal);
    return { size, passes, lineColour: lines?.colour ?? null, bytes: await readFile(out) };
  });
}
