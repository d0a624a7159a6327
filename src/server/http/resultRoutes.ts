/** Routes of what there is to judge of a set. */
import type { Router } from 'express';
import { staleQuery } from '../../contract/results.js';
import { chosenSet } from '../batches/createBatch.js';
import type { ServerContext } from '../context.js';
import { findProject } from '../projects.js';
import { listResults } from '../results/listResults.js';
import { staleResults } from '../results/staleResults.js';
import { findRevision } from '../revisions.js';
import { findSet } from '../sets.js';
import { idOf, parse } from './params.js';

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
}
