/** What must not be lost, whatever happens to the disk, the database, or the files beside it. */
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { blockObj } from '../../tests/support/box.js';
import { spin } from '../../tests/support/spin.js';
import { until } from '../../tests/support/until.js';
import type { BatchReply, FrameReply } from '../contract/batches.js';
import type { ProjectReply, SetReply } from '../contract/contract.js';
import type { SetFile } from '../core/plan/set.js';
import { connect, DATABASE_FILE } from './db/connection.js';
import { Batch, PlanSet, Revision } from './db/models.js';
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
  server = await startServer({ warm: false, data, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0 });
};
const stop = async (): Promise<void> => {
  await server!.close();
  server = null;
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

const begin = async ({ project, set }: Awaited<ReturnType<typeof ready>>): Promise<BatchReply> => {
  const reply = await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id });
  expect([reply.status, (reply.body as { detail?: string }).detail]).toEqual([201, undefined]);
  return reply.body as BatchReply;
};

const reached = (id: number, good: (b: BatchReply) => boolean): Promise<BatchReply> => until(() => get<BatchReply>(`/batches/${id}`), good);
const done = (b: BatchReply): boolean => b.state === 'done';
const models = (): string[] => readdirSync(path.join(data, 'models')).sort();

describe('models that the database does not name', () => {
  const database = (): string => path.join(data, DATABASE_FILE);

  it('are all there when the database was away and is put back', async () => {
    await start();
    await ready();
    const before = models();
    await stop();
    for (const suffix of ['', '-wal', '-shm']) if (existsSync(database() + suffix)) renameSync(database() + suffix, `${database()}${suffix}.away`);
    await start();
    expect(await get<ProjectReply[]>('/projects')).toEqual([]);
    expect(models()).toEqual(before);
    await stop();
    for (const suffix of ['', '-wal', '-shm']) {
      rmSync(database() + suffix, { force: true });
      if (existsSync(`${database()}${suffix}.away`)) renameSync(`${database()}${suffix}.away`, database() + suffix);
    }
    await start();
    const [project] = await get<ProjectReply[]>('/projects');
    expect((await call().get(`/api/models/${project!.revisions[0]!.hash}/model.glb`)).status).toBe(200);
  });

  it('come back from the trash when an older copy of the database was replaced by the later one', async () => {
    await start();
    const { project } = await ready();
    await importBlock(project.id, 'second.obj');
    await stop();
    const copy = path.join(data, 'older.sqlite');
    copyFileSync(database(), copy);
    await start();
    const larger = (
      await call()
        .post(`/api/projects/${project.id}/model`)
        .attach('files', Buffer.from(blockObj().obj.replace(/^v (\S+)/gm, (_, x: string) => `v ${1.5 * Number(x)}`)), 'larger.obj')
    ).body as ProjectReply;
    const { hash } = larger.revisions.at(-1)!;
    await stop();
    const later = path.join(data, 'later.sqlite');
    renameSync(database(), later);
    copyFileSync(copy, database());
    await start();
    // One of two models is not named: it is moved, not deleted.
    expect(models()).not.toContain(`${hash}.glb`);
    const [day] = readdirSync(path.join(data, 'trash'));
    expect(readdirSync(path.join(data, 'trash', day!, 'models'))).toContain(`${hash}.glb`);
    await stop();
    copyFileSync(later, database());
    await start();
    expect(models()).toContain(`${hash}.glb`);
    expect((await call().get(`/api/models/${hash}/scene`)).status).toBe(200);
  });

  it('are kept as they were uploaded, once, and within the budget', async () => {
    await start();
    const { project } = await ready();
    const text = `# block.obj\n${blockObj().obj}`;
    expect(project.revisions[0]!.originals).toEqual([{ name: 'block.obj', bytes: text.length }]);
    const original = await call().get(`/api/revisions/${project.revisions[0]!.id}/original`).buffer();
    expect(original.headers['content-disposition']).toContain('block.obj');
    expect(String(original.text ?? original.body)).toBe(text);
    const again = await importBlock(project.id);
    expect(again.revisions[1]!.originals).toHaveLength(1);
    expect(readdirSync(path.join(data, 'originals'))).toHaveLength(1);
    (server!.context.store as { originalsBytes: number }).originalsBytes = 10;
    const full = await importBlock(project.id, 'other.obj');
    expect(full.revisions[2]).toMatchObject({
      originals: [],
      warnings: expect.arrayContaining([expect.stringContaining('was not kept')]) as string[],
    });
  });

  it('that lose their compiled scene get it back from their GLB, with the same bytes', async () => {
    await start();
    const made = await ready();
    const { hash } = made.project.revisions[0]!;
    const scene = path.join(data, 'models', `${hash}.scene`);
    const before = readFileSync(scene);
    rmSync(scene);
    await reached((await begin(made)).id, done);
    expect(readFileSync(scene).equals(before)).toBe(true);
  });
});

