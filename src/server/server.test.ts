import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { asBuffer } from '../../tests/support/asBuffer.js';
import { ternGlb } from '../../tests/support/box.js';
import { until } from '../../tests/support/until.js';
import type { BatchReply, FrameReply } from '../contract/batches.js';
import type { ProjectReply, SetReply } from '../contract/contract.js';
import { withShot, withView } from '../core/edit/editSet.js';
import { formatSheetSchema } from '../core/plan/formatSheet.js';
import { emptySet, type SetFile } from '../core/plan/set.js';
import { type RunningServer, startServer } from './start.js';

const data = mkdtempSync(path.join(tmpdir(), 'easel-server-'));
let server: RunningServer;
beforeAll(async () => {
  server = await startServer({ warm: false, data, port: 0, workers: 2, logLevel: 'silent' });
});
afterAll(async () => {
  await server.close();
  rmSync(data, { recursive: true, force: true });
});
const call = () => request(server.url);

function review(): SetFile {
  let set = emptySet('Quick look');
  set.sheet = formatSheetSchema.parse({ ...set.sheet, size: { width: 64, height: 36 }, quality: { samples: 2 } });
  set = withView(set, { id: 'v', name: 'View', kind: 'perspective', eye: [0.8, 0.4, 1], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false });
  return withShot(set, {
    id: 'spin',
    kind: 'turntable',
    view: 'v',
    frames: 6,
    degrees: 360,
    start: 0,
    direction: 'clockwise',
    turns: ['subject'],
    pivot: 'centre',
    thereAndBack: false,
    ease: false,
  });
}

const batchOf = async (id: number): Promise<BatchReply> => (await call().get(`/api/batches/${id}`)).body as BatchReply;
const ended = (id: number): Promise<BatchReply> =>
  until(
    () => batchOf(id),
    ({ state }) => !['queued', 'running'].includes(state),
  );

it('holds idle connections for longer than pages and programs wait between two questions', async () => {
  const { headers } = await call().get('/api/projects').set('connection', 'keep-alive');
  expect(Number(/timeout=(\d+)/.exec(headers['keep-alive'] as string)![1])).toBeGreaterThan(30);
});

