/** Routes from a pixel back to its cause: of a frame as it is planned now, and of a finished one by its frozen plan. */
import type { Response, Router } from 'express';
import { pixelQuery, type PixelReply, plannedPixelQuery } from '../../contract/pixel.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import { findBatch } from '../batches/repository.js';
import { planSnapshot } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { BatchFrame } from '../db/models.js';
import { notFound } from '../errors.js';
import { pixelCause } from '../previews/pixelCause.js';
import { plannedFrame } from '../previews/plannedFrame.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { abortOnClose, idOf, parse } from './params.js';

/** Sends what is found, unless whoever asked has gone. */
async function answer(response: Response, find: (gone: AbortSignal) => Promise<PixelReply>): Promise<void> {
  const gone = abortOnClose(response);
  try {
    response.json(await find(gone));
  } catch (e) {
    if (!(e instanceof AbortedError && gone.aborted)) throw e;
  }
}

/** Routes that say what stands in a pixel. */
export function pixelRoutes(api: Router, context: ServerContext): void {
  api.get('/sets/:id/pixel', async (request, response) => {
    const { revision: id, run, number, x, y } = parse(plannedPixelQuery, request.query);
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(id);
    const file = setFileOf(set);
    const frame = plannedFrame(file, project, revision, run, number);
    await answer(response, (gone) => pixelCause(context, frame, file, revision.hash, { x, y }, gone));
  });
  api.get('/batches/:id/frames/:frame/pixel', async (request, response) => {
    const at = parse(pixelQuery, request.query);
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const row = await BatchFrame.findOne({ where: { id: idOf(request.params.frame, 'frame'), batchId: batch.id }, attributes: ['position'] });
    if (!row) throw notFound(`Frame ${request.params.frame}`);
    // As it was when the batch was started, whatever the set says today.
    const { set, context: planned } = planSnapshot(batch);
    const [frame] = await (await context.planner.open(batch.plan)).frames(row.position, row.position + 1);
    await answer(response, (gone) => pixelCause(context, frame!, set, planned.scene, at, gone));
  });
}
