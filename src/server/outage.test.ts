/** What a batch does while the disk or the database is at fault: it waits, burns no frame, and goes on by itself. */
import { mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { blockObj } from '../../tests/support/box.js';
import { spin } from '../../tests/support/spin.js';
import { until } from '../../tests/support/until.js';
import type { BatchReply } from '../contract/batches.js';
import type { ProjectReply, SetReply } from '../contract/contract.js';
import { connect, DATABASE_FILE } from './db/connection.js';
import { type RunningServer, startServer } from './start.js';

let data: string;
let server: RunningServer | null = null;
beforeEach(() => {
  data = mkdtempSync(path.join(tmpdir(), 'easel-trust-'));
});
afterEach(async () => {
  await server?.close();
  server = null;
  rmSync(data, { recursive: true, force: true });
});

const start = async (): Promise<void> => {
  server = await startServer({ warm: false, data, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0, retrySeconds: 0.1 });
};
const call = () => request(server!.url);
const get = async <T>(route: string): Promise<T> => (await call().get(`/api${route}`)).body as T;

async function importBlock(project: number, name = 'block.obj'): Promise<ProjectReply> {
  const reply = await call()
    .post(`/api/projects/${project}/model`)
    .attach('files', Buffer.from(`# ${name}\n${blockObj().obj}`), name);
  expect(reply.status).toBe(201);
  return reply.body as ProjectReply;
}

/** A project with a model and a set that can be rendered. */
async function ready(frames?: number): Promise<{ project: ProjectReply; set: SetReply }> {
  const made = (await call().post('/api/projects').send({ name: 'Block' })).body as ProjectReply;
  const project = await importBlock(made.id);
  const set = (
    await call()
      .post(`/api/projects/${made.id}/sets`)
      .send({ file: spin(frames) })
  ).body as SetReply;
  return { project, set };
}

const begin = async ({ project, set }: Awaited<ReturnType<typeof ready>>, choice: object = {}): Promise<BatchReply> => {
  const reply = await call()
    .post(`/api/sets/${set.id}/batches`)
    .send({ revision: project.revisions[0]!.id, ...choice });
  expect([reply.status, (reply.body as { detail?: string }).detail]).toEqual([201, undefined]);
  return reply.body as BatchReply;
};

const reached = (id: number, good: (b: BatchReply) => boolean): Promise<BatchReply> => until(() => get<BatchReply>(`/batches/${id}`), good);
const done = (b: BatchReply): boolean => b.state === 'done';

describe('a disk or a database at fault', () => {
  it('holds a batch while the disk has less room than the reserve, and goes on by itself', async () => {
    await start();
    const made = await ready();
    server!.context.config.reserveBytes = Number.MAX_SAFE_INTEGER;
    const { id } = await begin(made);
    const held = await reached(id, (b) => b.state === 'held');
    expect(held.reason).toMatch(
      /are free on the disk .* kept in reserve\. Free some disk space\. Finished frames are kept; the batch resumes by itself\./,
    );
    server!.context.config.reserveBytes = 0;
    expect(await reached(id, done)).toMatchObject({ done: 4, failed: 0, reason: null });
  });

  it('burns no frame on a fault of the disk, whatever its code, and goes on when it is over', async () => {
    await start();
    const made = await ready(12);
    const { store } = server!.context;
    const write = store.write.bind(store);
    for (const code of ['EACCES', 'EROFS', 'EIO', 'ENOSPC', 'EMFILE']) {
      let refused = 0;
      // Each message names another file, so that by their words they would be different faults.
      store.write = (file, bytes) => {
        if (refused < 5 && file.includes('pictures')) {
          refused++;
          return Promise.reject(Object.assign(new Error(`${code}: cannot open '${file}'`), { code }));
        }
        return write(file, bytes);
      };
      const { id } = await begin(made, { anew: true });
      const held = await reached(id, (b) => b.state === 'held');
      expect([code, held.failed, held.reason]).toEqual([code, 0, expect.stringContaining('the batch resumes by itself')]);
      // Whoever does not want to wait tries at once.
      for (let i = 0; i < 3; i++) {
        await call().post(`/api/batches/${id}/resume`);
        await new Promise((r) => setTimeout(r, 150));
      }
      expect([code, await reached(id, done)]).toMatchObject([code, { done: 12, failed: 0 }]);
      expect(refused).toBe(5);
    }
  });

  it('answers 503 with Retry-After while another program locks the database, loses no batch, and goes on', async () => {
    await start();
    const made = await ready();
    const other = connect(path.join(data, DATABASE_FILE));
    await other.query('BEGIN EXCLUSIVE');
    const refused = await call().put(`/api/sets/${made.set.id}`).send({ file: spin(), version: made.set.version });
    expect([refused.status, (refused.body as { code: string }).code, Number(refused.headers['retry-after']) > 0]).toEqual([
      503,
      'database-busy',
      true,
    ]);
    await other.query('ROLLBACK');
    const { id } = await begin(made);
    await reached(id, (b) => b.done >= 1);
    await other.query('BEGIN IMMEDIATE').catch(() => undefined);
    await new Promise((r) => setTimeout(r, 4500));
    await other.query('ROLLBACK').catch(() => undefined);
    await other.close();
    expect(await reached(id, done)).toMatchObject({ done: 4, failed: 0 });
  });

  it('tells of a lock while it lasts, not only when every lane has met it', async () => {
    await start();
    const made = await ready(30);
    const { id } = await begin(made);
    await reached(id, (b) => b.done >= 2);
    const other = connect(path.join(data, DATABASE_FILE));
    for (let i = 0; ; i++) {
      try {
        await other.query('BEGIN IMMEDIATE');
        break;
      } catch (e) {
        if (i > 200) throw e;
      }
    }
    const told = await reached(id, (b) => b.state === 'held');
    expect([told.failed, told.reason]).toEqual([0, expect.stringContaining('locked by another program')]);
    // Nor does it seem to run while it is tried again.
    for (let i = 0; i < 20; i++) {
      expect((await get<BatchReply>(`/batches/${id}`)).state).toBe('held');
      await new Promise((r) => setTimeout(r, 250));
    }
    await other.query('ROLLBACK');
    await other.close();
    expect(await reached(id, done)).toMatchObject({ done: 30, failed: 0 });
  });

  it('renders a frame again whose failure could not be written down', async () => {
    await start();
    const made = await ready(6);
    const { pool, database } = server!.context;
    const render = pool.render.bind(pool);
    const write = database.write.bind(database);
    // The second frame fails, and the disk is full just when that is to be written.
    let refusing = false;
    let [failures, refusals] = [0, 0];
    pool.render = (...args) => {
      if (failures === 0) {
        failures++;
        refusing = true;
        return Promise.reject(new Error('This frame breaks once.'));
      }
      return render(...args);
    };
    database.write = (work) => {
      if (refusing) {
        refusing = false;
        refusals++;
        return Promise.reject(Object.assign(new Error('full'), { code: 'SQLITE_FULL' }));
      }
      return write(work);
    };
    const { id } = await begin(made);
    await reached(id, (b) => b.state === 'held');
    await call().post(`/api/batches/${id}/resume`);
    expect(await reached(id, done)).toMatchObject({ done: 6, failed: 0 });
    expect([failures, refusals]).toEqual([1, 1]);
  });

  it('survives the data folder being taken away and put back', async () => {
    await start();
    const made = await ready(30);
    const { id } = await begin(made);
    await reached(id, (b) => b.done >= 2);
    renameSync(data, `${data}-away`);
    await new Promise((r) => setTimeout(r, 400));
    expect((await call().get('/api/health')).status).toBe(200);
    const refused = await call().put(`/api/sets/${made.set.id}`).send({ file: spin(), version: made.set.version });
    expect((refused.body as { code: string }).code).toBe('storage-unavailable');
    rmSync(data, { recursive: true, force: true });
    renameSync(`${data}-away`, data);
    await call().post(`/api/batches/${id}/resume`);
    expect(await reached(id, done)).toMatchObject({ done: 30, failed: 0 });
  });

  it('leaves no part of a file whose writing failed', async () => {
    await start();
    const { store } = server!.context;
    mkdirSync(path.join(data, 'pictures', 'folder.png'));
    await expect(store.write(path.join(data, 'pictures', 'folder.png'), 'text')).rejects.toThrow();
    expect(readdirSync(path.join(data, 'pictures'))).toEqual(['folder.png']);
  });
});