describe('from a model to a movie', () => {
  let project: ProjectReply;
  let set: SetReply;

  it('keeps nothing of a broken upload', async () => {
    project = (await call().post('/api/projects').send({ name: 'Lamp' })).body as ProjectReply;
    const broken = await call()
      .post(`/api/projects/${project.id}/model`)
      .attach('files', (await ternGlb()).subarray(0, 5000), 'tern.glb');
    expect([broken.status, (broken.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('"tern.glb" is cut short')]);
    const empty = await call().post(`/api/projects/${project.id}/model`);
    expect(empty.status).toBe(422);
    expect(((await call().get(`/api/projects/${project.id}`)).body as ProjectReply).revisions).toEqual([]);
    for (const folder of ['uploads', 'models']) expect(readdirSync(path.join(data, folder))).toEqual([]);
  });

  it('takes a model and saves a set, once per version', async () => {
    const reply = await call()
      .post(`/api/projects/${project.id}/model`)
      .attach('files', await ternGlb(), 'tern.glb');
    project = reply.body as ProjectReply;
    expect(project.revisions[0]).toMatchObject({ letter: 'A', partCount: 31, triangles: 22_736 });
    set = (await call().get(`/api/sets/${project.sets[0]!.id}`)).body as SetReply;
    const saved = await call().put(`/api/sets/${set.id}`).send({ file: review(), version: set.version });
    expect(saved.status).toBe(200);
    const stale = await call().put(`/api/sets/${set.id}`).send({ file: review(), version: set.version });
    expect(stale.status).toBe(409);
    const wrong = await call()
      .put(`/api/sets/${set.id}`)
      .send({ file: { ...review(), colour: 1 }, version: set.version + 1 });
    expect((wrong.body as { detail: string }).detail).toContain('colour: this key is not known here');
  });

  it('renders, makes a movie, and a second batch keeps off the first', async () => {
    const start = async () => (await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply;
    const first = await ended((await start()).id);
    // It says when it was done, and that is not before it was started.
    expect(Date.parse(first.ended!)).toBeGreaterThanOrEqual(Date.parse(first.created));
    expect(first).toMatchObject({ state: 'done', done: 6, failed: 0, number: 1 });
    const second = await ended((await start()).id);
    expect(second.folder).not.toBe(first.folder);
    const names = (folder: string) =>
      readdirSync(folder, { recursive: true })
        .map(String)
        .filter((f) => f.endsWith('.png'))
        .sort();
    expect(names(first.folder)).toEqual(names(second.folder));
    expect(names(first.folder)).toHaveLength(6);
    const clip = await call().post(`/api/batches/${first.id}/clips`).send({ shot: 'spin' });
    expect(clip.status).toBe(201);
    const { clips } = await until(
      () => batchOf(first.id),
      (b) => b.clips[0]!.state !== 'making',
    );
    expect(clips[0]).toMatchObject({ state: 'ready', fileName: 'Quick-look/spin/spin_beauty.mp4' });
    const movie = await call().get('/api/clips/1/movie');
    expect([movie.status, movie.headers['content-type']]).toEqual([200, 'video/mp4']);
    expect((await call().post(`/api/batches/${first.id}/pause`)).status).toBe(409);
  });

  it('passes a frame over that shows nothing, and holds the batch for a common cause', async () => {
    const away = withView(
      { ...review(), stage: { preset: 'open sky', modelLights: false } },
      { ...review().views[0]!, eye: [0, 50, 0.1], target: [0, 60, 0] },
    );
    const other = (await call().post(`/api/projects/${project.id}/sets`).send({ file: away })).body as SetReply;
    const batch = (await call().post(`/api/sets/${other.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply;
    const held = await ended(batch.id);
    expect(held.state).toBe('held');
    expect(held.reason).toContain('no part of the model is in the view');
    // What was in work beside the frame that held the batch is given up after it.
    await vi.waitFor(
      async () => {
        const frames = (await call().get(`/api/batches/${batch.id}/frames`)).body as FrameReply[];
        expect(frames.map((f) => f.state).filter((s) => s === 'done' || s === 'rendering')).toEqual([]);
      },
      { timeout: 20_000, interval: 100 },
    );
    expect(((await call().post(`/api/batches/${batch.id}/stop`)).body as BatchReply).state).toBe('stopped');
  });

  it('draws small frames and refuses what is not planned', async () => {
    const small = (query: string) => call().get(`/api/sets/${set.id}/thumbnail?revision=${project.revisions[0]!.id}&${query}`);
    const picture = await small('shot=spin&index=2&width=96');
    expect([picture.status, picture.headers['content-type']]).toEqual([200, 'image/webp']);
    expect((await small('shot=spin&index=99')).status).toBe(404);
    expect((await small('view=nowhere')).status).toBe(404);
    expect((await small('view=v&width=5000')).status).toBe(400);
  });

  it('says before anything renders that there is nothing to render', async () => {
    const bare = (
      await call()
        .post(`/api/projects/${project.id}/sets`)
        .send({ file: emptySet('Bare') })
    ).body as SetReply;
    const reply = await call().post(`/api/sets/${bare.id}/batches`).send({ revision: project.revisions[0]!.id });
    expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('the set has no shots')]);
  });

  it('keeps presets, makes sets by templates, and begins new projects with the default', async () => {
    const keep = (kind: string, name: string, body: unknown) => call().post('/api/presets').send({ kind, name, body });
    const first = await keep('sheet', 'Small', { size: { width: 320, height: 180 } });
    expect(first.status).toBe(201);
    const id = (first.body as { id: number }).id;
    // The same name is written over.
    expect(((await keep('sheet', 'Small', { size: { width: 640, height: 360 } })).body as { id: number }).id).toBe(id);
    const wrong = await keep('sheet', 'Wrong', { size: { width: 1, height: 1 } });
    expect([wrong.status, (wrong.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('size.width')]);
    expect((await call().put(`/api/presets/${id}`).send({ isDefault: true })).body).toMatchObject({ isDefault: true });
    const begun = (await call().post('/api/projects').send({ name: 'Begun' })).body as ProjectReply;
    const set = (await call().get(`/api/sets/${begun.sets[0]!.id}`)).body as SetReply;
    expect(set.file.sheet.size).toEqual({ width: 640, height: 360 });
    const out = await call().get(`/api/presets/${id}/export`);
    expect(JSON.parse(out.text)).toMatchObject({ format: 'cold-easel.preset', kind: 'sheet', name: 'Small' });
    await call().delete(`/api/presets/${id}`);
    expect((await call().get('/api/presets?kind=sheet')).body).toEqual([]);

    const [revision] = project.revisions;
    const made = await call().post(`/api/projects/${project.id}/sets/from-template`).send({ template: 'turntable-sizes', revision: revision!.id });
    expect([made.status, (made.body as SetReply).file.name]).toEqual([201, 'Turntable in three sizes']);
    const part = (name: string) =>
      call().post(`/api/projects/${project.id}/sets/from-template`).send({ template: 'eight-angles', revision: revision!.id, part: name });
    expect((await part('Nowhere')).status).toBe(404);
  });

  it('renders each size of a shot as a run of its own', async () => {
    const file = review();
    file.sheet.sizes = [{ id: 'square', width: 48, height: 48, framing: 'fitSubject' }];
    const set = (await call().post(`/api/projects/${project.id}/sets`).send({ file })).body as SetReply;
    const batch = (await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply;
    expect((await ended(batch.id)).state).toBe('done');
    const frames = (await call().get(`/api/batches/${batch.id}/frames`)).body as FrameReply[];
    expect(frames.map((f) => [f.shot, f.number]).slice(5, 8)).toEqual([
      ['spin', 6],
      ['spin@square', 1],
      ['spin@square', 2],
    ]);
    expect(frames.at(-1)!.shotName).toBe('spin 48x48');
    expect(frames.at(-1)!.name).toBe('Quick-look/spin/spin_48x48_beauty.0006');
  });

  it('joins shots to a reel, faded over each other, and says what cannot be joined', async () => {
    let file = review();
    file = withShot(file, { ...file.shots[0]!, id: 'back', name: 'Back' });
    const set = (await call().post(`/api/projects/${project.id}/sets`).send({ file })).body as SetReply;
    const batch = (await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply;
    expect((await ended(batch.id)).state).toBe('done');
    const part = (shot: string, fade = 0) => ({ shot, fade, speed: 1, seconds: 2 });
    const ask = (parts: object[]) =>
      call()
        .post(`/api/batches/${batch.id}/clips`)
        .send({ reel: { id: 'r', name: 'Both ways', parts } });
    const refused = await ask([part('spin'), part('back', 9)]);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('longer than the 6 frames')]);
    const started = await ask([part('spin'), part('back', 3)]);
    expect(started.status).toBe(201);
    const { id, fileName } = started.body as { id: number; fileName: string };
    expect(fileName).toBe('Quick-look/Both-ways.mp4');
    await vi.waitFor(
      async () => expect(((await call().get(`/api/batches/${batch.id}`)).body as BatchReply).clips.at(-1)?.state).toBe('ready'),
      30_000,
    );
    const movie = path.join(data, 'reel.mp4');
    writeFileSync(movie, (await call().get(`/api/clips/${id}/movie?download`).buffer(true).parse(asBuffer)).body as Buffer);
    const { streams } = JSON.parse(
      spawnSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', movie]).stdout.toString(),
    ) as { streams: { nb_read_frames: string; r_frame_rate: string }[] };
    // 6 and 6, of which 3 lie over each other.
    expect(streams[0]).toMatchObject({ nb_read_frames: '9', r_frame_rate: '24/1' });
  }, 60_000);

  it('is not started on a revision that lacks a part which is cut', async () => {
    const cut = { ...review(), section: { planes: [{ normal: [1, 0, 0], offset: 0, part: 'Tern/No such part' }] } };
    const set = (await call().post(`/api/projects/${project.id}/sets`).send({ file: cut })).body as SetReply;
    const refused = await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id });
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('The part "Tern/No such part", which a section cuts, is not in revision A.'),
    ]);
    const parts = (await call().get(`/api/revisions/${project.revisions[0]!.id}/parts`)).body as { path: string }[];
    const there = { ...set.file, section: { planes: [{ normal: [1, 0, 0], offset: 0, part: parts.at(-1)!.path }] } };
    await call().put(`/api/sets/${set.id}`).send({ file: there, version: set.version });
    const batch = (await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, select: 'first' })).body as BatchReply;
    expect((await ended(batch.id)).state).toBe('done');
  });

  it('renders every third frame for a look, and its movie keeps the pace', async () => {
    const set = (await call().post(`/api/projects/${project.id}/sets`).send({ file: review() })).body as SetReply;
    const start = (select: string) => call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, select });
    const wrong = await start('9-20');
    expect([wrong.status, (wrong.body as { detail: string }).detail]).toEqual([422, '"9-20" chooses no frame: spin has 1 to 6.']);
    const batch = (await start('first every 3')).body as BatchReply;
    expect((await ended(batch.id)).state).toBe('done');
    const frames = (await call().get(`/api/batches/${batch.id}/frames`)).body as FrameReply[];
    expect(frames.map((f) => f.number)).toEqual([1, 4]);
    const clip = (await call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin' })).body as { id: number };
    await vi.waitFor(
      async () => expect(((await call().get(`/api/batches/${batch.id}`)).body as BatchReply).clips.at(-1)?.state).toBe('ready'),
      30_000,
    );
    const movie = path.join(data, 'third.mp4');
    writeFileSync(movie, (await call().get(`/api/clips/${clip.id}/movie?download`).buffer(true).parse(asBuffer)).body as Buffer);
    const { streams } = JSON.parse(spawnSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', movie]).stdout.toString()) as {
      streams: { r_frame_rate: string }[];
    };
    expect(streams[0]!.r_frame_rate).toBe('8/1');
  }, 60_000);
});
