/** What people send: read in processes of their own, within limits, and gone when it was refused. */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blockObj } from '../../tests/support/box.js';
import type { ProjectReply } from '../contract/contract.js';
import { ImageReader } from '../engine/node/imageReader.js';
import { importModel } from '../engine/node/importModel.js';
import { type RunningServer, startServer } from './start.js';

const data = mkdtempSync(path.join(tmpdir(), 'easel-uploads-'));
let server: RunningServer;
beforeAll(async () => {
  server = await startServer({ warm: false, data, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0 });
});
afterAll(async () => {
  await server.close();
  rmSync(data, { recursive: true, force: true });
});
const send = (route: string, bytes: Buffer, name: string) => request(server.url).post(`/api${route}`).attach('files', bytes, name);
const leftovers = (): string[] => ['uploads', 'textures', 'environments'].flatMap((f) => readdirSync(path.join(data, f)));

describe('images', () => {
  it.each([
    // Eleven bytes were enough to stop the server for ever.
    ['an EXR of eleven bytes', '/environments', Buffer.from([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0, 65, 66, 67]), 'sky.exr', 422],
    ['a HDR that declares half a gigapixel', '/environments', Buffer.from('#?RADIANCE\n\n-Y 16384 +X 32767\n'), 'sky.hdr', 422],
    ['a picture of another type', '/environments', Buffer.from('GIF89a'), 'sky.gif', 415],
    ['an SVG', '/textures', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'), 'wood.svg', 415],
    ['an SVG that says it is a PNG', '/textures', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'), 'wood.png', 422],
    ['an empty file', '/textures', Buffer.alloc(0), 'wood.png', 422],
  ])('%s is refused with a sentence and leaves nothing', async (_, route, bytes, name, status) => {
    const reply = await send(route, bytes, name);
    const { detail } = reply.body as { detail: string };
    expect([reply.status, detail]).toEqual([status, expect.stringContaining(name)]);
    expect(leftovers()).toEqual([]);
    expect((await request(server.url).get('/api/health')).status).toBe(200);
  });

  it('of sound types are kept by their content, once', async () => {
    const png = await sharp({ create: { width: 8, height: 4, channels: 3, background: '#a62c49' } })
      .png()
      .toBuffer();
    const [one, two] = [await send('/textures', png, 'wood.png'), await send('/textures', png, 'again.png')];
    expect([one.status, two.status, one.body]).toEqual([201, 201, two.body]);
    expect(one.body).toMatchObject({ width: 8, height: 4 });
    expect(readdirSync(path.join(data, 'textures'))).toHaveLength(1);
    expect(readdirSync(path.join(data, 'uploads'))).toEqual([]);
  });

  it('that take too long end with a sentence, and the next one is read', async () => {
    const png = await sharp({ create: { width: 8, height: 4, channels: 3, background: '#a62c49' } })
      .png()
      .toBuffer();
    const file = path.join(data, 'uploads', 'one');
    await sharp(png).toFile(`${file}.png`);
    const reader = new ImageReader(1);
    await expect(reader.read({ kind: 'texture', name: 'slow.png', path: `${file}.png` })).rejects.toThrow('"slow.png" was given up. It took longer');
    reader.close();
    const patient = new ImageReader();
    expect(await patient.read({ kind: 'texture', name: 'slow.png', path: `${file}.png` })).toEqual({ width: 8, height: 4 });
    patient.close();
    rmSync(`${file}.png`);
  });
});

describe('models', () => {
  const block = { name: 'block.obj', bytes: new TextEncoder().encode(blockObj().obj) };
  const options = { unit: 'm', up: 'y' } as const;

  it('that take too much memory or time, or are not waited for, end with a sentence of their own', async () => {
    await expect(importModel([block], options, { bytes: 1 })).rejects.toThrow(/"block\.obj" needs more than 0\.00 GB of memory/);
    await expect(importModel([block], options, { stallSeconds: 0 })).rejects.toThrow('made no progress');
    const stop = new AbortController();
    const reading = importModel([block], options, { signal: stop.signal });
    stop.abort();
    await expect(reading).rejects.toThrow('Reading "block.obj" was stopped. Nothing was changed.');
    expect((await importModel([block], options)).summary.triangles).toBeGreaterThan(0);
  });

  it('come in two at a time, each whole, also where they are the same file', async () => {
    const { id } = (await request(server.url).post('/api/projects').send({ name: 'Many' })).body as ProjectReply;
    const replies = await Promise.all(Array.from({ length: 5 }, () => send(`/projects/${id}/model`, Buffer.from(block.bytes), 'block.obj')));
    expect(replies.map((r) => r.status)).toEqual([201, 201, 201, 201, 201]);
    const project = (await request(server.url).get(`/api/projects/${id}`)).body as ProjectReply;
    expect(project.revisions.map((r) => r.letter)).toEqual(['A', 'B', 'C', 'D', 'E']);
    expect(new Set(project.revisions.map((r) => r.hash)).size).toBe(1);
    expect(readdirSync(path.join(data, 'uploads'))).toEqual([]);
  });

  it('at coordinates that nothing stands at are refused', async () => {
    const { id } = (await request(server.url).post('/api/projects').send({ name: 'Far' })).body as ProjectReply;
    const far = await send(`/projects/${id}/model`, Buffer.from('v 0 0 0\nv 1e38 0 0\nv 0 1e38 0\nf 1 2 3\n'), 'far.obj');
    expect([far.status, (far.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('from the origin; 1e+8 m is the most')]);
    expect(readdirSync(path.join(data, 'uploads'))).toEqual([]);
  });
});
