/** Routes of models: imported as revisions, their parts, and what became of the parts of an earlier one. */
import type { Router } from 'express';
import { importOptions } from '../../contract/contract.js';
import type { LengthUnit } from '../../core/units/length.js';
import type { ServerContext } from '../context.js';
import { importRevision } from '../imports.js';
import { findProject, toProjectReply } from '../projects.js';
import { earlierRevision, findRevision, partsText, writeMatch } from '../revisions.js';
import { isKnown } from './caching.js';
import { abortOnClose, idOf, parse } from './params.js';
import { receiveFiles, withFiles } from './uploads.js';

/** Routes of models. */
export function modelRoutes(api: Router, context: ServerContext): void {
  api.post('/projects/:id/model', receiveFiles(context.store.uploads()), async (request, response) => {
    const gone = abortOnClose(response);
    const project = await withFiles(request, async (files) => {
      const { unit, up, faces } = parse(importOptions, { unit: request.query.unit, up: request.query.up, faces: request.query.faces });
      const found = await findProject(idOf(request.params.id, 'project'));
      const units = { ...(unit && { unit: unit as LengthUnit }), ...(up && { up }) };
      await importRevision(context, found, files, { ...units, facesApart: faces === 'apart' }, gone);
      return found;
    });
    response.status(201).json(await toProjectReply(project));
  });

  api.get('/revisions/:id/parts', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    if (isKnown(request, response, `parts-${revision.hash}`)) return;
    response.type('application/json').send(Buffer.from(await partsText(context, revision.id)));
  });
  api.get('/revisions/:id/match', async (request, response) => {
    const asked = request.query.with === undefined ? undefined : idOf(request.query.with, 'revision');
    const later = await findRevision(idOf(request.params.id, 'revision'));
    const earlier = await earlierRevision(later, asked);
    if (isKnown(request, response, `match-${earlier.letter}-${earlier.hash}-${later.hash}`)) return;
    await writeMatch(context, earlier, later, response.type('application/json'));
  });
}
