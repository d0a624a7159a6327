/** All routes of the HTTP interface: what its description, its checks and its clients are made of. */
import * as z from 'zod';
import { auditReply, newTokenReply, sessionReply, signInRequest, tokenReply, tokenRequest } from '../access.js';
import { environmentReply, soundReply, textureReply } from '../contract.js';
import { newPageAnswer, newPageNote, pagePassphrase, reviewPageContent } from '../reviewPages.js';
import { BATCH_ROUTES } from './batches.js';
import { done, PROJECT_ROUTES } from './projects.js';
import type { RouteTable } from './route.js';

/** Routes of the server itself, of who may use it, and of files that sets refer to. */
const SERVER_ROUTES = {
  'GET /health': { does: 'Says that the server runs', reply: z.looseObject({ ok: z.literal(true) }) },
  'GET /events': { does: 'Streams what changes, to the pages of the projects named', reply: 'text/event-stream' },
  'GET /openapi.json': { does: 'Describes this interface', reply: z.looseObject({ openapi: z.string() }) },
  'GET /openapi.html': { does: 'Describes this interface as a page', reply: 'text/html' },
  'GET /kernel.wasm': { does: 'Gives the kernel for the live preview', reply: 'application/wasm' },
  'GET /session': { does: 'Says who is signed in', reply: sessionReply },
  'POST /session': { does: 'Signs in', body: signInRequest, reply: done, status: 201 },
  'DELETE /session': { does: 'Signs out', reply: done },
  'DELETE /sessions': { does: 'Signs everybody out', reply: z.object({ count: z.int() }) },
  'GET /tokens': { does: 'Lists the tokens of programs', reply: z.array(tokenReply) },
  'POST /tokens': { does: 'Makes a token; its secret is told this once', body: tokenRequest, reply: newTokenReply, status: 201 },
  'DELETE /tokens/:id': { does: 'Revokes a token', reply: done },
  'GET /audit': { does: 'Lists who changed what', reply: auditReply },
  'POST /textures': { does: 'Keeps an image by its content', body: 'files', reply: textureReply, status: 201 },
  'GET /textures/:file': { does: 'Gives an image', reply: 'image/*' },
  'POST /environments': { does: 'Keeps an environment image', body: 'files', reply: environmentReply, status: 201 },
  'GET /environments/:file': { does: 'Gives an environment image', reply: 'application/octet-stream' },
  'POST /sounds': { does: 'Keeps a sound', body: 'files', reply: soundReply, status: 201 },
  'GET /sounds/:file': { does: 'Gives a sound', reply: 'audio/*' },
  'GET /materials/swatches.webp': { does: 'Gives swatches of all library materials', reply: 'image/webp' },
  'GET /shared/:secret': { does: 'Gives what a review page shows', reply: reviewPageContent },
  'POST /shared/:secret/session': { does: 'Opens a review page by its passphrase', body: pagePassphrase },
  'GET /shared/:secret/frames/:frame/render.webp': { does: 'Gives a render of a review page', reply: 'image/webp' },
  'POST /shared/:secret/frames/:frame/notes': { does: 'Writes a note on a review page', body: newPageNote, reply: z.unknown(), status: 201 },
  'POST /shared/:secret/notes/:note/answers': { does: 'Answers a note on a review page', body: newPageAnswer, reply: z.unknown(), status: 201 },
} satisfies RouteTable;

/** All routes by method and path. */
export const ROUTES = { ...PROJECT_ROUTES, ...BATCH_ROUTES, ...SERVER_ROUTES } satisfies RouteTable;
/** One of {@link ROUTES}. */
export type Route = keyof typeof ROUTES;
/** JSON that a route answers; unknown of one that answers a file. */
export type ReplyOf<R extends Route> = (typeof ROUTES)[R] extends { reply: infer S extends z.ZodType } ? z.infer<S> : unknown;
