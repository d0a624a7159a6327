/** How long a browser may keep what it got: for ever where the address carries the content, else until it has asked again. */
import type { Request, RequestHandler, Response } from 'express';

const IMMUTABLE = 'private, max-age=31536000, immutable';
const NO_CACHE = 'private, no-cache';

/** What has no content in its address is asked for again each time; an unchanged one is answered without its body. */
export const revalidate: RequestHandler = (_request, response, next) => {
  response.set('cache-control', NO_CACHE);
  next();
};

/** The address names the content: what it shows never changes. */
export function immutable(response: Response): Response {
  return response.set('cache-control', IMMUTABLE);
}

/**
 * Names the content of a reply by `tag`. True where the browser has it already: then the reply is sent, without a body.
 * @param addressed whether the address itself names the content.
 */
export function isKnown(request: Request, response: Response, tag: string, addressed = false): boolean {
  response.set('cache-control', addressed ? IMMUTABLE : NO_CACHE).set('etag', `"${tag}"`);
  if (!request.fresh) return false;
  response.status(304).end();
  return true;
}
