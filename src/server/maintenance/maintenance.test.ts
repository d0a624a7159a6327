/** Checks, backups and restores of a data folder, beside a running server and its batch. */
import { longTest } from '../../../tests/support/long.js';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { blockObj } from '../../../tests/support/box.js';
import { TestServer } from '../../../tests/support/server.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import { type RunningServer, startServer } from '../start.js';
import { BackupError } from './archive.js';
import { backupFolder } from './backup.js';
import { checkFolder } from './check.js';
import { finishRestore, restoreFolder } from './restore.js';

const root = mkdtempSync(path.join(tmpdir(), 'easel-maintenance-'));
const data = path.join(root, 'data');
let server: RunningServer;
let batch: BatchReply;
/** Servers on restored folders: processes of their own, since the tables of one process are one database's. */
const extra: TestServer[] = [];

async function ask<T>(url: string, route: string, method = 'GET', body?: unknown): Promise<T> {
  const init = body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
  return (await (await fetch(`${url}/api${route}`, { method, ...init })).json()) as T;
}
const open = async (folder: string): Promise<TestServer> => {
  const running = new TestServer(0, { COLD_EASEL_DATA: folder, COLD_EASEL_LOG: 'silent', COLD_EASEL_WORKERS: '1' });
  await running.start();
  extra.push(running);
  return running;
};

beforeAll(async () => {
  server = await startServer({ warm: false, data, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0 });
  const { url } = server;
  const project = await ask<ProjectReply>(url, '/projects', 'POST', { name: 'Block' });
  const form = new FormData();
  form.append('files', new Blob([blockObj().obj]), 'block.obj');
  const revision = ((await (await fetch(`${url}/api/projects/${project.id}/model`, { method: 'POST', body: form })).json()) as ProjectReply)
    .revisions[0]!;
  const set = {
    format: 'cold-easel.set',
    version: 2,
    name: 'Spin',
    sheet: { size: { width: 32, height: 18 }, quality: 'quick' },
    views: [{ id: 'v', name: 'V', eye: [3, 2, 4], target: [0, 0.5, 0] }],
    shots: [{ id: 'spin', kind: 'turntable', view: 'v', frames: 40 }],
  };
  const { id } = await ask<SetReply>(url, `/projects/${project.id}/sets`, 'POST', { file: set });
  batch = await ask<BatchReply>(url, `/sets/${id}/batches`, 'POST', { revision: revision.id });
});
afterEach(async () => {
  for (const s of extra.splice(0)) await s.kill();
});
afterAll(async () => {
  await server.close();
  rmSync(root, { recursive: true, force: true });
});
const doneOn = (url: string): Promise<BatchReply> =>
  until(
    () => ask<BatchReply>(url, `/batches/${batch.id}`),
    ({ state }) => state === 'done',
  );
const finished = (): Promise<BatchReply> => doneOn(server.url);
let names = 0;
const fresh = (what: string): string => path.join(root, `${what}-${++names}`);

describe('a backup', () => {
  longTest('made while a batch runs is restored whole, and the batch goes on where it was', async () => {
    const file = fresh('running.tar');
    const made = await backupFolder(data, file);
    expect(made.missing).toEqual([]);
    // Any tar reads it.
    expect(spawnSync('tar', ['-tf', file], { encoding: 'utf8' }).stdout).toContain('cold-easel.sqlite');
    const end = await finished();
    const folder = fresh('restored');
    expect(await restoreFolder(file, folder)).toMatchObject({ files: made.files, replaced: null });
    const again = await open(folder);
    await doneOn(again.url);
    const frames = await ask<FrameReply[]>(again.url, `/batches/${batch.id}/frames`);
    expect(frames).toHaveLength(40);
    for (const f of frames)
      expect(readFileSync(path.join(folder, 'pictures', '0001-Spin', f.files[0]!)).equals(readFileSync(path.join(end.folder, f.files[0]!)))).toBe(
        true,
      );
    expect(await checkFolder(folder)).toMatchObject({ ok: true, faults: [] });
  });

  it('without pictures holds the rest, and what it lacks is found and can be rendered again', async () => {
    await finished();
    const file = fresh('small.tar');
    await backupFolder(data, file, { without: ['pictures'] });
    const folder = fresh('small');
    await restoreFolder(file, folder);
    const { ok, faults } = await checkFolder(folder);
    expect([ok, faults.length, faults[0]!.remedy]).toEqual([false, 40, expect.stringContaining('Render damaged frames')]);
    const again = await open(folder);
    await ask(again.url, `/batches/${batch.id}/verify`, 'POST', {});
    expect(await ask<BatchReply>(again.url, `/batches/${batch.id}`)).toMatchObject({ damaged: 40 });
  });

  it('does not overwrite a file, and leaves nothing where it fails', async () => {
    const file = fresh('mine.tar');
    writeFileSync(file, 'mine');
    await expect(backupFolder(data, file)).rejects.toThrow('exists already and is not overwritten');
    expect(readFileSync(file, 'utf8')).toBe('mine');
    const before = readdirSync(root).sort();
    await expect(backupFolder(fresh('nowhere'), fresh('none.tar'))).rejects.toThrow(BackupError);
    expect(readdirSync(root).sort()).toEqual(before);
  });
});

