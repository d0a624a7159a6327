/** The HTTP interface: guarded, validated, with the built pages behind it. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import express, { type Express, type RequestHandler } from 'express';
import { distFile, projectRoot } from '../../engine/node/assets.js';
import { type Runner } from '../batch/runner.js';
import { type ServerContext } from '../context.js';
import { assetRoutes } from './assetRoutes.js';
import { batchRoutes } from './batchRoutes.js';
import { askAgain } from './caching.js';
import { daylightRoutes } from './daylightRoutes.js';
import { headers, ownHostsOnly } from './guard.js';
import { planRoutes } from './planRoutes.js';
import { recipeRoutes } from './recipeRoutes.js';
import { ServerError } from '../errors.js';
import { problemHandler } from './problem.js';

/** Refuses bodies that no parser here reads: they would count as missing. */
const bodyTypes: RequestHandler = (request, _response, next) => {
  const type = request.headers['content-type'];
  const hasBody = request.headers['transfer-encoding'] !== undefined || Number(request.headers['content-length'] ?? 0) > 0;
  if (hasBody && !/^(application\/json|multipart\/form-data)\b/i.test(type ?? ''))
    throw new ServerError(
      'unsupported-type',
      `A body of type "${type ?? 'none'}" is not read; send application/json, or multipart/form-data for files.`,
    );
  next();
};

export function makeApp(context: ServerContext, runner: Runner): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(ownHostsOnly(context.config.hosts), headers());
  const api = express.Router();
  api.use(askAgain);
  api.use(bodyTypes, express.json({ limit: '8mb' }));
  api.get('/health', (_request, response) => {
    response.json({ ok: true, workers: context.pool.workers });
  });
  api.get('/events', (request, response) => context.events.attach(request, response));
  // For the live picture: the page runs the same kernel.
  api.get('/kernel.wasm', (_request, response) =>
    response.set('cache-control', 'no-cache').type('application/wasm').sendFile(distFile('kernel.wasm')),
  );
  planRoutes(api, context);
  assetRoutes(api, context);
  daylightRoutes(api, context);
  recipeRoutes(api, context);
  batchRoutes(api, context, runner);
  api.use((request) => {
    throw new ServerError('not-found', `There is no ${request.method} /api${request.path}.`);
  });
  app.use('/api', api);
  const web = path.join(projectRoot(), 'dist', 'web');
  if (existsSync(web)) {
    app.use(express.static(web, { index: false, maxAge: '1y', immutable: true }));
    // Every address is a route of the page, so that it survives a reload.
    app.get(/^\/(?!api\/)[^.]*$/, (_request, response) => response.set('cache-control', 'no-cache').sendFile(path.join(web, 'index.html')));
  }
  app.use(problemHandler((e, reference) => context.log.error({ err: e, reference })));
  return app;
}
