/** `easel preflight`: the table, the machine-readable result and the exit codes that the contract states. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { northmere } from '../../demo/northmere.js';
import { LAMP_SHOTS, LANDING } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { writeGlb } from '../../src/formats/glb/write.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-preflight-'));
const file = (name: string): string => path.join(folder, name);
const easel = (...args: string[]) => spawnSync(process.execPath, ['bin/easel.mjs', 'preflight', ...args], { encoding: 'utf8' });

interface Result {
  findings: { check: string; severity: string; shot?: string; frames?: number[]; message: string; fix?: string; waived?: string }[];
}

beforeAll(async () => {
  writeFileSync(file('a.glb'), await writeGlb(tern({ revision: 'A' })));
  writeFileSync(file('b.glb'), await writeGlb(tern({ revision: 'B' })));
  writeFileSync(file('landing.glb'), await writeGlb(northmere()));
  writeFileSync(file('lamp.json'), JSON.stringify(LAMP_SHOTS));
  writeFileSync(file('landing.json'), JSON.stringify(LANDING));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test.each([
  ['lamp.json', 'a.glb', 147],
  ['lamp.json', 'b.glb', 147],
  ['landing.json', 'landing.glb', 397],
])('the demo has no fault: %s on %s', (set, model, frames) => {
  const { status, stderr, stdout } = easel(file(set), '--model', file(model), '--strict', '--json');
  expect(stderr).toContain(`${frames} of ${frames} frames checked, 0 faults`);
  expect(status).toBe(0);
  expect((JSON.parse(stdout) as Result).findings.filter((f) => f.severity === 'fault')).toEqual([]);
});

test('an open fault is told by shot, frames and fix; with --strict the exit code is 3', () => {
  const views = LAMP_SHOTS.views.map((v) => (v.id === 'three-quarter' ? { ...v, focalLength: 62 } : v));
  writeFileSync(file('tight.json'), JSON.stringify({ ...LAMP_SHOTS, views }));
  const strict = easel(file('tight.json'), '--model', file('a.glb'), '--strict', '--json');
  expect(strict.status).toBe(3);
  const found = (JSON.parse(strict.stdout) as Result).findings.find((f) => f.severity === 'fault')!;
  expect(found).toMatchObject({ check: 'subject-cut', shot: 'turntable', fix: expect.stringMatching(/^Fit: 62 mm to \d+ mm$/) as string });
  expect(found.frames!.length).toBeGreaterThan(3);
  const plain = easel(file('tight.json'), '--model', file('a.glb'));
  expect(plain.status).toBe(0);
  expect(plain.stdout).toBe('');
  expect(plain.stderr).toMatch(/^fault {2}Turntable +Subject cut by the frame +The subject leaves the frame/m);
});

test('a set that cannot be planned is a fault, a file that is no set is wrong input', () => {
  const shots = LAMP_SHOTS.shots.map((s) => ({ ...s, name: 'Same' }));
  writeFileSync(file('names.json'), JSON.stringify({ ...LAMP_SHOTS, shots }));
  const unplanned = easel(file('names.json'), '--model', file('a.glb'), '--strict');
  expect(unplanned.status).toBe(3);
  expect(unplanned.stderr).toContain('Two frames would be named');
  writeFileSync(file('none.json'), '{}');
  expect(easel(file('none.json'), '--model', file('a.glb')).status).toBe(2);
});
