/** What every part of the server works with. */
import type { Logger } from 'pino';
import type { Access } from './access/access.js';
import type { importFiles } from '../engine/node/importModel.js';
import type { Pool } from '../engine/scheduler/pool.js';
import type { BatchCounts } from './batches/progress.js';
import type { MovieQueue } from './batches/movieQueue.js';
import type { Masters } from './batches/masters.js';
import type { RowWriter } from './batches/rowWriter.js';
import type { ServerConfig } from './config.js';
import type { Database } from './db/connection.js';
import type { Events } from './events.js';
import type { ForecastCache } from './forecast/forecastCache.js';
import type { Executor } from './executor/executor.js';
import type { Matcher } from './planning/matcher.js';
import type { Preflight } from './planning/preflight.js';
import type { Planner } from './planning/planner.js';
import type { Comparer } from './results/comparer.js';
import type { AssetStore } from './assets/assetStore.js';

/** What all parts of the server share. */
export interface ServerContext {
  database: Database;
  store: AssetStore;
  events: Events;
  /** Tracing threads, for previews; batches go through the executor. */
  pool: Pool;
  log: Logger;
  /** Reads models, each in a process of its own. */
  importFiles: typeof importFiles;
  planner: Planner;
  matcher: Matcher;
  /** Looks at plans before they run. */
  preflight: Preflight;
  /** What is known of what plans cost. */
  forecasts: ForecastCache;
  /** Aborted when the server ends. */
  closing: AbortSignal;
  /** Renders the frames of batches. */
  executor: Executor;
  access: Access;
  counts: BatchCounts;
  /** Linear light of finished frames. */
  masters: Masters;
  /** Looks at finished renders. */
  comparer: Comparer;
  movies: MovieQueue;
  /** Writes rows of frames, several together. */
  rows: RowWriter;
  config: ServerConfig;
  /** Hears every reply in JSON, by its route (as `GET /projects/:id`) and status: tests hold them against the description of the interface. */
  onReply?: (route: string, status: number, body: unknown) => void;
}
