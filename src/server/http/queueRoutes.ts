/** Routes of the queue and of the history of batches. */
import type { Router } from 'express';
import { moveBatch, newDecision } from '../../contract/contract.js';
import { changesQuery } from '../../contract/changes.js';
import { slugify } from '../../core/plan/fileNames.js';
import { chosenSet } from '../batches/createBatch.js';
import { describeChanges } from '../batches/frameStates.js';
import { contentsOf, decide, deleteBatch, planAgain, restoreBatch } from '../batches/history.js';
import { batchReport } from '../batches/report.js';
import { reportHtml } from '../batches/reportHtml.js';
import { findBatch, toBatchReply, toFrameReply } from '../batches/repository.js';
import type { Runner } from '../batches/runner.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import type { Batch } from '../db/models.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet, setReplyText } from '../sets.js';
import { idOf, parse } from './params.js';

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

  /** What goes where it is deleted. */
  api.get('/batches/:id/contents', async (request, response) => {
    response.json(await contentsOf(context, await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.delete('/batches/:id', async (request, response) => {
    await deleteBatch(context, idOf(request.params.id, 'batch'));
    response.status(204).end();
  });
  api.post('/batches/:id/restore', async (request, response) => {
    response.json(await describe(await restoreBatch(context, idOf(request.params.id, 'batch'))));
  });
  /** The plan as it was then, as a new set. */
  api.post('/batches/:id/set', async (request, response) => {
    const set = await planAgain(context, idOf(request.params.id, 'batch'));
    response.status(201).type('application/json').send(setReplyText(set, set.file));
  });

  api.put('/batches/:id/frames/:frame/decision', async (request, response) => {
    const asked = parse(newDecision, request.body);
    const { batch, row } = await decide(context, idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'), asked);
    const frame = toFrameReply(row, digestOfBatch(batch));
    events.send(batch.projectId, { type: 'frame', batchId: batch.id, frame });
    response.json(frame);
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
