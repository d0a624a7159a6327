/** Entry of the server. Settings come from the environment: see config.ts. */
import { pino } from 'pino';
import { projectRoot } from '../engine/node/assets.js';
import { readConfig } from './config.js';
import { startServer } from './start.js';

// A last net: whatever nobody waited for is a fault of ours, and no reason to end the batch that runs.
process.on('unhandledRejection', (e) => {
  pino(pino.destination(2)).error({ err: e }, 'an operation failed that nobody waited for');
});

try {
  const config = readConfig(process.env, projectRoot(), process.argv.slice(2));
  const server = await startServer(config);
  // The demo's models are made by code that nobody else needs.
  if (config.demo) await (await import('../../demo/load.js')).loadDemo(server.context);
  process.stdout.write(`Cold Easel is ready: ${server.url}\n`);
  if (config.demo) {
    const { renderFirstLook } = await import('../../demo/firstLook.js');
    renderFirstLook(server.context, server.runner).catch((e: unknown) => server.context.log.warn({ err: e }, 'the first look was not made'));
  }
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      void server.close().finally(() => process.exit(0));
    });
  }
} catch (e) {
  process.stderr.write(`Cold Easel could not start: ${(e as Error).message}\n`);
  process.exit(1);
}
