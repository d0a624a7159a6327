/** Routes of batches. */
import type { Router } from 'express';
import { Op } from 'sequelize';
import { newBatch } from '../../contract/batches.js';
import { pageQuery } from '../../contract/contract.js';
import { runQuery } from '../../contract/results.js';
import { toBatchReply, findBatch, BATCH_SUMMARY_COLUMNS, listFrames } from '../batches/repository.js';
import { createBatch } from '../batches/createBatch.js';
import { readRequestKey, startOnce } from '../batches/requestKey.js';
import { planSnapshot } from '../batches/snapshot.js';
import { noteDamage, verifyBatch } from '../batches/verify.js';
import type { Runner } from '../batches/runner.js';
import type { ServerContext } from '../context.js';
import { foreseeBatch } from '../forecast/batchForecast.js';
import { Batch } from '../db/models.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet } from '../sets.js';
import { frameFileRoutes } from './frameFileRoutes.js';
import { movieRoutes } from './movieRoutes.js';
import { abortOnClose, idOf, parse } from './params.js';
import { sendPlan } from './sendPlan.js';

/** Routes of batches and their frames, with those of what they rendered. */
export function batchRoutes(api: Router, context: ServerContext, runner: Runner): void {
  const { events } = context;
  const describe = (batch: Batch) => toBatchReply(context, batch, runner.live(batch));
  frameFileRoutes(api, context);
  movieRoutes(api, context, async (batch) => events.send(batch.projectId, { type: 'batch', batch: await describe(batch) }));

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

  /** The plan of a batch as computed, for other programs. */
  api.get('/batches/:id/plan', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    planSnapshot(batch);
    const plan = await context.planner.open(batch.plan);
    await sendPlan(response, plan, (f) => f);
  });
}
