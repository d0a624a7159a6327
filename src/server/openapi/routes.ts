/** The description of the HTTP interface over itself, and who hears what it answers. */
import type { RequestHandler, Router } from 'express';
import type { ServerContext } from '../context.js';
import { openApiDocument } from './document.js';
import { OPENAPI_POLICY, openApiPage } from './page.js';

/** Tells the context's listener of every JSON reply. */
export const tellReplies =
  (context: ServerContext): RequestHandler =>
  (request, response, next) => {
    if (!context.onReply) return next();
    const send = response.send.bind(response);
    response.send = (body) => {
      const route = request.route as { path: string } | undefined;
      const isJson = /^application\/json\b/.test(String(response.get('content-type') ?? ''));
      if (route && isJson && typeof body === 'string' && response.get('content-disposition') === undefined)
        context.onReply?.(`${request.method} ${request.baseUrl.replace(/^\/api/, '')}${route.path}`, response.statusCode, JSON.parse(body));
      return send(body);
    };
    next();
  };

/** Routes of the description. */
export function openApiRoutes(api: Router): void {
  // Made when somebody asks for it, and once.
  let text: string | undefined;
  let page: string | undefined;
  api.get('/openapi.json', (_request, response) => {
    response.type('application/json').send((text ??= JSON.stringify(openApiDocument())));
  });
  api.get('/openapi.html', (_request, response) => {
    response
      .set('content-security-policy', OPENAPI_POLICY)
      .type('html')
      .send((page ??= openApiPage()));
  });
}
