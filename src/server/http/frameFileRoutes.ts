/** Routes of what a batch has rendered: a frame's file, its thumbnail, all stills as a ZIP, a sun study as a page. */
import path from 'node:path';
import { ZipArchive } from 'archiver';
import type { Router } from 'express';
import { Op } from 'sequelize';
import sharp from 'sharp';
import { fileToShow } from '../../core/image/fileTypes.js';
import { type SunStudyCell, sunStudyHtml } from '../../core/movie/sunStudyHtml.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { FrameSun } from '../../core/stage/daylight.js';
import { findBatch, readyRows } from '../batches/repository.js';
import { digestOfBatch, nameOfRun } from '../batches/snapshot.js';
import { noteDamage } from '../batches/verify.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { isKnown } from './caching.js';
import { idOf } from './params.js';
import { filesOf, sendThumb, THUMB_WIDTH } from './sendThumb.js';

/** A finished frame of a batch. Throws ServerError 'not-found' where there is none. */
async function finishedFrame(batchId: string, frameId: string): Promise<{ batch: Batch; row: BatchFrame }> {
  const batch = await findBatch(idOf(batchId, 'batch'));
  const row = await BatchFrame.findOne({ where: { id: idOf(frameId, 'frame'), batchId: batch.id } });
  if (!row) throw notFound(`Frame ${frameId}`);
  if (row.state !== 'done' || row.files === '[]') throw new ServerError('not-found', `Frame ${row.number} of this shot is not rendered yet.`);
  return { batch, row };
}

/** A sun study's finished renders with their suns, as the page takes them. */
async function sunStudyCells(context: ServerContext, batch: Batch, shot: string): Promise<SunStudyCell[]> {
  await readyRows(context, batch);
  const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot, state: 'done', date: { [Op.ne]: null } }, order: ['position'] });
  const suns = new Map<number, FrameSun>();
  if (rows.length > 0) {
    const plan = await context.planner.open(batch.plan);
    for (const f of await plan.frames(rows[0]!.position, rows.at(-1)!.position + 1)) if (f.sun && f.shot === shot) suns.set(f.number, f.sun);
  }
  const cells: SunStudyCell[] = [];
  for (const row of rows) {
    const [sun, shown] = [suns.get(row.number), fileToShow(JSON.parse(row.files) as string[])];
    if (!sun || !shown) continue;
    const bytes = await sharp(context.store.picture(batch.folder, shown))
      .resize({ width: 2 * THUMB_WIDTH })
      .webp({ quality: 84 })
      .toBuffer();
    cells.push({
      date: sun.date!,
      time: sun.time!,
      altitude: sun.altitude,
      azimuth: sun.azimuth,
      image: `data:image/webp;base64,${bytes.toString('base64')}`,
    });
  }
  return cells;
}

/** Routes of files that a batch has rendered. */
export function frameFileRoutes(api: Router, context: ServerContext): void {
  const { store } = context;
  api.get('/batches/:id/frames/:frame/picture', async (request, response) => {
    const { batch, row } = await finishedFrame(request.params.id, request.params.frame);
    const { files, tagOf } = filesOf(context, batch, row);
    const wanted = request.query.file === undefined ? (fileToShow(files) ?? files[0]) : files[Number(request.query.file)];
    if (!wanted)
      throw new ServerError('not-found', `Frame ${row.number} has ${files.length} files, and file ${String(request.query.file)} is none of them.`);
    if (!(await store.exists(wanted))) {
      await noteDamage(context, await findBatch(row.batchId), true);
      throw new ServerError(
        'not-found',
        `The file of frame ${row.number} is missing: "${path.basename(wanted)}". Render it again in the Batch step.`,
      );
    }
    if (isKnown(request, response, tagOf(wanted))) return;
    if (request.query.download !== undefined) response.download(wanted, path.basename(wanted), { etag: false, cacheControl: false });
    else response.sendFile(wanted, { etag: false, cacheControl: false });
  });
  api.get('/batches/:id/frames/:frame/thumb', async (request, response) => {
    const { batch, row } = await finishedFrame(request.params.id, request.params.frame);
    await sendThumb(context, request, response, batch, row);
  });

  /** Dates down and hours across, of a shot that the sun goes over; one file. */
  api.get('/batches/:id/days.html', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const shot = String(request.query.shot ?? '');
    const cells = await sunStudyCells(context, batch, shot);
    if (cells.length === 0) throw new ServerError('not-found', 'No frame of a sun study is finished yet.');
    const digest = digestOfBatch(batch);
    const title = `${nameOfRun(digest, shot)}, ${digest.name}`;
    response
      .attachment(`${slugify(title)}.html`)
      .type('text/html')
      .send(sunStudyHtml(title, cells));
  });

  api.get('/batches/:id/stills.zip', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const shot = typeof request.query.shot === 'string' ? { shot: request.query.shot } : {};
    const rows = await BatchFrame.findAll({ where: { batchId: batch.id, state: 'done', ...shot }, order: ['position'] });
    if (rows.length === 0) throw new ServerError('not-found', 'No render is finished yet.');
    response.attachment(`${slugify(batch.folder.split('/').at(-1)!)}.zip`).type('application/zip');
    // Pictures are compressed already.
    const zip = new ZipArchive({ store: true });
    zip.on('error', (e) => response.destroy(e));
    zip.pipe(response);
    for (const row of rows) for (const name of JSON.parse(row.files) as string[]) zip.file(store.picture(batch.folder, name), { name });
    await zip.finalize();
  });
}
