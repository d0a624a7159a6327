/** Routes of the queue and of the history of batches. */
import type { Router } from 'express';
import sharp from 'sharp';
import { moveBatch } from '../../contract/batches.js';
import { changesQuery } from '../../contract/changes.js';
import { soFarQuery, type TilesReply } from '../../contract/queue.js';
import { draftSet } from '../../core/edit/draftSet.js';
import { setDifferences } from '../../core/edit/setDifferences.js';
import { filmSoFar } from '../../engine/queries/filmSoFar.js';
import { slugify } from '../../core/plan/fileNames.js';
import { chosenSet } from '../batches/createBatch.js';
import { describeChanges } from '../batches/frameStates.js';
import { contentsOf, deleteBatch, planAgain, renderAgain, restoreBatch } from '../batches/history.js';
import { batchReport } from '../batches/report.js';
import { reportHtml } from '../batches/reportHtml.js';
import { findBatch, toBatchReply } from '../batches/repository.js';
import type { Runner } from '../batches/runner.js';
import { planSnapshot } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { openFolder } from '../openFolder.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet, setFileOf, setReplyText } from '../sets.js';
import { idOf, parse } from './params.js';
import { sendThumb } from './sendThumb.js';

/** Routes of the queue. */
export function queueRoutes(api: Router, context: ServerContext, runner: Runner): void {
  const { events } = context;
  const describe = (batch: Batch) => toBatchReply(context, batch, runner.live(batch));

  /** What a start would render, what is there already, and why pictures that are there are stale. */
  api.get('/sets/:id/changes', async (request, response) => {
    const { revision, variant, draft } = parse(changesQuery, request.query);
    const row = await findSet(idOf(request.params.id, 'set'));
    const choice = { ...(variant !== undefined && { variant }), ...(draft && { draft }) };
    const asked = { project: await findProject(row.projectId), row, revision: await findRevision(revision), set: chosenSet(row, choice), choice };
    response.json(await describeChanges(context, asked));
  });

  api.put('/batches/:id/place', async (request, response) => {
    response.json(await describe(await runner.move(idOf(request.params.id, 'batch'), parse(moveBatch, request.body))));
  });
  api.post('/batches/:id/retry', async (request, response) => {
    response.json(await describe(await runner.retryFailed(idOf(request.params.id, 'batch'))));
  });

  /** In the file manager of this machine: whoever reaches it from elsewhere has nothing of that. */
  api.post('/batches/:id/open-folder', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    if (context.access.exposed) throw new ServerError('unusable', 'The folder is on another machine. Copy its path instead.');
    await openFolder(context.store.picture('.', batch.folder));
    response.status(204).end();
  });
  /** A small picture that stands for the batch: its first finished frame. */
  api.get('/batches/:id/cover', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const row = await BatchFrame.findOne({ where: { batchId: batch.id, state: 'done', damage: null }, order: ['position'] });
    if (!row) throw new ServerError('not-found', `Batch ${batch.number} has no finished frame yet.`);
    await sendThumb(context, request, response, batch, row);
  });
  /** What goes where it is deleted. */
  api.get('/batches/:id/contents', async (request, response) => {
    response.json(await contentsOf(context, await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.delete('/batches/:id', async (request, response) => {
    const { id, projectId } = await deleteBatch(context, idOf(request.params.id, 'batch'));
    events.send(projectId, { type: 'batchDeleted', projectId, batchId: id });
    response.status(204).end();
  });
  api.post('/batches/:id/restore', async (request, response) => {
    const batch = await describe(await restoreBatch(context, idOf(request.params.id, 'batch')));
    events.send(batch.projectId, { type: 'batch', batch });
    response.json(batch);
  });
  /** What of the set is otherwise today than when the batch was started. */
  api.get('/batches/:id/differences', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const { set, draft } = planSnapshot(batch);
    const today = setFileOf(await findSet(batch.setId));
    response.json(setDifferences(set, draft ? draftSet(today, draft) : today));
  });
  /** The same plan once more, all of it rendered. */
  api.post('/batches/:id/again', async (request, response) => {
    const batch = await renderAgain(context, idOf(request.params.id, 'batch'));
    await runner.reconsider();
    const reply = await describe(batch);
    events.send(batch.projectId, { type: 'batch', batch: reply });
    response.status(201).json(reply);
  });
  /** The plan as it was then, as a new set. */
  api.post('/batches/:id/set', async (request, response) => {
    const set = await planAgain(context, idOf(request.params.id, 'batch'));
    response.status(201).type('application/json').send(setReplyText(set, set.file));
  });

  /** A frame in work as its tiles come. */
  api.get('/batches/:id/frames/:frame/progress.webp', async (request, response) => {
    const { width } = parse(soFarQuery, request.query);
    const { frame, film } = runner.inWork(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'));
    const picture = filmSoFar(film, frame.grade, width);
    const bytes = await sharp(picture.rgba, { raw: { width: picture.width, height: picture.height, channels: 4 } })
      .webp({ quality: 84 })
      .toBuffer();
    response.type('image/webp').set('cache-control', 'no-store').send(bytes);
  });

  api.get('/batches/:id/frames/:frame/tiles', (request, response) => {
    const { frame, film } = runner.inWork(idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'));
    const { width, height } = frame.size;
    response.set('cache-control', 'no-store').json({ width, height, tiles: film.tiles() } satisfies TilesReply);
  });

  api.get('/batches/:id/report', async (request, response) => {
    response.json(await batchReport(context, await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.get('/batches/:id/report.html', async (request, response) => {
    const report = await batchReport(context, await findBatch(idOf(request.params.id, 'batch')));
    response
      .attachment(`${slugify(`batch ${report.batch.number} ${report.batch.name} report`)}.html`)
      .type('text/html')
      .send(reportHtml(report));
  });
}
