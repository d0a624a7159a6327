/** The HTTP interface: guarded, validated, with the built pages behind it. */
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import compression from 'compression';
import express, { type Express, type Request, type RequestHandler, type Response } from 'express';
import expressStaticGzip from 'express-static-gzip';
import { distFile, projectRoot } from '../../engine/node/assets.js';
import type { Runner } from '../batches/runner.js';
import type { ServerContext } from '../context.js';
import { assetRoutes } from './assetRoutes.js';
import { batchRoutes } from './batchRoutes.js';
import { revalidate } from './caching.js';
import { daylightRoutes } from './daylightRoutes.js';
import { accessRoutes, authenticate } from './accessRoutes.js';
import { contentPolicy, headers, hostGuard } from './guard.js';
import { forecastRoutes } from './forecastRoutes.js';
import { testFrameRoutes } from './testFrameRoutes.js';
import { pixelRoutes } from './pixelRoutes.js';
import { modelRoutes } from './modelRoutes.js';
import { planRoutes } from './planRoutes.js';
import { presetRoutes } from './presetRoutes.js';
import { projectRoutes } from './projectRoutes.js';
import { queueRoutes } from './queueRoutes.js';
import { compareRoutes } from './compareRoutes.js';
import { noteRoutes } from './noteRoutes.js';
import { packageRoutes } from './packageRoutes.js';
import { reviewPageRoutes } from './reviewPageRoutes.js';
import { servePage, sharedRoutes } from './sharedRoutes.js';
import { setRoutes } from './setRoutes.js';
import type { Deliveries } from '../handover/deliveries.js';
import type { Packages } from '../handover/packages.js';
import { ReviewPages } from '../results/reviewPages.js';
import { resultRoutes } from './resultRoutes.js';
import { ServerError } from '../errors.js';
import { problemHandler } from './problem.js';
import { openApiRoutes, tellReplies } from '../openapi/routes.js';

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

/** SQLite ends a text at NUL, so that a statement would break off in the middle of one. */
const refuseNul: RequestHandler = (request, _response, next) => {
  if (/%00/.test(request.originalUrl)) throw new ServerError('invalid-input', 'The address holds the character NUL; remove it.');
  next();
};

function refuseNulInBody(_request: unknown, _response: unknown, body: Buffer): void {
  if (body.includes(0) || body.includes('\\u0000')) throw new Error('NUL');
}

/** Events go out as they come, and what is read beside a secret of the page is not compressed with it. */
const isCompressed = (request: Request, response: Response): boolean =>
  !/^\/api\/(events|session)\b/.test(request.originalUrl) && compression.filter(request, response);

const asJson = express.json({ limit: '1mb', verify: refuseNulInBody });
const asBytes = express.raw({ type: 'application/json', limit: '8mb', verify: refuseNulInBody });

/** Bodies with a set file in them may be long: they are parsed where that holds up nobody. */
const isSetFile = ({ method, path: at }: Request): boolean =>
  (method === 'PUT' && /^\/sets\/[^/]+\/?$/.test(at)) || (method === 'POST' && /^\/projects\/[^/]+\/sets\/?$/.test(at));

const readBody: RequestHandler = (request, response, next) => (isSetFile(request) ? asBytes : asJson)(request, response, next);

/** The application with all its routes. */
export function createApp(context: ServerContext, runner: Runner, packages: Packages, deliveries: Deliveries): Express {
  const app = express();
  app.disable('x-powered-by');
  // One proxy in front, whose word about the other side is taken.
  app.set('trust proxy', context.config.trustProxy ? 1 : false);
  app.use(headers(), hostGuard(context.config), compression({ filter: isCompressed }));
  const api = express.Router();
  const pages = new ReviewPages(context);
  api.use(revalidate, tellReplies(context));
  // Whoever has the address of a review page need not be signed in.
  api.use('/shared', refuseNul, bodyTypes, asJson, sharedRoutes(context, pages));
  api.use(authenticate(context));
  api.use(refuseNul, bodyTypes, readBody);
  accessRoutes(api, context);
  // How long the event loop was held up at most since this was asked last.
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  api.get('/health', (_request, response) => {
    const longestBlockMs = Math.round(delay.max / 1e6);
    delay.reset();
    response.json({ ok: true, ...(response.locals.caller !== null && { workers: context.pool.workers, longestBlockMs }) });
  });
  api.get('/events', (request, response) => context.events.attach(request, response));
  // For the live preview: the page runs the same kernel.
  api.get('/kernel.wasm', (_request, response) =>
    response.set('cache-control', 'no-cache').type('application/wasm').sendFile(distFile('kernel.wasm')),
  );
  openApiRoutes(api);
  projectRoutes(api, context);
  modelRoutes(api, context);
  setRoutes(api, context);
  planRoutes(api, context);
  forecastRoutes(api, context);
  pixelRoutes(api, context);
  testFrameRoutes(api, context);
  assetRoutes(api, context);
  daylightRoutes(api, context);
  presetRoutes(api, context);
  batchRoutes(api, context, runner);
  queueRoutes(api, context, runner);
  resultRoutes(api, context);
  compareRoutes(api, context);
  noteRoutes(api, context);
  reviewPageRoutes(api, context, pages);
  packageRoutes(api, packages, deliveries);
  api.use((request) => {
    throw new ServerError('not-found', `There is no ${request.method} /api${request.path}.`);
  });
  app.use('/api', api);
  servePage(app);
  const web = path.join(projectRoot(), 'dist', 'web');
  if (existsSync(web)) {
    app.use(
      expressStaticGzip(web, { index: false, enableBrotli: true, orderPreference: ['br', 'gz'], serveStatic: { maxAge: '1y', immutable: true } }),
    );
    const page = readFileSync(path.join(web, 'index.html'), 'utf8');
    // Every address is a route of the page, so that it survives a reload.
    app.get(/^\/(?!api\/)[^.]*$/, (_request, response) => {
      const nonce = randomBytes(16).toString('base64');
      response
        .set('cache-control', 'no-cache')
        .set('content-security-policy', contentPolicy(nonce))
        .type('html')
        .send(page.replace('__STYLE_NONCE__', nonce));
    });
  }
  app.use(problemHandler((e, reference) => context.log.error({ err: e, reference })));
  return app;
}
