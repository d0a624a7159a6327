/** `easel forecast`: what people read, the machine-readable result that the contract states, and wrong input. */
import { longTest } from '../support/long.js';
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { LAMP_SHOTS } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { openDatabase } from '../../src/server/db/connection.js';
import { machineOf, type StoredForecast } from '../../src/server/forecast/pastBatches.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-forecast-'));
const file = (name: string): string => path.join(folder, name);
const easel = (...args: string[]) =>
  spawnSync(process.execPath, ['bin/easel.mjs', 'forecast', ...args], {
    encoding: 'utf8',
    env: { ...process.env, COLD_EASEL_DATA: file('no-data') },
  });

interface Range {
  low: number;
  likely: number;
  high: number;
}
interface Result {
  learnt: number;
  correction: number;
  seconds: Range;
  bytes: number;
  shots: { shot: string; frames: number; seconds: Range; bytes: number }[];
  choices?: { kind: string; label: string; meets: boolean; seconds: Range; patch?: unknown; select?: string }[];
}

const STILL = { id: 'one', kind: 'still', views: [LAMP_SHOTS.views[0]!.id] };

beforeAll(async () => {
  writeFileSync(file('a.glb'), await writeGlb(tern()));
  const shots = [LAMP_SHOTS.shots[0]!, { ...LAMP_SHOTS.shots[1]!, frames: 12 }];
  const quick = { ...LAMP_SHOTS.sheet, quality: 'quick' };
  writeFileSync(file('still.json'), JSON.stringify({ ...LAMP_SHOTS, sheet: quick, views: LAMP_SHOTS.views.slice(0, 1), shots: [STILL] }));
  for (const [name, quality] of [
    ['lamp.json', 'draft'],
    ['final.json', 'final'],
  ])
    writeFileSync(file(name!), JSON.stringify({ ...LAMP_SHOTS, sheet: { ...LAMP_SHOTS.sheet, quality }, shots }));
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

longTest('with an hour that is too soon it offers changes', () => {
  // A minute at least, of which the command takes some seconds to start: an hour that is past is tomorrow's.
  const soon = new Date(Date.now() + 120_000);
  const by = `${soon.getHours()}:${String(soon.getMinutes()).padStart(2, '0')}`;
  const { status, stdout, stderr } = easel(file('final.json'), '--model', file('a.glb'), '--by', by, '--json');
  expect(status).toBe(0);
  const { seconds, choices } = JSON.parse(stdout) as Result;
  expect(choices!.map((c) => c.kind)).toEqual(['samples', 'size', 'frames', 'shot']);
  for (const c of choices!) expect(c.seconds.likely).toBeLessThan(seconds.likely);
  expect(choices!.find((c) => c.kind === 'frames')!.select).toMatch(/^turntable: first every \d$/);
  expect(stderr).toMatch(/^(in time|not enough): \d+ samples instead of 256, /m);
});

/** A data folder whose batches took `factor` times what was foreseen, on this machine or another. */
async function taught(name: string, factor: number, machine: string): Promise<string> {
  mkdirSync(file(name));
  const { sequelize, close } = await openDatabase(file(name));
  await sequelize.query('PRAGMA foreign_keys = OFF');
  const forecast: StoredForecast = { seconds: { low: 8, likely: 10, high: 12 }, bytes: 1000, machine, learnt: { seconds: 1, bytes: 1 } };
  for (let id = 1; id <= 9; id++) {
    await sequelize.query(
      `INSERT INTO batches (id, projectId, setId, revisionId, number, state, folder, plan, total, created, forecast)
       VALUES ($1, 1, 1, 1, $1, 'done', $2, '{}', 1, '2026-11-30', $3)`,
      { bind: [id, `b${id}`, JSON.stringify(forecast)] },
    );
    await sequelize.query(
      `INSERT INTO frames (batchId, position, shot, number, name, identity, state, attempts, files, ended, seconds, foreseen, foreseenBytes, checksums)
       VALUES ($1, 0, 's', 1, 'n', 'i', 'done', 1, '[]', 'samples', $2, 10, 1000, '[{"bytes":1000}]')`,
      { bind: [id, 10 * factor] },
    );
  }
  await close();
  return file(name);
}

/** Far beyond what the trials of two runs differ by. */
const FACTOR = 1000;

test('what earlier batches of this machine took corrects it, of other machines not', async () => {
  const here = machineOf(availableParallelism());
  const ask = async (folder: string): Promise<Result & { said: string }> => {
    const { status, stdout, stderr } = easel(file('still.json'), '--model', file('a.glb'), '--data', folder, '--json');
    expect(status).toBe(0);
    return { ...(JSON.parse(stdout) as Result), said: stderr };
  };
  const other = await ask(await taught('other', FACTOR, 'a machine of its own × 64'));
  const slow = await ask(await taught('slow', FACTOR, here));
  expect([other.learnt, slow.learnt]).toEqual([0, 9]);
  // Nine batches, each worth 0.9 of the one after it, beside one batch's worth of trust: a share of 0.86 of the logarithm.
  const said = (1 - 0.9 ** 9) / 0.1;
  expect([other.correction, slow.correction]).toEqual([1, expect.closeTo(FACTOR ** (said / (said + 1)), 6)]);
  expect(slow.said).toContain('corrected by 9 earlier batches of this machine: 379.');
  expect(other.said).not.toContain('corrected');
  // The trials of two runs scatter, on a busy machine by some times; nowhere near by this.
  expect(slow.seconds.likely / other.seconds.likely).toBeGreaterThan(40);
  expect(slow.bytes).toBeCloseTo(other.bytes, 0);
});

test('a data folder that cannot be read is named: exit 2', () => {
  mkdirSync(file('torn'));
  writeFileSync(file('torn/cold-easel.sqlite'), 'this is no database, however long it goes on'.repeat(100));
  const { status, stderr } = easel(file('still.json'), '--model', file('a.glb'), '--data', file('torn'));
  expect(status).toBe(2);
  expect(stderr).toContain(file('torn/cold-easel.sqlite'));
  expect(stderr).toContain('easel check');
});

test('wrong input is named: exit 2', () => {
  const hour = easel(file('lamp.json'), '--model', file('a.glb'), '--by', 'noon');
  expect(hour.status).toBe(2);
  expect(hour.stderr).toContain('--by: "noon" is no time of day; write it as 17:30.');
  writeFileSync(file('none.json'), '{}');
  expect(easel(file('none.json'), '--model', file('a.glb')).status).toBe(2);
  expect(easel(file('lamp.json'), '--model', file('lost.glb')).status).toBe(2);
});
