/** How long a browser may keep what it got: for ever where the address carries the content, else until it has asked again. */
import { type Request, type RequestHandler, type Response } from 'express';

const FOREVER = 'private, max-age=31536000, immutable';
const ASK_AGAIN = 'private, no-cache';

/** What has no content in its address is asked for again each time; an unchanged one is answered without its body. */
export const askAgain: RequestHandler = (_request, response, next) => {
  response.set('cache-control', ASK_AGAIN);
  next();
};

/** The address names the content: what it shows never changes. */
export function keepForever(response: Response): Response {
  return response.set('cache-control', FOREVER);
}

/**
 * Names the content of a reply by `tag`. True where the browser has it already: then the reply is sent, without a body.
 * @param addressed whether the address itself names the content.
 */
export function isKnown(request: Request, response: Response, tag: string, addressed = false): boolean {
  response.set('cache-control', addressed ? FOREVER : ASK_AGAIN).set('etag', `"${tag}"`);
  if (!request.fresh) return false;
  response.status(304).end();
  return true;
}
