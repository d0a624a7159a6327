/** Routes of set files: made, read, saved, and given out. */
import type { Router } from 'express';
import { slugify } from '../../core/plan/fileNames.js';
import type { ServerContext } from '../context.js';
import { findProject } from '../projects.js';
import { addSet, findSet, readSetFrom, saveSetFile, setReplyText } from '../sets.js';
import { readSetText } from '../setText.js';
import { idOf, textOf } from './params.js';

/** Routes of sets. */
export function setRoutes(api: Router, context: ServerContext): void {
  api.post('/projects/:id/sets', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const { columns } = await readSetFrom(context, 'new', textOf(request.body));
    const set = await addSet(context, project.id, columns);
    response.status(201).type('application/json').send(setReplyText(set, columns.file));
  });
  api.get('/sets/:id', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const { columns } = await readSetFrom(context, 'stored', set.file);
    response.type('application/json').send(setReplyText(set, columns.file));
  });
  api.put('/sets/:id', async (request, response) => {
    const id = idOf(request.params.id, 'set');
    const { columns, version } = await readSetFrom(context, 'save', textOf(request.body));
    const set = await saveSetFile(context, id, version!, columns);
    context.events.send(set.projectId, { type: 'set', setId: set.id, version: set.version });
    response.type('application/json').send(setReplyText(set, columns.file));
  });
  /** One that cannot be read is exported as it is, so that it can be corrected. */
  api.get('/sets/:id/export', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    let [name, text] = [`set-${set.id}`, set.file];
    try {
      const file = readSetText(set.file);
      [name, text] = [slugify(file.name), `${JSON.stringify(file, null, 2)}\n`];
    } catch {
      // As it is.
    }
    response.attachment(`${name}.set.json`).type('application/json').send(text);
  });
}
