/** What is sent is compressed where that helps, and nowhere else. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import type { ProjectReply } from '../../contract/contract.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject();
});
afterAll(() => server.end());

/** How the reply to a browser is encoded; its body is not waited for. */
async function encodingOf(route: string): Promise<string | null> {
  const stop = new AbortController();
  const reply = await fetch(`${server.running.url}/api${route}`, { headers: { 'accept-encoding': 'gzip, br' }, signal: stop.signal });
  expect(reply.status).toBe(200);
  stop.abort();
  return reply.headers.get('content-encoding');
}

it('models and the kernel are compressed', async () => {
  for (const route of [`/models/${project.revisions[0]!.hash}/model.glb`, '/kernel.wasm']) expect(await encodingOf(route), route).toBe('br');
});

it('events go out as they come, and a secret of the page is not compressed', async () => {
  expect(await encodingOf(`/events?projects=${project.id}`)).toBeNull();
  expect(await encodingOf('/session')).toBeNull();
  const stop = new AbortController();
  const reply = await fetch(`${server.running.url}/api/events?projects=${project.id}`, {
    headers: { 'accept-encoding': 'gzip, br' },
    signal: stop.signal,
  });
  const reader = reply.body!.getReader();
  server.running.context.events.send(project.id, { type: 'import', projectId: project.id, share: 0.5, what: 'x' });
  // The event is there at once: it does not wait for a block to fill.
  let text = '';
  while (!text.includes('"share":0.5')) text += new TextDecoder().decode((await reader.read()).value);
  expect(text).toContain('"what":"x"');
  stop.abort();
});