describe('a restore', () => {
  it('refuses a backup that is cut short, changed, or none, and changes nothing', async () => {
    await finished();
    const file = fresh('sound.tar');
    await backupFolder(data, file);
    const folder = fresh('target');
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'mine.txt'), 'mine');
    const bytes = readFileSync(file);
    const spoilt: [string, Buffer][] = [
      ['cut short', bytes.subarray(0, bytes.length >> 1)],
      ['without its end', bytes.subarray(0, bytes.length - 4096)],
      ['not a tar', Buffer.from('no backup at all')],
    ];
    const flipped = Buffer.from(bytes);
    flipped[700]! ^= 1;
    spoilt.push(['changed', flipped]);
    for (const [what, content] of spoilt) {
      const bad = fresh(what.replace(/ /g, '-'));
      writeFileSync(bad, content);
      await expect(restoreFolder(bad, folder), what).rejects.toThrow(/cannot be restored/);
      expect(readdirSync(folder).filter((f) => !f.startsWith('server.'))).toEqual(['mine.txt']);
    }
    await expect(restoreFolder(fresh('no-such.tar'), folder)).rejects.toThrow('does not exist');
  });

  it('refuses a folder on which a server runs', async () => {
    const file = fresh('busy.tar');
    await backupFolder(data, file);
    await expect(restoreFolder(file, data)).rejects.toThrow('is in use by');
  });

  it('moves what was there to the trash, and is finished by the next start wherever it was cut off', async () => {
    await finished();
    const file = fresh('whole.tar');
    await backupFolder(data, file);
    const folder = fresh('replaced');
    mkdirSync(path.join(folder, 'pictures'), { recursive: true });
    writeFileSync(path.join(folder, 'pictures', 'old.png'), 'old');
    const { replaced } = await restoreFolder(file, folder);
    expect(readFileSync(path.join(replaced!, 'pictures', 'old.png'), 'utf8')).toBe('old');
    // As a kill after the unpacking and half the moving leaves it.
    const staging = path.join(folder, 'restore');
    mkdirSync(staging);
    for (const name of ['models', 'pictures', 'originals']) renameSync(path.join(folder, name), path.join(staging, name));
    mkdirSync(path.join(folder, 'pictures'));
    writeFileSync(path.join(folder, 'pictures', 'newer.png'), 'newer');
    renameSync(path.join(folder, 'cold-easel.sqlite'), path.join(staging, 'cold-easel.sqlite'));
    writeFileSync(path.join(staging, 'restore.ready'), '');
    await open(folder);
    expect(existsSync(staging)).toBe(false);
    expect(await checkFolder(folder)).toMatchObject({ ok: true });
    // Unpacked in part, without the note that it is whole: nothing is taken over.
    mkdirSync(staging);
    writeFileSync(path.join(staging, 'cold-easel.sqlite'), 'half');
    expect(await finishRestore(folder)).toBeNull();
    expect(existsSync(staging)).toBe(false);
  });
});

describe('a check', () => {
  it('names what is missing or changed, what it belongs to, and the remedy', async () => {
    await finished();
    const file = fresh('to-spoil.tar');
    await backupFolder(data, file);
    const folder = fresh('spoilt');
    await restoreFolder(file, folder);
    const pictures = path.join(folder, 'pictures', '0001-Spin', 'Spin', 'spin');
    const [first, second] = readdirSync(pictures).sort() as [string, string];
    rmSync(path.join(pictures, first));
    truncateSync(path.join(pictures, second), 10);
    const [glb] = readdirSync(path.join(folder, 'models')).filter((f) => f.endsWith('.glb')) as [string];
    rmSync(path.join(folder, 'models', glb));
    const { ok, faults } = await checkFolder(folder);
    expect(ok).toBe(false);
    expect(faults.map((f) => `${f.what}: ${f.problem}`)).toEqual([
      expect.stringMatching(/^models\/.*The file is missing\. It belongs to Block, revision A\./),
      expect.stringMatching(/0001\.png: The file is missing\. It belongs to batch 1/),
      expect.stringMatching(/0002\.png: The file has 10 bytes; it was written with \d+\./),
    ]);
    for (const { remedy } of faults) expect(remedy).toMatch(/^[A-Z].*\.$/);
  });

  it('says where there is no database, or a damaged one', async () => {
    expect((await checkFolder(fresh('empty'))).faults[0]!.problem).toBe('There is no database in this folder.');
    const folder = fresh('damaged');
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'cold-easel.sqlite'), Buffer.alloc(9000, 'damaged'));
    expect((await checkFolder(folder)).faults[0]).toMatchObject({ remedy: expect.stringContaining('easel restore') as string });
  });
});
