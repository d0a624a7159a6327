/** `easel batch …` against a running server. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { ServerHere } from '../../tests/support/serverHere.js';
import { spin } from '../../tests/support/spin.js';
import type { BatchReply } from '../contract/batches.js';
import type { ProjectReply } from '../contract/contract.js';
import type { PackageReply } from '../contract/packages.js';
import type { BatchReport } from '../contract/queue.js';
import { manifestSchema } from '../core/handover/manifest.js';
import { auditPackage } from '../engine/node/auditPackage.js';
import { probeMovie } from '../engine/node/ffmpeg.js';
import { type Command, InputError } from './command.js';
import { batchCommands } from './commands/batch.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
  const set = spin(3);
  await server.addSet(project, { ...set, views: [{ ...set.views[0]!, eye: [0.9, 0.5, 1.2], target: [0, 0.1, 0] }] });
});
afterAll(() => server.end());

/** Result of a command, and the lines that it said. */
async function easel<T>(name: string, argument: string, options: object = {}): Promise<{ result: T; said: string }> {
  const said: string[] = [];
  const command = batchCommands.commands.find((c) => c.name === name) as Command;
  const result = (await command.run(argument, { server: server.running.url, ...options }, (line) => said.push(line))) as T;
  return { result, said: said.join('\n') };
}

test('starts a batch by names, waits for it, and says that it was reused the second time', async () => {
  const first = await easel<BatchReply>('start', 'Spin', { project: 'Block', wait: true });
  expect(first.result).toMatchObject({ state: 'done', done: 3, takenOver: 0, revision: 'A' });
  const again = await easel<BatchReply>('start', 'Spin', { project: String(project.id), revision: 'A', select: '1-2', wait: true });
  expect(again.said).toMatch(/2 {2}done {2}Spin: 2 of 2 frames, 2 reused$/);
  const draft = await easel<BatchReply>('start', 'Spin', { project: 'Block', draft: '0.5,0.25', priority: 'last', wait: true });
  expect(draft.result).toMatchObject({ draft: { size: 0.5, samples: 0.25 }, priority: 'last', name: 'Spin, draft' });
});

test('a start under a key that was sent before is the batch of then', async () => {
  const [first, again] = [
    await easel<BatchReply>('start', 'Spin', { project: 'Block', select: '3', key: 'night', wait: true }),
    await easel<BatchReply>('start', 'Spin', { project: 'Block', select: '3', key: 'night', wait: true }),
  ];
  expect(again.result.number).toBe(first.result.number);
  await expect(easel('start', 'Spin', { project: 'Block', select: '2', key: 'night' })).rejects.toThrow('was sent with another request');
});

test('lists, shows and reports', async () => {
  const { result, said } = await easel<BatchReply[]>('list', '');
  expect(result.map((b) => b.number)).toEqual([4, 3, 2, 1]);
  expect(said).toContain('1  done  Spin: 3 of 3 frames');
  const shown = await easel<BatchReply>('show', '1');
  expect(shown.said).toContain(shown.result.folder);
  const report = await easel<BatchReport>('report', '2');
  expect(report.said).toBe('2  done  Spin: 2 of 2 frames, 2 reused, 0 failed, 0 accepted');
  expect(report.result.frames.every((f) => f.takenOver)).toBe(true);
});

test('pauses, resumes and stops', async () => {
  const { result } = await easel<BatchReply>('start', 'Spin', {
    project: 'Block',
    anew: true,
    startAt: new Date(Date.now() + 3_600_000).toISOString(),
  });
  const number = String(result.number);
  expect((await easel<BatchReply>('pause', number)).result.state).toBe('paused');
  const resumed = await easel<BatchReply>('resume', number);
  expect(resumed.said).toMatch(/queued {2}Spin: 0 of 3 frames, from 20\d\d-/);
  expect((await easel<BatchReply>('stop', number)).result.state).toBe('stopped');
});

