/** Puts the server together: data folder, lock, database, workers, runner, HTTP. */
import { setMaxListeners } from 'node:events';
import { mkdir } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import path from 'node:path';
import { type Logger, pino } from 'pino';
import sharp from 'sharp';
import { OutputWorkers } from '../engine/node/outputWorkers.js';
import { ImageReader } from '../engine/node/imageReader.js';
import { endReader, importFiles, warmImportWorker } from '../engine/node/importModel.js';
import { startPool } from '../engine/node/threads.js';
import { energyTables } from '../engine/upload/energyCompensation.js';
import { Access, isExposed } from './access/access.js';
import { collectOrphanModels, collectTorn, recoverModels } from './assets/orphans.js';
import { Trash } from './assets/trash.js';
import { DELETED_DAYS, purgeDeleted } from './batches/history.js';
import { BatchCounts } from './batches/progress.js';
import { Masters } from './batches/masters.js';
import { RowWriter } from './batches/rowWriter.js';
import { Runner } from './batches/runner.js';
import { isLoopback, readConfig, type ServerConfig } from './config.js';
import type { ServerContext } from './context.js';
import { openDatabase } from './db/connection.js';
import { lockFolder } from './db/dataLock.js';
import { Revision } from './db/models.js';
import { Events } from './events.js';
import { ForecastCache } from './forecast/forecastCache.js';
import { createApp } from './http/app.js';
import { LocalWorkers } from './executor/localWorkers.js';
import { finishRestore } from './maintenance/restore.js';
import { Matcher } from './planning/matcher.js';
import { Deliveries } from './handover/deliveries.js';
import { MovieQueue } from './batches/movieQueue.js';
import { recoverMovies } from './batches/movies.js';
import { toBatchReply } from './batches/repository.js';
import { Packages } from './handover/packages.js';
import { Preflight } from './planning/preflight.js';
import { Comparer } from './results/comparer.js';
import { Planner } from './planning/planner.js';
import { PRIORITY } from './priorities.js';
import { AssetStore } from './assets/assetStore.js';

/** Every setting but the data folder has a default. */
export type ServerOptions = Partial<ServerConfig> &
  Pick<ServerConfig, 'data'> & {
    /** Threads and processes that are slow to start wait for their first task. */
    warm?: boolean;
  };

/** A server that answers. */
export interface RunningServer {
  url: string;
  context: ServerContext;
  runner: Runner;
  close(): Promise<void>;
}

const HOUR_MS = 3_600_000;
/** Milliseconds after the start at which the process that compares revisions is started. */
const WARM_MS = 4000;

/** Binds the port. Rejects with a sentence that names the remedy. */
function listen(app: ReturnType<typeof createApp>, { port, address }: ServerConfig): Promise<Server> {
  return new Promise((resolve, reject) => {
    // What goes wrong comes to the same callback.
    const server = app.listen(port, address, (e?: NodeJS.ErrnoException) => {
      if (!e) resolve(server);
      else if (e.code === 'EADDRINUSE')
        reject(new Error(`Port ${port} is taken by another program; end it, or start Cold Easel with PORT=${port + 1}.`));
      else if (e.code === 'EACCES') reject(new Error(`Port ${port} may not be opened by this user; start Cold Easel with a PORT above 1024.`));
      else if (e.code === 'EADDRNOTAVAIL')
        reject(new Error(`This machine has no address ${address}; set COLD_EASEL_ADDRESS to one that it has, such as 127.0.0.1.`));
      else reject(e);
    });
  });
}

/** An address that works: of one that stands for all of this machine's, the first that others can reach. */
export function addressOf(address: string, port: number): string {
  if (isLoopback(address)) return `http://localhost:${port}`;
  const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
  const reached = address === '0.0.0.0' || address === '::' ? all.find((a) => !a.internal && a.family === 'IPv4')?.address : address;
  return `http://${reached === undefined ? 'localhost' : reached.includes(':') ? `[${reached}]` : reached}:${port}`;
}

/** Limits on connections, so that slow or idle ones hold up nobody. */
function boundConnections(server: Server): void {
  // A connection that is ended just as the other side asks over it again breaks that request. Pages and
  // programs ask every few seconds: five, Node's own time, is too near to that on a busy machine.
  server.keepAliveTimeout = 65_000;
  server.headersTimeout = 20_000;
  // Half a gigabyte over a slow line takes its time.
  server.requestTimeout = 30 * 60_000;
  server.maxHeadersCount = 100;
  server.maxConnections = 4096;
  // What is no HTTP at all is told so, with the headers that every answer has.
  server.on('clientError', (e: NodeJS.ErrnoException, socket) => {
    if (e.code === 'ECONNRESET' || !socket.writable) return;
    const status =
      e.code === 'HPE_HEADER_OVERFLOW'
        ? '431 Request Header Fields Too Large'
        : e.code === 'ERR_HTTP_REQUEST_TIMEOUT'
          ? '408 Request Timeout'
          : '400 Bad Request';
    socket.end(
      `HTTP/1.1 ${status}\r\nconnection: close\r\ncontent-length: 0\r\nx-content-type-options: nosniff\r\ncontent-security-policy: default-src 'none'\r\n\r\n`,
    );
  });
}