describe('one unreadable row', () => {
  it.each([
    ['of a later version', (f: SetFile) => JSON.stringify({ ...f, version: 99 }), 'is of version 99'],
    ['with an unknown key', (f: SetFile) => JSON.stringify({ ...f, colour: 1 }), 'colour: this key is not known'],
    ['that is no JSON', (f: SetFile) => JSON.stringify(f).slice(0, 40), 'not valid JSON'],
  ])('a set %s is marked, exported as it is, and harms no other', async (_, spoil, reason) => {
    await start();
    const made = await ready();
    const text = spoil(spin());
    await PlanSet.update({ file: text }, { where: { id: made.set.id } });
    const [project] = await get<ProjectReply[]>('/projects');
    expect(project!.sets.map((s) => s.problem === undefined)).toEqual([true, false]);
    expect(project!.sets[1]!.problem).toContain(reason);
    const opened = await call().get(`/api/sets/${made.set.id}`);
    expect([opened.status, (opened.body as { detail: string }).detail]).toEqual([422, expect.stringContaining(reason)]);
    const exported = await fetch(`${server!.url}/api/sets/${made.set.id}/export`);
    expect(await exported.text()).toBe(text);
    // A new revision is imported all the same, and says what was not carried over.
    const later = await importBlock(made.project.id, 'later.obj');
    expect(later.revisions[1]!.warnings.join()).toContain('was not carried over');
  });

  it('a queued batch with an unreadable plan is held with the reason, and the next one runs', async () => {
    await start();
    const made = await ready();
    const blocked = await begin(made);
    await reached(blocked.id, done);
    await stop();
    const sequelize = connect(path.join(data, DATABASE_FILE));
    await sequelize.query(
      `UPDATE batches SET state = 'queued', digest = NULL, plan = '{"set":{"format":"cold-easel.set","version":99}}' WHERE id = ${blocked.id}`,
    );
    await sequelize.close();
    await start();
    const next = await begin(made);
    expect(await reached(next.id, done)).toMatchObject({ done: 4 });
    const held = await get<BatchReply>(`/batches/${blocked.id}`);
    expect([held.state, held.reason]).toEqual(['held', expect.stringContaining('The plan of batch 1 cannot be read')]);
    expect((await get<BatchReply[]>('/batches')).map((b) => b.id)).toEqual([next.id, blocked.id]);
    expect(await Batch.count({ where: { state: 'held' } })).toBe(1);
  });

  it('a revision whose summary cannot be read is marked', async () => {
    await start();
    const made = await ready();
    await Revision.update({ digest: null, summary: '{"parts":' }, { where: { projectId: made.project.id } });
    const project = await get<ProjectReply>(`/projects/${made.project.id}`);
    expect(project.revisions[0]!.problem).toContain('Import its file again');
    expect((await call().get(`/api/revisions/${project.revisions[0]!.id}/parts`)).status).toBe(422);
    expect(await get<ProjectReply[]>('/projects')).toHaveLength(1);
  });
});

describe('the folder of a batch', () => {
  it('that a kill left empty is taken over, and one with files in it is pointed out', async () => {
    await start();
    const made = await ready();
    mkdirSync(path.join(data, 'pictures', '0001-Spin'));
    const first = await begin(made);
    expect(await reached(first.id, done)).toMatchObject({ number: 1 });
    mkdirSync(path.join(data, 'pictures', '0002-Spin'));
    writeFileSync(path.join(data, 'pictures', '0002-Spin', 'mine.png'), 'mine');
    const refused = await call().post(`/api/sets/${made.set.id}/batches`).send({ revision: made.project.revisions[0]!.id });
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([409, expect.stringContaining('has files in it already')]);
    expect(readFileSync(path.join(data, 'pictures', '0002-Spin', 'mine.png'), 'utf8')).toBe('mine');
    rmSync(path.join(data, 'pictures', '0002-Spin'), { recursive: true });
    await reached((await begin(made)).id, done);
  });

  it('is one batch’s own, also where several are started at once', async () => {
    await start();
    const made = await ready();
    const batches = await Promise.all([begin(made), begin(made), begin(made)]);
    expect(batches.map((b) => b.number).sort()).toEqual([1, 2, 3]);
    for (const b of batches) await reached(b.id, done);
  });
});

describe('finished files', () => {
  it('that are gone or changed are found, marked and rendered again to the same bytes', async () => {
    await start();
    const made = await ready();
    const batch = await reached((await begin(made)).id, done);
    const frames = await get<FrameReply[]>(`/batches/${batch.id}/frames`);
    const files = frames.map((f) => path.join(batch.folder, f.files[0]!));
    const before = files.map((f) => readFileSync(f));
    rmSync(files[0]!);
    truncateSync(files[1]!, 30);
    const flipped = Buffer.from(before[2]!);
    flipped[60]! ^= 1;
    writeFileSync(files[2]!, flipped);
    // Lengths are looked at when the frames are; bytes when that is asked for.
    await get(`/batches/${batch.id}/frames`);
    await reached(batch.id, (b) => b.damaged === 2);
    expect((await call().post(`/api/batches/${batch.id}/verify`)).body).toEqual({ files: 4, missing: 1, changed: 2 });
    expect((await get<FrameReply[]>(`/batches/${batch.id}/frames`)).map((f) => f.damage)).toEqual(['missing', 'changed', 'changed', undefined]);
    const lost = await call().get(`/api/batches/${batch.id}/frames/${frames[0]!.id}/picture`);
    expect([lost.status, (lost.body as { detail: string }).detail]).toEqual([404, expect.stringContaining('is missing')]);
    await call().post(`/api/batches/${batch.id}/render-damaged`);
    await reached(batch.id, (b) => done(b) && b.damaged === 0);
    files.forEach((f, i) => expect(readFileSync(f).equals(before[i]!)).toBe(true));
    const none = await call().post(`/api/batches/${batch.id}/render-damaged`);
    expect(none.status).toBe(409);
  });
});

describe('two servers', () => {
  it('do not work on one folder', async () => {
    await start();
    await expect(startServer({ warm: false, data, port: 0, workers: 1, logLevel: 'silent' })).rejects.toThrow(/is in use by process/);
    expect((await call().get('/api/health')).status).toBe(200);
    await stop();
    await start();
  });
});
