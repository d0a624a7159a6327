/** Routes of batches, their pictures and clips. */
import path from 'node:path';
import { ZipArchive } from 'archiver';
import type { Router } from 'express';
import { Op } from 'sequelize';
import sharp from 'sharp';
import { type MovieForecastReply, newBatch, newClip } from '../../contract/batches.js';
import { pageQuery } from '../../contract/contract.js';
import { runQuery } from '../../contract/results.js';
import { sendPlan } from './sendPlan.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { FrameSun } from '../../core/stage/daylight.js';
import { toBatchReply, toClipReply, findBatch, BATCH_SUMMARY_COLUMNS, listFrames, readyRows } from '../batches/repository.js';
import { createBatch } from '../batches/createBatch.js';
import { readRequestKey, startOnce } from '../batches/requestKey.js';
import { digestOfBatch, nameOfRun, planSnapshot } from '../batches/snapshot.js';
import { noteDamage, verifyBatch } from '../batches/verify.js';
import { type SunStudyCell, sunStudyHtml } from '../../core/movie/sunStudyHtml.js';
import { fileToShow } from '../../core/image/fileTypes.js';
import { startClip } from '../batches/clips.js';
import { forecastMovie } from '../batches/movieForecast.js';
import { findClip, makeAgain, staleMovies, stopMovie } from '../batches/movies.js';
import { startReel } from '../batches/reels.js';
import type { Runner } from '../batches/runner.js';
import type { ServerContext } from '../context.js';
import { foreseeBatch } from '../forecast/batchForecast.js';
import { Batch, BatchFrame, Clip } from '../db/models.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet } from '../sets.js';
import { notFound, ServerError } from '../errors.js';
import { isKnown } from './caching.js';
import { abortOnClose, idOf, parse } from './params.js';
import { filesOf, sendThumb, THUMB_WIDTH } from './sendThumb.js';