test('says what is wrong, with the remedy', async () => {
  const fault = async (name: string, argument: string, options: object = {}): Promise<Error> =>
    easel(name, argument, options).then(
      () => expect.unreachable('It was taken.'),
      (e: unknown) => e as Error,
    );
  expect(await fault('show', '99')).toEqual(new InputError('There is no batch 99; "easel batch list" tells which there are.'));
  expect((await fault('start', 'Spin', { project: 'Blok' })).message).toContain('there is no project "Blok"; there are Block');
  expect((await fault('start', 'Spim', { project: 'Block' })).message).toContain('there are Review set, Spin');
  expect((await fault('start', 'Spin', { project: 'Block', revision: 'Q' })).message).toContain('no revision Q in "Block"; there are A');
  expect((await fault('start', 'Spin', { project: 'Block', draft: '50%' })).message).toContain('write 0.5');
  expect((await fault('retry', '1')).message).toContain('Batch 1 has no failed frame.');
  expect((await fault('list', '', { server: 'http://127.0.0.1:9' })).message).toContain('No server answers at http://127.0.0.1:9. Start it with');
  expect((await fault('list', '', { server: 'nowhere' })).message).toContain('"nowhere" is no address');
});

describe('what leaves the studio', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-cli-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const at = (name: string): string => path.join(folder, name);

  test('is a movie that is saved', async () => {
    const out = at('spin.mp4');
    const { result } = await easel<{ movie: { state: string } }>('movie', '1', { shot: 'spin', codec: 'h264', rate: '12', out });
    expect(result.movie.state).toBe('ready');
    const { codec, width, height } = await probeMovie(out);
    expect([codec, width, height]).toEqual(['h264', 32, 18]);
    await expect(easel('movie', '1', { shot: 'spin', codec: 'h264', out })).rejects.toThrow('exists and would be overwritten');
    await expect(easel('movie', '1', { shot: 'none', codec: 'h264', out: at('none.mp4') })).rejects.toThrow('There is no shot "none"');
  });

  test('is a package with sheets, that passes its audit anywhere', async () => {
    const out = at('package.zip');
    const options = { name: 'Night', sheets: 'contact, strips', sheetType: 'pdf', paper: 'A4', names: '{shot}/{frame:5}', types: 'png 8', out };
    const { result, said } = await easel<{ package: PackageReply }>('package', '1', options);
    expect(result.package).toMatchObject({ state: 'ready', sheets: ['contact-sheet.pdf', 'moving-shots.pdf'] });
    expect(said).toContain('all as planned');
    const files = unzipSync(readFileSync(out));
    for (const [name, bytes] of Object.entries(files)) {
      mkdirSync(path.dirname(at(`un/${name}`)), { recursive: true });
      writeFileSync(at(`un/${name}`), bytes);
    }
    const manifest = manifestSchema.parse(JSON.parse(readFileSync(at('un/manifest.json'), 'utf8')));
    expect(await auditPackage(at('un'), manifest)).toMatchObject({ ok: true, faults: [] });
    expect(
      Object.keys(files)
        .filter((name) => /^spin\/\d{5}\.png$/.test(name))
        .toSorted(),
    ).toEqual(manifest.files.flatMap((f) => (f.kind === 'render' ? [f.path] : [])));
    expect(files['spin/00001.png']!.subarray(1, 4)).toEqual(new TextEncoder().encode('PNG'));
    // The movie that was made goes with it, beside its frames.
    expect(manifest.files.find((f) => f.kind === 'movie')!.path).toMatch(/^spin\//);
    expect(manifest.files.filter((f) => f.kind === 'movie')).toHaveLength(1);
    await expect(easel('package', '1', { ...options, out: at('b.zip'), sheets: 'poster' })).rejects.toThrow(
      '--sheets: "poster" is no sheet; there are contact,',
    );
    await expect(easel('package', '1', { ...options, out: at('b.zip'), types: 'gif' })).rejects.toThrow('--types: "gif" is no file type');
    await expect(easel('package', '1', { ...options, out: at('b.zip'), names: '{shot}' })).rejects.toThrow('--names: A moving shot needs {frame}');
    await expect(easel('package', '99', { ...options, out: at('c.zip') })).rejects.toThrow('There is no batch 99');
  });
});
