/** Routes that look at finished renders: passes as a person sees them, and what differs between two. */
import type { Response, Router } from 'express';
import { mkdir, readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { zipSync } from 'fflate';
import { type ChangedShot, changesSheet } from '../../core/handover/sheets/changes.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { ShownFile } from '../../engine/node/reviewTask.js';
import { findSet, setFileOf } from '../sets.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import { newChangesSheet, compareQuery, linearQuery, matteQuery, type MatteReply, shownQuery } from '../../contract/results.js';
import { TaskEndError } from '../../engine/node/taskProcess.js';
import { findBatch } from '../batches/repository.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import type { ComparedFrame } from '../results/comparer.js';
import { frameOfRow, inFolder, linearOf, shownBytes, shownFile } from '../results/shownFile.js';
import { isKnown } from './caching.js';
import { abortOnClose, idOf, parse } from './params.js';
import { filesOf } from './sendThumb.js';

async function doneRow(id: number, batchId?: number): Promise<{ batch: Batch; row: BatchFrame }> {
  const row = await BatchFrame.findOne({ where: { id, ...(batchId !== undefined && { batchId }) } });
  if (!row) throw notFound(`Frame ${id}`);
  const batch = await findBatch(row.batchId);
  if (row.state !== 'done') throw new ServerError('not-found', `Frame ${row.number} of this shot is not rendered yet.`);
  return { batch, row };
}

/** Pages in a folder as one file: the image of a single page, else a ZIP of them, which are compressed already. */
async function pagesIn(folder: string): Promise<{ ending: string; bytes: Buffer }> {
  const pages = await Promise.all((await readdir(folder)).map(async (name) => [name, await readFile(path.join(folder, name))] as const));
  if (pages.length === 1) return { ending: 'png', bytes: pages[0]![1] };
  return { ending: 'zip', bytes: Buffer.from(zipSync(Object.fromEntries(pages), { level: 0 })) };
}

/** Does nothing where whoever asked has gone. */
async function unlessGone(response: Response, act: (gone: AbortSignal) => Promise<void>): Promise<void> {
  const gone = abortOnClose(response);
  try {
    await act(gone);
  } catch (e) {
    if (!(gone.aborted && (e instanceof AbortedError || e instanceof TaskEndError))) throw e;
  }
}

/** Routes that compare renders. */
export function compareRoutes(api: Router, context: ServerContext): void {
  /** Content of a frame's files: another picture has another one. */
  const tagOf = (batch: Batch, row: BatchFrame): string => {
    const { files, tagOf: tag } = filesOf(context, batch, row);
    return tag(files[0]!);
  };
  const compared = async (id: number): Promise<ComparedFrame> => {
    const { batch, row } = await doneRow(id);
    const frame = await frameOfRow(context, batch, row);
    return { frame, file: shownFile(context, batch, row, frame, 'beauty'), tag: tagOf(batch, row), scene: digestOfBatch(batch).scene };
  };

  /** What is different between two finished frames. */
  api.get('/compare', async (request, response) => {
    const { first, second, threshold } = parse(compareQuery, request.query);
    await unlessGone(response, async (gone) => {
      const [a, b] = [await compared(first), await compared(second)];
      if (isKnown(request, response, `compare-${a.tag}-${b.tag}-${threshold}`)) return;
      response.json(await context.comparer.compare(context, a, b, threshold, gone));
    });
  });
  /** The same of a whole set as a sheet; figures are those of the comparison, which are kept from when the table was made. */
  api.post('/sets/:id/changes-sheet', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const { sides, threshold, shots, type } = parse(newChangesSheet, request.body);
    await unlessGone(response, async (gone) => {
      const rows: ChangedShot<ShownFile>[] = [];
      for (const { name, first, second } of shots) {
        const [a, b] = [await compared(first), await compared(second)];
        const { changed, ssim, largest, areas, parts } = await context.comparer.compare(context, a, b, threshold, gone);
        const names = parts.map((p) => p.path.slice(p.path.lastIndexOf('/') + 1));
        rows.push({ name, changed, ssim, largest, areas, parts: names, pictures: [a.file, b.file] });
      }
      const title = setFileOf(set).name;
      const options = { title: `${title}: what changed`, facts: `${sides.join(' to ')} · ${new Date().toISOString().slice(0, 10)}`, sides };
      const sheet = changesSheet(rows, options);
      const file = await inFolder(context, 'changes', async (out) => {
        if (type === 'png') await mkdir(out);
        await context.comparer.sheet(sheet, type, out, gone);
        return type === 'png' ? pagesIn(out) : { ending: type, bytes: await readFile(out) };
      });
      response.attachment(`${slugify(title)}-changes.${file.ending}`).send(file.bytes);
    });
  });
  /** A pass of a finished frame as a person sees it, also where it is only in OpenEXR. */
  api.get('/batches/:id/frames/:frame/shown.png', async (request, response) => {
    const { pass, near, far } = parse(shownQuery, request.query);
    const range: [number, number] | undefined = pass === 'depth' && near !== undefined && far !== undefined ? [near, far] : undefined;
    const { batch, row } = await doneRow(idOf(request.params.frame, 'frame'), idOf(request.params.id, 'batch'));
    if (isKnown(request, response, `shown-${pass}-${range?.join('-') ?? ''}-${tagOf(batch, row)}`)) return;
    await unlessGone(response, async (gone) => {
      response.type('image/png').send(await shownBytes(context, batch, row, pass, gone, range));
    });
  });
  /** Which part or material stands in each pixel. */
  api.get('/batches/:id/frames/:frame/matte', async (request, response) => {
    const { of } = parse(matteQuery, request.query);
    const { batch, row } = await doneRow(idOf(request.params.frame, 'frame'), idOf(request.params.id, 'batch'));
    await unlessGone(response, async (gone) => {
      const seen = { frame: await frameOfRow(context, batch, row), scene: digestOfBatch(batch).scene };
      response.json((await context.comparer.sentPartMap(context, seen, gone, of)) satisfies MatteReply);
    });
  });
  /** The light of a finished frame before its grade, as halves: what the page grades in its own worker. */
  api.get('/batches/:id/frames/:frame/linear', async (request, response) => {
    const { batch, row } = await doneRow(idOf(request.params.frame, 'frame'), idOf(request.params.id, 'batch'));
    const query = parse(linearQuery, request.query);
    await unlessGone(response, async (gone) => {
      const { size, passes, bytes } = await linearOf(context, batch, row, query, gone);
      response
        .set({ 'x-width': String(size.width), 'x-height': String(size.height), 'x-reduced': String(size.reduced), 'x-passes': passes.join() })
        .type('application/octet-stream')
        .send(bytes);
    });
  });
}
