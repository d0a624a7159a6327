/** Entry of the server. Settings come from the environment: PORT, COLD_EASEL_DATA, COLD_EASEL_ADDRESS, COLD_EASEL_HOSTS, COLD_EASEL_DEMO. */
import path from 'node:path';
import { loadDemo } from '../../demo/load.js';
import { projectRoot } from '../engine/node/assets.js';
import { startServer } from './start.js';

const { env } = process;

try {
  const server = await startServer({
    data: path.resolve(env.COLD_EASEL_DATA ?? path.join(projectRoot(), 'data')),
    port: Number(env.PORT ?? 4870),
    ...(env.COLD_EASEL_ADDRESS && { address: env.COLD_EASEL_ADDRESS }),
    hosts: (env.COLD_EASEL_HOSTS ?? '').split(',').filter(Boolean),
    logLevel: env.COLD_EASEL_LOG ?? 'info',
  });
  if (env.COLD_EASEL_DEMO) await loadDemo(server.context);
  process.stdout.write(`Cold Easel is ready: ${server.url}\n`);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      void server.close().then(() => process.exit(0));
    });
  }
} catch (e) {
  process.stderr.write(`Cold Easel could not start: ${(e as Error).message}\n`);
  process.exit(1);
}