/** Routes of batches, their frames and their movies. */
export function batchRoutes(api: Router, context: ServerContext, runner: Runner): void {
  const { store, events } = context;
  const describe = (batch: Batch) => toBatchReply(context, batch, runner.live(batch));

  api.post('/sets/:id/batches', async (request, response) => {
    const { revision, ...choice } = parse(newBatch, request.body);
    const set = await findSet(idOf(request.params.id, 'set'));
    const key = readRequestKey(request.get('idempotency-key'), { set: set.id, revision, ...choice });
    const { batch, isNew } = await startOnce(key, async () =>
      createBatch(context, await findProject(set.projectId), set, await findRevision(revision), choice, key),
    );
    if (isNew) {
      await runner.reconsider();
      void foreseeBatch(context, batch, () => runner.tellOf(batch.id));
    }
    response.status(isNew ? 201 : 200).json(await describe(batch));
  });
  api.get('/batches', async (request, response) => {
    const where = {
      deleted: request.query.deleted === undefined ? null : { [Op.ne]: null },
      ...(request.query.project !== undefined && { projectId: idOf(request.query.project, 'project') }),
    };
    // The plans of old ones alone are read: those have no digest yet.
    const kept = await Batch.findAll({
      where: { ...where, digest: { [Op.ne]: null } },
      attributes: BATCH_SUMMARY_COLUMNS,
      order: [['number', 'DESC']],
      limit: 200,
    });
    const old = await Batch.findAll({ where: { ...where, digest: null }, order: [['number', 'DESC']], limit: 200 });
    const batches = [...kept, ...old].sort((a, b) => b.number - a.number).slice(0, 200);
    response.json(await Promise.all(batches.map(describe)));
  });
  api.get('/masters', async (_request, response) => {
    response.json(await context.masters.use());
  });
  api.get('/batches/:id', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    void noteDamage(context, batch);
    response.json(await describe(batch));
  });
  api.get('/batches/:id/frames', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const { from, limit } = parse(pageQuery, request.query);
    const { run } = parse(runQuery, request.query);
    void noteDamage(context, batch);
    response.json(await listFrames(context, batch, from, limit, run));
  });
  /** Reads every finished file again and marks what is gone or not as it was written. */
  api.post('/batches/:id/verify', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const found = await verifyBatch(context, batch, abortOnClose(response));
    events.send(batch.projectId, { type: 'batch', batch: await describe(batch) });
    response.json(found);
  });
  api.post('/batches/:id/render-damaged', async (request, response) => {
    response.json(await describe(await runner.renderDamaged(idOf(request.params.id, 'batch'))));
  });
  for (const act of ['pause', 'resume', 'stop'] as const) {
    api.post(`/batches/:id/${act}`, async (request, response) => {
      response.json(await describe(await runner[act](idOf(request.params.id, 'batch'))));
    });
  }

  api.post('/batches/:id/frames/:frame/finish', async (request, response) => {
    await runner.take(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'));
    response.json(await describe(await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.post('/batches/:id/frames/:frame/resume', async (request, response) => {
    response.json(await describe(await runner.resumeFrame(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'))));
  });

  const pictureOf = async (batchId: string, frameId: string): Promise<{ batch: Batch; row: BatchFrame }> => {
    const batch = await findBatch(idOf(batchId, 'batch'));
    const row = await BatchFrame.findOne({ where: { id: idOf(frameId, 'frame'), batchId: batch.id } });
    if (!row) throw notFound(`Frame ${frameId}`);
    if (row.state !== 'done' || row.files === '[]') throw new ServerError('not-found', `Frame ${row.number} of this shot is not rendered yet.`);
    return { batch, row };
  };
  api.get('/batches/:id/frames/:frame/picture', async (request, response) => {
    const { batch, row } = await pictureOf(request.params.id, request.params.frame);
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
    const { batch, row } = await pictureOf(request.params.id, request.params.frame);
    await sendThumb(context, request, response, batch, row);
  });

  /** Dates down and hours across, of a shot that the sun goes over; one file. */
  api.get('/batches/:id/days.html', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const shot = String(request.query.shot ?? '');
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

  api.post('/batches/:id/clips', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const tell = async (): Promise<void> => events.send(batch.projectId, { type: 'batch', batch: await describe(batch) });
    const asked = parse(newClip, request.body);
    const clip = 'reel' in asked ? await startReel(context, batch, asked.reel, tell, asked.background) : await startClip(context, batch, asked, tell);
    response.status(201).json(toClipReply(clip));
  });
  /** How large a movie will be. */
  api.post('/batches/:id/clips/forecast', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const asked = parse(newClip, request.body);
    if ('reel' in asked) throw new ServerError('unusable', 'The size of a reel is not foreseen. Ask for the movie of a shot.');
    response.json((await forecastMovie(context, batch, asked, abortOnClose(response))) satisfies MovieForecastReply);
  });
  /** Movies whose frames have changed since. */
  api.get('/batches/:id/clips/stale', async (request, response) => {
    response.json(await staleMovies(await findBatch(idOf(request.params.id, 'batch'))));
  });
  const tellBatch = async (batch: Batch): Promise<void> => events.send(batch.projectId, { type: 'batch', batch: await describe(batch) });
  api.post('/clips/:id/again', async (request, response) => {
    response.json(toClipReply(await makeAgain(context, await findClip(idOf(request.params.id, 'movie')), tellBatch)));
  });
  api.post('/clips/:id/stop', async (request, response) => {
    await stopMovie(context, await findClip(idOf(request.params.id, 'movie')));
    response.status(204).end();
  });
  api.get('/clips/:id/movie', async (request, response) => {
    const clip = await Clip.findByPk(idOf(request.params.id, 'clip'));
    if (!clip || clip.state !== 'ready') throw notFound(`Clip ${request.params.id}`);
    const batch = await findBatch(clip.batchId);
    const file = store.picture(batch.folder, clip.fileName);
    if (request.query.download !== undefined) response.download(file);
    else response.sendFile(file);
  });

  /** The plan of a batch as computed, for other programs. */
  api.get('/batches/:id/plan', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    planSnapshot(batch);
    const plan = await context.planner.open(batch.plan);
    await sendPlan(response, plan, (f) => f);
  });
}
