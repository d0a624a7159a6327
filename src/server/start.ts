/** Puts the server together: data folder, database, workers, runner, HTTP. */
import { mkdir } from 'node:fs/promises';
import { type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { pino } from 'pino';
import { endReader, keepReader } from '../engine/node/importModel.js';
import { startPool } from '../engine/node/threads.js';
import { reconcile } from './batch/batches.js';
import { Runner } from './batch/runner.js';
import { type ServerContext } from './context.js';
import { openDatabase } from './db/connection.js';
import { Revision } from './db/models.js';
import { Events } from './events.js';
import { makeApp } from './http/app.js';
import { Store } from './store.js';

export interface ServerOptions {
  data: string;
  port: number;
  /** Address to listen on; this machine alone unless told otherwise. */
  address?: string;
  hosts?: string[];
  workers?: number;
  logLevel?: string;
}

export interface RunningServer {
  url: string;
  context: ServerContext;
  close(): Promise<void>;
}

export async function startServer({
  data,
  port,
  address = '127.0.0.1',
  hosts = [],
  workers,
  logLevel = 'info',
}: ServerOptions): Promise<RunningServer> {
  await mkdir(data, { recursive: true });
  const log = pino({ level: logLevel }, pino.destination(2));
  const store = new Store(data);
  await store.prepare();
  const database = await openDatabase(data);
  const known = await Revision.findAll({ attributes: ['hash'], raw: true });
  await store.sweepModels(new Set(known.map((r) => r.hash)));
  const context: ServerContext = { database, store, events: new Events(), pool: startPool(workers), log };
  await reconcile(context);
  const runner = new Runner(context);
  const app = makeApp(context, runner, hosts);
  const server = await new Promise<Server>((resolve, reject) => {
    // What goes wrong comes to the same callback.
    const s = app.listen(port, address, (e?: NodeJS.ErrnoException) => {
      if (!e) resolve(s);
      else if (e.code === 'EADDRINUSE')
        reject(new Error(`Port ${port} is taken by another program; end it, or start Cold Easel with PORT=${port + 1}.`));
      else reject(e);
    });
  });
  // A connection that is ended just as the other side asks over it again breaks that request. Pages and
  // programs ask every few seconds: five, Node's own time, is too near to that on a busy machine.
  server.keepAliveTimeout = 65_000;
  runner.wake();
  keepReader();
  const actual = (server.address() as AddressInfo).port;
  return {
    url: `http://${address === '127.0.0.1' ? 'localhost' : address}:${actual}`,
    context,
    async close() {
      await runner.close();
      await endReader();
      context.events.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await context.pool.close();
      await database.close();
    },
  };
}
