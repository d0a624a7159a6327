/** The example of a night's run, from a model file to a package that was read again. */
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { blockObj } from '../support/box.js';
import { ServerHere } from '../support/serverHere.js';
import { spin } from '../support/spin.js';

const server = new ServerHere();
const folder = mkdtempSync(path.join(tmpdir(), 'easel-night-'));
const file = (name: string): string => path.join(folder, name);
const still = { id: 'still', kind: 'still', views: ['v'] };

beforeAll(async () => {
  await server.start();
  writeFileSync(file('block.obj'), blockObj().obj);
  const plain = spin(4);
  const view = { ...plain.views[0]!, id: 'v', eye: [0.9, 0.5, 1.2], target: [0, 0.1, 0] };
  const set = { ...plain, views: [view], shots: [{ ...plain.shots[0]!, view: 'v' }, still] };
  writeFileSync(file('set.json'), JSON.stringify(set));
  // The eye is within the block.
  writeFileSync(file('inside.json'), JSON.stringify({ ...set, name: 'Inside', views: [{ ...view, eye: [0.01, 0.1, 0.01] }] }));
});
afterAll(async () => {
  await server.end();
  rmSync(folder, { recursive: true, force: true });
});

interface Run {
  status: number | null;
  said: string;
  result: { batch: number; package: number; files: number } | null;
}

/** Without holding up the server, which runs in this process. */
function nightRun(args: string[], url = server.running.url): Promise<Run> {
  const child = spawn(process.execPath, ['docs/examples/night-run.mjs', ...args], { env: { ...process.env, COLD_EASEL_SERVER: url } });
  let [out, said] = ['', ''];
  child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  return new Promise((resolve) =>
    child.on('close', (status) => resolve({ status, said, result: out === '' ? null : (JSON.parse(out) as Run['result']) })),
  );
}
const block = (): string[] => [file('block.obj'), file('set.json'), file('out.zip'), '--unit', 'mm', '--up', 'z', '--key', 'night'];

test('brings, checks, renders, makes the movie and packs; the package passes its audit anywhere', async () => {
  const { status, said, result } = await nightRun(block());
  expect([status, said]).toEqual([0, expect.stringContaining('out.zip')]);
  const entries = unzipSync(readFileSync(file('out.zip')));
  const names = Object.keys(entries);
  expect(names.filter((n) => n.endsWith('.png'))).toHaveLength(5);
  expect(names.filter((n) => n.endsWith('.mp4'))).toHaveLength(1);
  for (const name of names) {
    const at = file(path.join('unpacked', name));
    mkdirSync(path.dirname(at), { recursive: true });
    if (!name.endsWith('/')) writeFileSync(at, entries[name]!);
  }
  const top = names.find((n) => n.endsWith('manifest.json'))!;
  const audit = spawn(process.execPath, ['bin/easel.mjs', 'audit', file(path.join('unpacked', path.dirname(top)))]);
  expect(await new Promise((resolve) => audit.on('close', resolve))).toBe(0);
  expect(result!.files).toBeGreaterThan(6);

  // Sent again, it takes the batch and its movie as they are.
  const again = await nightRun(block());
  expect([again.status, again.result!.batch]).toEqual([0, result!.batch]);
}, 120_000);

test('a set that would waste the night is not rendered: exit 3', async () => {
  const { status, said } = await nightRun([file('block.obj'), file('inside.json'), file('no.zip'), '--unit', 'mm', '--up', 'z']);
  expect([status, said]).toEqual([3, expect.stringMatching(/^[\d:]+ fault: /m)]);
}, 60_000);

test('wrong input is told: exit 2', async () => {
  expect((await nightRun([file('block.obj')])).status).toBe(2);
  expect((await nightRun([file('block.obj'), file('none.json'), file('no.zip')])).status).toBe(2);
  writeFileSync(file('model.xyz'), 'no model');
  const unknown = await nightRun([file('model.xyz'), file('set.json'), file('no.zip'), '--project', 'Other']);
  expect([unknown.status, unknown.said]).toEqual([2, expect.stringContaining('xyz')]);
}, 60_000);
