/** What every part of the server works with. */
import { type Logger } from 'pino';
import { type Access } from './access/access.js';
import { type OutputWorkers } from '../engine/node/outputWorkers.js';
import { type Pool } from '../engine/scheduler/pool.js';
import { type BatchCounts } from './batches/progress.js';
import { type ServerConfig } from './config.js';
import { type Database } from './db/connection.js';
import { type Events } from './events.js';
import { type Matcher } from './planning/matcher.js';
import { type Planner } from './planning/planner.js';
import { type AssetStore } from './assets/assetStore.js';

export interface ServerContext {
  database: Database;
  store: AssetStore;
  events: Events;
  pool: Pool;
  log: Logger;
  planner: Planner;
  matcher: Matcher;
  finisher: OutputWorkers;
  access: Access;
  counts: BatchCounts;
  config: ServerConfig;
}