/** Sets the data folder right after whatever ended the last start. */
async function tidy(store: AssetStore, log: Logger): Promise<void> {
  const say = (line: string): void => log.warn(line);
  const torn = await collectTorn(store);
  if (torn > 0) log.info(`${torn} files that were being written when the server ended are in the trash`);
  const known = new Set((await Revision.findAll({ attributes: ['hash'], raw: true })).map((r) => r.hash));
  const missing = await recoverModels(store, known, say);
  if (missing.length > 0) log.error(`the models of ${missing.length} revisions are missing: ${missing.join(', ')}`);
  await collectOrphanModels(store, known, say);
}

/** Starts a server. Rejects with a sentence where the folder is in use, the database cannot be opened, or the port is taken. */
export async function startServer({ data, warm = true, ...options }: ServerOptions): Promise<RunningServer> {
  const config: ServerConfig = { ...readConfig({}, data), ...options, data };
  await mkdir(data, { recursive: true });
  const log = pino({ level: config.logLevel }, pino.destination(2));
  const lock = await lockFolder(data);
  const images = new ImageReader();
  const store = new AssetStore(data, new Trash(data, config.trashDays), images, config.originalsBytes, (line) => log.warn(line));
  const undo: (() => unknown)[] = [() => lock.release()];
  try {
    const replaced = await finishRestore(data);
    if (replaced) log.info(`a restore that was cut off is finished; what was there before is in ${replaced}`);
    await store.prepare();
    const database = await openDatabase(data, (line) => log.info(line));
    undo.push(() => database.close());
    await tidy(store, log);
    const masters = new Masters(database, store, config.mastersBytes, (line) => log.info(line));
    await masters.tidy();
    const access = new Access(database, isExposed(config));
    await access.prepare(config);
    // Computed once a process: here nobody waits for it.
    energyTables();
    // Each image is made once: what libvips remembers of the last ones would only fill the memory.
    sharp.cache(false);
    const pool = startPool(config.workers);
    undo.push(() => pool.close());
    const output = new OutputWorkers();
    undo.push(() => output.close());
    const closing = new AbortController();
    // Trials of several plans wait for it together.
    setMaxListeners(0, closing.signal);
    const context: ServerContext = {
      database,
      store,
      events: new Events(),
      pool,
      log,
      importFiles,
      planner: new Planner(path.join(data, 'models')),
      matcher: new Matcher(data, store.uploads()),
      preflight: new Preflight(() => pool.hold(PRIORITY.check)),
      forecasts: new ForecastCache(pool.workers),
      closing: closing.signal,
      executor: new LocalWorkers(pool, output),
      config,
      access,
      counts: new BatchCounts(database),
      rows: new RowWriter(database),
      masters,
      comparer: new Comparer(),
      movies: new MovieQueue(closing.signal),
    };
    const runner = new Runner(context);
    await runner.recover();
    const packages = new Packages(context);
    const deliveries = new Deliveries(context, packages);
    const server = await listen(createApp(context, runner, packages, deliveries), config);
    await recoverMovies(context, async (batch) =>
      context.events.send(batch.projectId, { type: 'batch', batch: await toBatchReply(context, batch, runner.live(batch)) }),
    );
    await packages.recover();
    await deliveries.recover();
    boundConnections(server);
    runner.wake();
    if (warm) warmImportWorker();
    if (warm) context.planner.warm();
    // Not at once: whoever opens a project wants to see it first.
    const warming = setTimeout(() => warm && context.matcher.warm(), WARM_MS);
    warming.unref();
    const purge = (): void => {
      purgeDeleted(context).then(
        (numbers) =>
          numbers.length > 0 && log.info(`batches ${numbers.join(', ')} were deleted ${DELETED_DAYS} days ago; their files are in the trash`),
        (e: unknown) => log.warn({ err: e }, 'deleted batches could not be cleared'),
      );
    };
    purge();
    const emptying = setInterval(() => {
      purge();
      store.trash.empty().then(
        (days) => days.length > 0 && log.info(`the trash of ${days.join(', ')} is emptied after ${config.trashDays} days`),
        (e: unknown) => log.warn({ err: e }, 'the trash could not be emptied'),
      );
    }, HOUR_MS);
    emptying.unref();
    const actual = (server.address() as AddressInfo).port;
    return {
      url: addressOf(config.address, actual),
      context,
      runner,
      async close() {
        closing.abort();
        clearInterval(emptying);
        clearTimeout(warming);
        await runner.close();
        endReader();
        images.close();
        context.events.close();
        server.closeAllConnections();
        await new Promise((resolve) => server.close(resolve));
        context.matcher.close();
        context.comparer.close();
        await context.preflight.close();
        await context.planner.close();
        await output.close();
        await pool.close();
        await database.close();
        await lock.release();
      },
    };
  } catch (e) {
    for (const act of undo.reverse()) await act();
    throw e;
  }
}
