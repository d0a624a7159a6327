/** What is refused, and how that is told. */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import { type RunningServer, startServer } from '../start.js';

const data = mkdtempSync(path.join(tmpdir(), 'easel-problems-'));
let server: RunningServer;
beforeAll(async () => {
  server = await startServer({ warm: false, data, port: 0, workers: 2, logLevel: 'silent' });
});
afterAll(async () => {
  await server.close();
  rmSync(data, { recursive: true, force: true });
});
const call = () => request(server.url);

describe('the guard', () => {
  it('refuses foreign names and foreign pages', async () => {
    expect((await call().get('/api/health').set('Host', 'evil.example')).status).toBe(403);
    expect((await call().get('/api/projects').set('Origin', 'http://evil.example')).status).toBe(403);
    const { status, body, headers } = await call().get('/api/health');
    expect([status, body]).toEqual([200, { ok: true, workers: 2, longestBlockMs: expect.any(Number) as number }]);
    expect(headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
    expect(headers['content-security-policy']).not.toContain('upgrade-insecure-requests');
  });
});

describe('problems', () => {
  it.each([
    ['get', '/api/projects/999', 404, 'Project 999 does not exist'],
    ['get', '/api/projects/abc', 400, '"abc" is not the number of a project'],
    ['get', '/api/sets/1e99', 400, '"1e99" is not the number of a set'],
    ['get', '/api/sets/1/thumbnail?revision=x', 404, 'Set 1 does not exist'],
    ['get', '/api/batches?project=%00', 400, 'the character NUL'],
    ['get', '/api/textures/..%2f..%2fetc', 404, 'is not here'],
    ['get', '/api/textures/%E0%A4%A', 400, 'malformed'],
    ['get', '/api/nothing', 404, 'There is no GET'],
    ['post', '/api/projects', 400, 'name'],
  ] as const)('%s %s is %i', async (method, route, status, detail) => {
    const reply = await (method === 'post' ? call().post(route).send({}) : call().get(route));
    expect(reply.status).toBe(status);
    expect(reply.headers['content-type']).toContain('application/problem+json');
    expect((reply.body as { detail: string }).detail).toContain(detail);
    expect((reply.body as { remedy: string }).remedy).toMatch(/^[A-Z].*\.$/);
  });

  it('of a long set file are the same as of a short one, and the file is read beside the event loop', async () => {
    const project = ((await call().post('/api/projects').send({ name: 'Long' })).body as ProjectReply).id;
    const file = (shots: number, frames: unknown = 8) => ({
      format: 'cold-easel.set',
      version: 2,
      name: 'Long',
      views: [{ id: 'v', name: 'V', eye: [1, 1, 1], target: [0, 0, 0] }],
      shots: Array.from({ length: shots }, (_, i) => ({
        id: `s${i}`,
        kind: 'turntable',
        view: 'v',
        frames,
        name: `Turntable number ${i}, ${'x'.repeat(30)}`,
      })),
    });
    const beside = vi.spyOn(server.context.planner, 'readSet');
    const replies = [];
    for (const shots of [2, 400]) {
      const made = await call()
        .post(`/api/projects/${project}/sets`)
        .send({ file: file(shots) });
      const { id, version, file: kept } = made.body as SetReply;
      expect([made.status, kept.shots.length, JSON.stringify(kept).length > 32 * 1024]).toEqual([201, shots, shots === 400]);
      expect(((await call().get(`/api/sets/${id}`)).body as SetReply).file).toEqual(kept);
      const saved = await call().put(`/api/sets/${id}`).send({ file: kept, version });
      expect([saved.status, (saved.body as SetReply).version]).toEqual([200, version + 1]);
      const refused = [
        await call()
          .put(`/api/sets/${id}`)
          .send({ file: file(shots, 'many'), version: version + 1 }),
        await call()
          .put(`/api/sets/${id}`)
          .set('content-type', 'application/json')
          .send(`${JSON.stringify({ file: kept })}x`),
        await call().put(`/api/sets/${id}`).send({ file: kept, version }),
      ];
      replies.push(refused.map((r) => [r.status, (r.body as { detail: string }).detail.split('\n')[0]]));
    }
    // Read when it was made, fetched, saved, refused twice and in conflict once; the short one never.
    expect(beside.mock.calls.map(([kind]) => kind)).toEqual(['new', 'stored', 'save', 'save', 'save', 'save']);
    expect(replies[1]).toEqual(replies[0]);
    expect(replies[0]!.map(([status]) => status)).toEqual([400, 400, 409]);
    // Two hundred thousand values that are none.
    const bad = await call()
      .post(`/api/projects/${project}/sets`)
      .set('content-type', 'application/json')
      .send(`{"file":{"views":[${'{},'.repeat(200_000)}{}]}}`);
    expect([bad.status, beside.mock.calls.length]).toEqual([400, 7]);
    beside.mockRestore();
    const long = await call()
      .post('/api/projects')
      .send({ name: 'x'.repeat(1_100_000) });
    expect([long.status, (long.body as { detail: string }).detail]).toEqual([413, 'The body is larger than 1 MB.']);
  });

  it.each([
    ['a body that is not JSON', 'application/json', '{"name": ', 400, 'not valid JSON'],
    ['a body of another type', 'text/plain', 'name=a', 415, 'application/json'],
    ['a name with a NUL', 'application/json', JSON.stringify({ name: 'a\u0000b' }), 400, 'the character NUL'],
    ['a body without an object', 'application/json', '[]', 400, 'give an object'],
  ])('%s is refused', async (_, type, text, status, detail) => {
    const reply = await call().post('/api/projects').set('content-type', type).send(text);
    expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([status, expect.stringContaining(detail)]);
  });

  it('a malformed form is refused, and one with a file in another field', async () => {
    const { id } = (await call().post('/api/projects').send({ name: 'Forms' })).body as ProjectReply;
    const torn = await call()
      .post(`/api/projects/${id}/model`)
      .set('content-type', 'multipart/form-data; boundary=x')
      .send('--x\r\nContent-Disposition: form-data; name="files"; filename="a.glb"\r\n\r\nabc');
    expect([torn.status, (torn.body as { detail: string }).detail]).toEqual([400, 'The form is malformed.']);
    const other = await call().post(`/api/projects/${id}/model`).attach('model', Buffer.from('abc'), 'a.glb');
    expect([other.status, (other.body as { detail: string }).detail]).toEqual([400, expect.stringContaining('the field "files"')]);
    expect(readdirSync(path.join(data, 'uploads'))).toEqual([]);
  });
});
