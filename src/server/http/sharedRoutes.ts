/** What a review page asks: open to whoever has its address, and to nothing else of the server. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import express, { type Express, type Request, type Router } from 'express';
import { newPageAnswer, newPageNote, pagePassphrase } from '../../contract/reviewPages.js';
import type { ServerContext } from '../context.js';
import { NoteRow, type ReviewPage } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';
import { addNote, answerNote, findNote } from '../results/notes.js';
import { pageFolder } from '../results/reviewFolder.js';
import { pageContent, shownFrame, shownRows } from '../results/reviewPageContent.js';
import { type ReviewPages, shownOf } from '../results/reviewPages.js';
import { findSet } from '../sets.js';
import { cookieOf } from './accessRoutes.js';
import { idOf, parse } from './params.js';
import { sendThumb } from './sendThumb.js';

const COOKIE = 'easel_page';
/** Notes that are taken from one page. */
const MAX_NOTES = 2000;

async function checkRoom({ setId, name }: ReviewPage): Promise<void> {
  if ((await NoteRow.count({ where: { setId, via: name } })) >= MAX_NOTES)
    throw new ServerError('unusable', `This page has ${MAX_NOTES} notes, which is the most.`);
}

/** Routes of a review page, for those who hold its address and no more. */
export function sharedRoutes(context: ServerContext, pages: ReviewPages): Router {
  const router = express.Router();
  const opened = (request: Request): Promise<ReviewPage> => pages.open(String(request.params.secret), cookieOf(request, COOKIE));
  const tell = async ({ setId }: ReviewPage): Promise<void> => {
    const { projectId } = await findSet(setId);
    context.events.send(projectId, { type: 'notes', setId });
  };
  const frameOf = async (page: ReviewPage, id: number) => {
    const found = await shownFrame(page.setId, shownOf(page), id);
    if (!found) throw notFound(`Frame ${id}`);
    return found;
  };

  router.get('/:secret', async (request, response) => {
    const page = await opened(request);
    const set = await findSet(page.setId);
    const at = (frame: number, width: number): string => `/api/shared/${page.secret}/frames/${frame}/render.webp?width=${width}`;
    const content = await pageContent(set, await shownRows(page.setId, shownOf(page)), {
      name: page.name,
      ends: page.ends,
      addressOf: (_batch, { id }) => ({ picture: at(id, 1920), small: at(id, 480) }),
    });
    if (request.query.again === undefined) await pages.noteOpened(page);
    response.json(content);
  });
  router.post('/:secret/session', async (request, response) => {
    const secret = String(request.params.secret);
    const proof = await pages.unlock(secret, parse(pagePassphrase, request.body).passphrase, request.ip ?? 'unknown');
    const secure = context.config.trustProxy && request.secure;
    response.cookie(COOKIE, proof, { httpOnly: true, sameSite: 'strict', path: `/api/shared/${secret}`, secure });
    response.status(204).end();
  });
  router.get('/:secret/frames/:frame/render.webp', async (request, response) => {
    const { batch, row } = await frameOf(await opened(request), idOf(request.params.frame, 'frame'));
    await sendThumb(context, request, response, batch, row);
  });
  router.post('/:secret/frames/:frame/notes', async (request, response) => {
    const page = await opened(request);
    const asked = parse(newPageNote, request.body);
    const { batch, row } = await frameOf(page, idOf(request.params.frame, 'frame'));
    await checkRoom(page);
    const { note } = await addNote(context, batch.id, row.id, asked, { via: page.name });
    await tell(page);
    response.status(201).json(note);
  });
  router.post('/:secret/notes/:note/answers', async (request, response) => {
    const page = await opened(request);
    const asked = parse(newPageAnswer, request.body);
    const row = await findNote(idOf(request.params.note, 'note'));
    // Notes on other renders of the set are none of a guest's business.
    await frameOf(page, row.frameId);
    await checkRoom(page);
    const { note } = await answerNote(context, row.id, asked, { via: page.name });
    await tell(page);
    response.status(201).json(note);
  });
  router.use((request) => {
    throw new ServerError('not-found', `There is no ${request.method} /api/shared${request.path}.`);
  });
  return router;
}

/** The page itself: the same for every address, since it asks for what it shows. */
export function servePage(app: Express): void {
  const folder = pageFolder();
  if (!existsSync(path.join(folder, 'index.html'))) return;
  app.use('/review-page', express.static(folder, { index: false, maxAge: 0 }));
  const shell = readFileSync(path.join(folder, 'index.html'), 'utf8');
  app.get('/shared/:secret', (_request, response) => {
    response.set('cache-control', 'no-store').set('x-robots-tag', 'noindex').type('html').send(shell);
  });
}
