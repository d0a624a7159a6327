/** A batch answers for itself alone: what is asked of one waits for none that runs after it. */
import { executorLike } from '../../../tests/support/executors.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply } from '../../contract/batches.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { Executor } from '../executor/executor.js';

const server = new ServerHere();
beforeEach(() => server.start());
afterEach(() => server.end());

const call = () => server.call();

/** Frames that never end unless they are stopped. */
function neverDone(executor: Executor): Executor {
  const render: Executor['render'] = (_frame, _from, { signal }) =>
    new Promise((_, reject) => {
      if (signal?.aborted) reject(new AbortedError());
      signal?.addEventListener('abort', () => reject(new AbortedError()));
    });
  return executorLike(executor, { render });
}

async function startTwo(): Promise<[number, number]> {
  const project = await server.blockProject();
  const set = await server.addSet(project, spin(4));
  const begin = async (): Promise<number> =>
    ((await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply).id;
  return [await begin(), await begin()];
}

const reached = (id: number, state: string): Promise<BatchReply> =>
  until(
    async () => (await call().get(`/api/batches/${id}`)).body as BatchReply,
    (b) => b.state === state,
  );

describe('what is asked of a batch', () => {
  it.each(['stop', 'pause'])('%s is answered though the next one never ends', async (what) => {
    server.running.context.executor = neverDone(server.running.context.executor);
    const [first, second] = await startTwo();
    await reached(first, 'running');
    const reply = await call().post(`/api/batches/${first}/${what}`);
    expect([reply.status, (reply.body as BatchReply).state]).toEqual([200, what === 'stop' ? 'stopped' : 'paused']);
    await reached(second, 'running');
    const again = await call().post(`/api/batches/${second}/stop`);
    expect([again.status, (again.body as BatchReply).state]).toEqual([200, 'stopped']);
  });
});
