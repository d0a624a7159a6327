/** Which file of a finished frame shows a pass, and how: as it is, or out of OpenEXR. */
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import type { Frame } from '../../core/frame/frame.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { fileNames } from '../../engine/output/encodeFiles.js';
import type { ShownFile } from '../../engine/node/reviewTask.js';
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
  return { exr: store.picture(batch.folder, exr), pass, grade: frame.grade };
}

/** A pass as a person sees it, as PNG. Throws as shownFile does, and 'unusable' where the file cannot be read. */
export async function shownBytes(context: ServerContext, batch: Batch, row: BatchFrame, pass: PassId, signal: AbortSignal): Promise<Buffer> {
  const file = shownFile(context, batch, row, await frameOfRow(context, batch, row), pass);
  const folder = await mkdtemp(path.join(context.store.uploads(), 'shown-'));
  try {
    const out = path.join(folder, 'shown.png');
    await context.comparer.show(file, out, signal);
    return await readFile(out);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
