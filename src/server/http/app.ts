/** The HTTP interface: guarded, validated, with the built pages behind it. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import express, { type Express } from 'express';
import { distFile, projectRoot } from '../../engine/node/assets.js';
import { type Runner } from '../batch/runner.js';
import { type ServerContext } from '../context.js';
import { batchRoutes } from './batchRoutes.js';
import { daylightRoutes } from './daylightRoutes.js';
import { headers, ownHostsOnly } from './guard.js';
import { planRoutes } from './planRoutes.js';
import { recipeRoutes } from './recipeRoutes.js';
import { HttpError, problemHandler } from './problem.js';

export function makeApp(context: ServerContext, runner: Runner, hosts: string[] = []): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(ownHostsOnly(hosts), headers());
  const api = express.Router();
  api.use(express.json({ limit: '8mb' }));
  api.get('/health', (_request, response) => {
    response.json({ ok: true, workers: context.pool.workers });
  });
  api.get('/events', (request, response) => context.events.attach(request, response));
  // For the live picture: the page runs the same kernel.
  api.get('/kernel.wasm', (_request, response) =>
    response.set('cache-control', 'no-cache').type('application/wasm').sendFile(distFile('kernel.wasm')),
  );
  planRoutes(api, context);
  daylightRoutes(api, context);
  recipeRoutes(api, context);
  batchRoutes(api, context, runner);
  api.use((request) => {
    throw new HttpError(404, `There is no ${request.method} /api${request.path}.`);
  });
  app.use('/api', api);
  const web = path.join(projectRoot(), 'dist', 'web');
  if (existsSync(web)) {
    app.use(express.static(web, { index: false, maxAge: '1y', immutable: true }));
    // Every address is a route of the page, so that it survives a reload.
    app.get(/^\/(?!api\/)[^.]*$/, (_request, response) => response.set('cache-control', 'no-cache').sendFile(path.join(web, 'index.html')));
  }
  app.use(problemHandler((e) => context.log.error(e)));
  return app;
}
