/** Routes of batches, their pictures and clips. */
import { ZipArchive } from 'archiver';
import { type Router } from 'express';
import sharp from 'sharp';
import { newBatch, newClip } from '../../contract/contract.js';
import { fileWord } from '../../core/plan/names.js';
import { batchFrames, createBatch, describeBatch, describeClip, findBatch, frozenPlan, listFrames } from '../batch/batches.js';
import { type DayCell, dayPage } from '../../core/movie/dayPage.js';
import { runName } from '../../core/plan/set.js';
import { shownFile, startClip } from '../batch/clips.js';
import { startReel } from '../batch/reels.js';
import { type Runner } from '../batch/runner.js';
import { type ServerContext } from '../context.js';
import { Batch, BatchFrame, Clip } from '../db/models.js';
import { findProject, findRevision, findSet } from '../projects.js';
import { notFound, ServerError } from '../errors.js';
import { idOf, parse } from './problem.js';

const THUMB_WIDTH = 160;

export function batchRoutes(api: Router, context: ServerContext, runner: Runner): void {
  const { store, events } = context;
  const describe = (batch: Batch) => describeBatch(context, batch, runner.live(batch));

  api.post('/sets/:id/batches', async (request, response) => {
    const { revision, ...choice } = parse(newBatch, request.body);
    const set = await findSet(idOf(request.params.id, 'set'));
    const batch = await createBatch(context, await findProject(set.projectId), set, await findRevision(revision), choice);
    runner.wake();
    response.status(201).json(await describe(batch));
  });
  api.get('/batches', async (request, response) => {
    const where = request.query.project === undefined ? {} : { projectId: idOf(request.query.project, 'project') };
    const batches = await Batch.findAll({ where, order: [['number', 'DESC']], limit: 200 });
    response.json(await Promise.all(batches.map(describe)));
  });
  api.get('/batches/:id', async (request, response) => {
    response.json(await describe(await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.get('/batches/:id/frames', async (request, response) => {
    response.json(await listFrames(await findBatch(idOf(request.params.id, 'batch'))));
  });
  for (const act of ['pause', 'resume', 'stop'] as const) {
    api.post(`/batches/:id/${act}`, async (request, response) => {
      response.json(await describe(await runner[act](idOf(request.params.id, 'batch'))));
    });
  }

  api.post('/batches/:id/frames/:frame/enough', async (request, response) => {
    await runner.take(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'));
    response.json(await describe(await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.post('/batches/:id/frames/:frame/more', async (request, response) => {
    response.json(await describe(await runner.goOn(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'))));
  });

  const pictureOf = async (batchId: string, frameId: string): Promise<{ row: BatchFrame; files: string[] }> => {
    const batch = await findBatch(idOf(batchId, 'batch'));
    const row = await BatchFrame.findOne({ where: { id: idOf(frameId, 'frame'), batchId: batch.id } });
    if (!row) throw notFound(`Frame ${frameId}`);
    const names = JSON.parse(row.files) as string[];
    if (row.state !== 'done' || names.length === 0) throw new ServerError('not-found', `Frame ${row.number} of this shot is not rendered yet.`);
    return { row, files: names.map((n) => store.picture(batch.folder, n)) };
  };
  api.get('/batches/:id/frames/:frame/picture', async (request, response) => {
    const { row, files } = await pictureOf(request.params.id, request.params.frame);
    const wanted = request.query.file === undefined ? (shownFile(files) ?? files[0]) : files[Number(request.query.file)];
    if (!wanted)
      throw new ServerError('not-found', `Frame ${row.number} has ${files.length} files, and file ${String(request.query.file)} is none of them.`);
    response.set('cache-control', 'private, max-age=31536000, immutable');
    if (request.query.download !== undefined) response.download(wanted);
    else response.sendFile(wanted);
  });
  api.get('/batches/:id/frames/:frame/thumb', async (request, response) => {
    const { files } = await pictureOf(request.params.id, request.params.frame);
    const shown = shownFile(files);
    if (!shown) throw new ServerError('not-found', 'This frame has OpenEXR files alone, which are not shown here; download them.');
    const bytes = await sharp(shown).resize({ width: THUMB_WIDTH }).webp({ quality: 84 }).toBuffer();
    response.set('cache-control', 'private, max-age=31536000, immutable').type('image/webp').send(bytes);
  });

  /** Dates down and hours across, of a shot that the sun goes over; one file. */
  api.get('/batches/:id/days.html', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const shot = String(request.query.shot ?? '');
    const suns = new Map(batchFrames(batch).flatMap((f) => (f.shot === shot && f.sun?.date ? [[f.number, f.sun] as const] : [])));
    const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot, state: 'done' }, order: ['position'] });
    const cells: DayCell[] = [];
    for (const row of rows) {
      const [sun, shown] = [suns.get(row.number), shownFile(JSON.parse(row.files) as string[])];
      if (!sun || !shown) continue;
      const bytes = await sharp(store.picture(batch.folder, shown))
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
    if (cells.length === 0) throw new ServerError('not-found', 'There is no finished picture of a sun study to put on a page.');
    const title = `${runName(frozenPlan(batch).set, shot)}, ${frozenPlan(batch).set.name}`;
    response
      .attachment(`${fileWord(title)}.html`)
      .type('text/html')
      .send(dayPage(title, cells));
  });

  api.get('/batches/:id/stills.zip', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const shot = typeof request.query.shot === 'string' ? { shot: request.query.shot } : {};
    const rows = await BatchFrame.findAll({ where: { batchId: batch.id, state: 'done', ...shot }, order: ['position'] });
    if (rows.length === 0) throw new ServerError('not-found', 'There is no finished picture to download yet.');
    response.attachment(`${fileWord(batch.folder.split('/').at(-1)!)}.zip`).type('application/zip');
    // Pictures are compressed already.
    const zip = new ZipArchive({ store: true });
    zip.on('error', (e) => response.destroy(e));
    zip.pipe(response);
    for (const row of rows) for (const name of JSON.parse(row.files) as string[]) zip.file(store.picture(batch.folder, name), { name });
    await zip.finalize();
  });

  api.post('/batches/:id/clips', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const tell = async (): Promise<void> => events.send({ type: 'batch', batch: await describe(batch) });
    const asked = parse(newClip, request.body);
    const clip = 'reel' in asked ? await startReel(context, batch, asked.reel, tell) : await startClip(context, batch, asked, tell);
    response.status(201).json(describeClip(clip));
  });
  api.get('/clips/:id/movie', async (request, response) => {
    const clip = await Clip.findByPk(idOf(request.params.id, 'clip'));
    if (!clip || clip.state !== 'ready') throw notFound(`Clip ${request.params.id}`);
    const batch = await findBatch(clip.batchId);
    const file = store.picture(batch.folder, clip.fileName);
    if (request.query.download !== undefined) response.download(file);
    else response.type('video/mp4').sendFile(file);
  });

  /** The plan of a batch as computed, for other programs. */
  api.get('/batches/:id/plan', async (request, response) => {
    response.json({ frames: batchFrames(await findBatch(idOf(request.params.id, 'batch'))) });
  });
}
