/** Routes of what there is to judge of a set. */
import type { Router } from 'express';
import { newDecision } from '../../contract/batches.js';
import { newRunDecision, staleQuery } from '../../contract/results.js';
import { slugify } from '../../core/plan/fileNames.js';
import { chosenSet } from '../batches/createBatch.js';
import { toFrameReply } from '../batches/repository.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { findProject } from '../projects.js';
import { decide, decideRun, decisionsCsv, listDecisions } from '../results/decisions.js';
import { listResults } from '../results/listResults.js';
import { staleResults } from '../results/staleResults.js';
import { findRevision } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { idOf, parse } from './params.js';

/** Routes of what was rendered of a set. */
export function resultRoutes(api: Router, context: ServerContext): void {
  api.get('/sets/:id/results', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    response.json(await listResults(context, id));
  });
  /** Renders of one revision and variant that would come out otherwise today, and why. */
  api.get('/sets/:id/stale', async (request, response) => {
    const { revision, variant } = parse(staleQuery, request.query);
    const row = await findSet(idOf(request.params.id, 'set'));
    const choice = variant === undefined ? {} : { variant };
    const asked = { project: await findProject(row.projectId), row, revision: await findRevision(revision), set: chosenSet(row, choice), choice };
    response.json(await staleResults(context, asked));
  });

  api.put('/batches/:id/frames/:frame/decision', async (request, response) => {
    const said = parse(newDecision, request.body);
    const { batch, row } = await decide(context, idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'), said);
    const frame = toFrameReply(row, digestOfBatch(batch));
    context.events.send(batch.projectId, { type: 'frame', batchId: batch.id, frame });
    response.json(frame);
  });
  /** Of all finished frames of a run at once. */
  api.put('/batches/:id/decision', async (request, response) => {
    const said = parse(newRunDecision, request.body);
    const { batch, frames } = await decideRun(context, idOf(request.params.id, 'batch'), said);
    const { run, decision, reason } = said;
    // One event however many frames: a shot may have thousands.
    context.events.send(batch.projectId, { type: 'decided', batchId: batch.id, run, decision, reason: decision === null ? null : (reason ?? null) });
    response.json({ frames });
  });
  api.get('/sets/:id/decisions', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const lines = await listDecisions(set.id);
    if (request.query.format !== 'csv') response.json(lines);
    else
      response
        .attachment(`${slugify(setFileOf(set).name)}-decisions.csv`)
        .type('text/csv')
        .send(decisionsCsv(lines));
  });
}
