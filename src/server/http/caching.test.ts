/** What a browser kept of one data folder must not be shown for another under the same address. */
import { longTest } from '../../../tests/support/long.js';
import sharp from 'sharp';
import request from 'supertest';
import { afterAll, expect, it } from 'vitest';
import { TestServer } from '../../../tests/support/server.js';
import { spin } from '../../../tests/support/spin.js';
import { blockObj } from '../../../tests/support/box.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';

const servers: TestServer[] = [];
afterAll(async () => {
  for (const s of servers) await s.end();
});

/** A server on a data folder of its own, whose model is as many times as large. */
async function started(port: number, scale: number): Promise<TestServer> {
  const server = new TestServer(port, { COLD_EASEL_LOG: 'silent' });
  servers.push(server);
  await server.start();
  const { id } = await server.send<ProjectReply>('POST', '/projects', { name: `Scaled by ${scale}` });
  const form = new FormData();
  const text = blockObj().obj.replace(/^v .*$/gm, (line) => line.replace(/-?[\d.]+/g, (n) => String((Number(n) * scale) / 1000)));
  form.append('files', new Blob([text]), 'block.obj');
  expect((await fetch(`${server.url}/api/projects/${id}/model`, { method: 'POST', body: form })).status).toBe(201);
  await server.send<SetReply>('POST', `/projects/${id}/sets`, { file: spin() });
  return server;
}

longTest('another data folder under the same address is shown as it is, whatever the browser kept', async () => {
  const routes = ['/projects', '/projects/1', '/sets/2', '/revisions/1/parts', '/sets/2/thumbnail?revision=1&shot=spin&index=0&width=96'];
  const first = await started(0, 1);
  const port = Number(new URL(first.url).port);
  const kept = new Map<string, { tag: string }>();
  for (const route of routes) {
    const reply = await fetch(`${first.url}/api${route}`);
    expect([route, reply.status, reply.headers.get('cache-control')]).toEqual([route, 200, expect.stringContaining('no-cache')]);
    kept.set(route, { tag: reply.headers.get('etag')! });
    // Unchanged, it is not sent again.
    expect((await request(first.url).get(`/api${route}`).set('if-none-match', kept.get(route)!.tag)).status).toBe(304);
  }
  const [project] = (await first.get<ProjectReply[]>('/projects')) as [ProjectReply];
  const model = `/models/${project.revisions[0]!.hash}/model.glb`;
  expect((await fetch(`${first.url}/api${model}`)).headers.get('cache-control')).toContain('immutable');
  await first.kill();

  const second = await started(port, 2);
  expect(second.url).toBe(first.url);
  // Sets hold the same file, so that they may be the same; all that comes of the model is another.
  for (const route of routes.filter((r) => !r.startsWith('/sets/2') || r.includes('thumbnail'))) {
    const reply = await request(second.url).get(`/api${route}`).set('if-none-match', kept.get(route)!.tag);
    expect([route, reply.status, reply.headers.etag === kept.get(route)!.tag]).toEqual([route, 200, false]);
  }
  // The address of a model is its content: what was kept under it is never asked for by pages of the other folder.
  const [other] = (await second.get<ProjectReply[]>('/projects')) as [ProjectReply];
  expect(other.revisions[0]!.hash).not.toBe(project.revisions[0]!.hash);
  expect((await fetch(`${second.url}/api${model}`)).status).toBe(404);
});

it('has something to see of a small frame soon, and all of it once it is drawn', async () => {
  const { url } = await started(0, 1);
  const small = async (query: string): Promise<[number, boolean]> => {
    const reply = await fetch(`${url}/api/sets/2/thumbnail?revision=1&shot=spin&index=3&width=320${query}`);
    return [(await sharp(await reply.arrayBuffer()).metadata()).width, reply.headers.get('cache-control') === 'no-store'];
  };
  // What stands in for it is not kept under its name.
  expect(await small('&soon=1')).toEqual([96, true]);
  expect(await small('')).toEqual([320, false]);
  expect(await small('&soon=1')).toEqual([320, false]);
});
