/** What all runs of kills have: the instants, and what is left behind. */
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import type { BatchReply } from '../../src/contract/batches.js';
import type { TestServer } from '../support/server.js';
import { rest, until } from './tinyBatch.js';

/** Park and Miller, "Random number generators: good ones are hard to find", 1988: the same instants in every run, as far as the machine allows. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

export const roll = dice(20261127);

/** Lets a server live for so long, or until it is ready and then so long, and kills it. */
export async function startAndKill(server: TestServer, ms: number): Promise<void> {
  const started = server.start().catch(() => undefined);
  await rest(ms);
  await server.kill();
  await started;
}

/** Files that nothing should leave behind, outside the trash. */
export function leftovers(data: string): string[] {
  const found = readdirSync(path.join(data, 'uploads')).map((f) => `uploads/${f}`);
  for (const folder of ['models', 'pictures', 'originals', 'textures', 'environments', 'thumbnails', 'checkpoints', 'masters'])
    if (existsSync(path.join(data, folder)))
      for (const name of readdirSync(path.join(data, folder), { recursive: true }).map(String))
        if (name.endsWith('.part')) found.push(`${folder}/${name}`);
  return found;
}

export const isDone =
  (server: TestServer) =>
  (id: number): Promise<BatchReply> =>
    until(
      () => server.get<BatchReply>(`/batches/${id}`),
      (b) => b.state === 'done',
    );
