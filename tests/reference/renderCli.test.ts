/** `easel render`: killed, stopped and gone on with, into the same files as an undisturbed run. */
import { spawn, spawnSync } from 'node:child_process';
import { appendFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { tern } from '../../demo/tern.js';
import { JOURNAL } from '../../src/cli/renderJournal.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { longTest } from '../support/long.js';
import { spin } from '../support/spin.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-render-'));
const file = (name: string): string => path.join(folder, name);
const args = (out: string, ...more: string[]): string[] => [
  'bin/easel.mjs',
  'render',
  file('spin.json'),
  '--model',
  file('a.glb'),
  '--out',
  file(out),
  ...more,
];

interface Result {
  frames: { number: number; file: string; takenOver?: boolean }[];
}

/** PNG files by name. */
function pictures(out: string): Map<string, Buffer> {
  const names = (existsSync(file(out)) ? readdirSync(file(out), { recursive: true }) : []).map(String).filter((n) => n.endsWith('.png'));
  return new Map(names.sort().map((n) => [n, readFileSync(path.join(file(out), n))]));
}

/** Ends a render by a signal once it has finished some frames. */
async function endedAfter(frames: number, signal: NodeJS.Signals, out: string, ...more: string[]): Promise<{ code: number | null; said: string }> {
  const child = spawn(process.execPath, args(out, ...more), { stdio: ['ignore', 'ignore', 'pipe'] });
  let said = '';
  child.stderr.on('data', (d: Buffer) => {
    said += d.toString();
    // Once: a second Ctrl-C would end it where it stands.
    if (!child.killed && said.includes(`${frames}/`)) child.kill(signal);
  });
  const code = await new Promise<number | null>((resolve) => child.on('close', resolve));
  return { code, said };
}

let undisturbed: Map<string, Buffer>;
beforeAll(async () => {
  writeFileSync(file('a.glb'), await writeGlb(tern()));
  const set = spin(10);
  const sheet = { ...set.sheet, size: { width: 96, height: 54 }, quality: 'draft' };
  writeFileSync(file('spin.json'), JSON.stringify({ ...set, sheet, views: [{ ...set.views[0]!, eye: [0.8, 0.4, 1], target: [0, 0.2, 0] }] }));
  const { status, stderr } = spawnSync(process.execPath, args('whole'), { encoding: 'utf8' });
  expect([status, stderr]).toEqual([0, expect.stringContaining('10/10')]);
  undisturbed = pictures('whole');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('goes on after a kill, takes over what is whole, and ends with the same files', async () => {
  await endedAfter(3, 'SIGKILL', 'killed');
  const before = pictures('killed');
  expect(before.size).toBeGreaterThanOrEqual(3);
  expect(before.size).toBeLessThan(10);
  const times = new Map([...before.keys()].map((n) => [n, statSync(path.join(file('killed'), n)).mtimeMs]));
  // One is torn after the fact, and the journal's last line is cut off.
  const [spoilt] = [...before.keys()];
  writeFileSync(path.join(file('killed'), spoilt!), before.get(spoilt!)!.subarray(0, -20));
  appendFileSync(path.join(file('killed'), JOURNAL), '\n{"key":"cut o');
  const refused = spawnSync(process.execPath, args('killed'), { encoding: 'utf8' });
  expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining('exists and would be overwritten; give --resume to go on')]);
  const { status, stdout, stderr } = spawnSync(process.execPath, args('killed', '--resume', '--json'), { encoding: 'utf8' });
  expect(status).toBe(0);
  expect(stderr).toMatch(/[2-9] of 10 frames are reused/);
  expect(pictures('killed')).toEqual(undisturbed);
  const { frames } = JSON.parse(stdout) as Result;
  expect(frames.map((f) => f.number)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
  const taken = frames.filter((f) => f.takenOver).map((f) => path.relative(file('killed'), f.file));
  expect(taken).not.toContain(spoilt);
  for (const name of taken) expect(statSync(path.join(file('killed'), name)).mtimeMs).toBe(times.get(name));
});

test('ends on Ctrl-C with what is kept, and says how to go on', async () => {
  const { code, said } = await endedAfter(2, 'SIGINT', 'stopped');
  expect(code).toBe(1);
  const kept = Number(/Stopped: (\d+) of 10 frames are whole and kept in/.exec(said)![1]);
  expect(kept).toBeGreaterThanOrEqual(2);
  expect(pictures('stopped').size).toBe(kept);
  expect(said).toContain('Give --resume to go on with them.');
  expect(spawnSync(process.execPath, args('stopped', '--resume')).status).toBe(0);
  expect(pictures('stopped')).toEqual(undisturbed);
});

longTest('goes on to its end where nobody reads what it says any more', async () => {
  const child = spawn(process.execPath, args('unread'), { stdio: ['ignore', 'pipe', 'pipe'] });
  child.stderr.once('data', () => child.stderr.destroy());
  child.stdout.destroy();
  expect(await new Promise((resolve) => child.on('close', resolve))).toBe(0);
  expect(pictures('unread')).toEqual(undisturbed);
});
