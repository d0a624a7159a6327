/** Routes of review pages for those who make them: pages with an address, folders, and notes that come back. */
import type { Router } from 'express';
import { newReviewFolder, newReviewPage, writtenNotes } from '../../contract/reviewPages.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { Caller } from '../access/access.js';
import type { ServerContext } from '../context.js';
import { ServerError } from '../errors.js';
import { importNotes, writeReviewFolder } from '../results/reviewFolder.js';
import { shownRows } from '../results/reviewPageContent.js';
import type { ReviewPages } from '../results/reviewPages.js';
import { findSet } from '../sets.js';
import { abortOnClose, idOf, parse } from './params.js';
import { smallPicture } from './sendThumb.js';

/** Routes by which review pages are made, changed and revoked. */
export function reviewPageRoutes(api: Router, context: ServerContext, pages: ReviewPages): void {
  api.get('/sets/:id/review-pages', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    response.json(await pages.list(id));
  });
  api.post('/sets/:id/review-pages', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    const asked = parse(newReviewPage, request.body);
    if ((await shownRows(id, asked.shown)).length === 0) throw new ServerError('not-found', 'None of these renders is there any more.');
    response.status(201).json(await pages.create(id, asked, (response.locals.caller as Caller).who));
  });
  api.delete('/review-pages/:id', async (request, response) => {
    await pages.revoke(idOf(request.params.id, 'review page'), (response.locals.caller as Caller).who);
    response.status(204).end();
  });
  /** The same as a folder that opens from disk. */
  api.post('/sets/:id/review-folder', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const { name, shown } = parse(newReviewFolder, request.body);
    const renders = await shownRows(set.id, shown);
    if (renders.length === 0) throw new ServerError('not-found', 'None of these renders is there any more.');
    const gone = abortOnClose(response);
    response.attachment(`${slugify(name)}.zip`).type('application/zip');
    try {
      await writeReviewFolder(set, name, renders, (batch, row, width) => smallPicture(context, batch, row, width, gone), response);
    } catch (e) {
      // Half of an archive must not look like a whole one.
      context.log.warn({ err: e }, 'review folder');
      response.destroy(e as Error);
    }
  });
  api.post('/sets/:id/notes/import', async (request, response) => {
    const { id, projectId } = await findSet(idOf(request.params.id, 'set'));
    const counts = await importNotes(context, id, parse(writtenNotes, request.body));
    context.events.send(projectId, { type: 'notes', setId: id });
    response.json(counts);
  });
}
