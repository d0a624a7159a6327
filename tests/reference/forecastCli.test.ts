/** `easel forecast`: what people read, the machine-readable result that the contract states, and wrong input. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { LAMP_SHOTS } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { writeGlb } from '../../src/formats/glb/write.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-forecast-'));
const file = (name: string): string => path.join(folder, name);
const easel = (...args: string[]) => spawnSync(process.execPath, ['bin/easel.mjs', 'forecast', ...args], { encoding: 'utf8' });

interface Range {
  low: number;
  likely: number;
  high: number;
}
interface Result {
  seconds: Range;
  bytes: number;
  shots: { shot: string; frames: number; seconds: Range; bytes: number }[];
  choices?: { kind: string; label: string; meets: boolean; seconds: Range; patch?: unknown; select?: string }[];
}

beforeAll(async () => {
  writeFileSync(file('a.glb'), await writeGlb(tern()));
  const shots = [LAMP_SHOTS.shots[0]!, { ...LAMP_SHOTS.shots[1]!, frames: 12 }];
  writeFileSync(file('lamp.json'), JSON.stringify({ ...LAMP_SHOTS, sheet: { ...LAMP_SHOTS.sheet, quality: 'final' }, shots }));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('time and bytes of the set are the sums of its shots, with a range', () => {
  const { status, stdout, stderr } = easel(file('lamp.json'), '--model', file('a.glb'), '--json');
  expect(status).toBe(0);
  const { seconds, bytes, shots, choices } = JSON.parse(stdout) as Result;
  expect(shots.map((s) => [s.shot, s.frames])).toEqual([
    ['stills', 3],
    ['turntable', 12],
  ]);
  expect(seconds.low).toBeLessThan(seconds.likely);
  expect(seconds.high).toBeGreaterThan(seconds.likely);
  expect(shots.reduce((n, s) => n + s.seconds.likely, 0)).toBeCloseTo(seconds.likely, 6);
  expect(shots.reduce((n, s) => n + s.bytes, 0)).toBeCloseTo(bytes, 3);
  expect(choices).toBeUndefined();
  expect(stderr).toMatch(/^turntable: 12 frames, .* \(.* to .*\), .* MB$/m);
});

test('with an hour that is too soon it offers changes', () => {
  const soon = new Date(Date.now() + 61_000);
  const by = `${soon.getHours()}:${String(soon.getMinutes()).padStart(2, '0')}`;
  const { status, stdout, stderr } = easel(file('lamp.json'), '--model', file('a.glb'), '--by', by, '--json');
  expect(status).toBe(0);
  const { seconds, choices } = JSON.parse(stdout) as Result;
  expect(choices!.map((c) => c.kind)).toEqual(['samples', 'size', 'frames', 'shot']);
  for (const c of choices!) expect(c.seconds.likely).toBeLessThan(seconds.likely);
  expect(choices!.find((c) => c.kind === 'frames')!.select).toMatch(/^turntable: first every \d$/);
  expect(stderr).toMatch(/^(in time|not enough): \d+ samples instead of 256, /m);
});

test('wrong input is named: exit 2', () => {
  const hour = easel(file('lamp.json'), '--model', file('a.glb'), '--by', 'noon');
  expect(hour.status).toBe(2);
  expect(hour.stderr).toContain('--by: "noon" is no time of day; write it as 17:30.');
  writeFileSync(file('none.json'), '{}');
  expect(easel(file('none.json'), '--model', file('a.glb')).status).toBe(2);
  expect(easel(file('lamp.json'), '--model', file('lost.glb')).status).toBe(2);
});
