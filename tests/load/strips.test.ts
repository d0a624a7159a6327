/** Pictures in strips: the same files as in one piece, whatever is asked of them, and however often the work is cut off. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closedHall } from '../../bench/scenes.js';
import { type Frame, withFrame } from '../../src/core/frame/frame.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { renderLargeFrame } from '../../src/engine/node/renderLargeFrame.js';
import { startPool } from '../../src/engine/node/threads.js';
import type { EncodedFrame } from '../../src/engine/output/encodeFrame.js';
import { renderFrame } from '../../src/engine/output/renderFrame.js';
import { bytesInOnePiece, bytesInStrips, needsStrips, stripsOf } from '../../src/engine/sampling/strips.js';
import { compile } from '../../src/engine/scene/compile.js';
import type { AssetProvider } from '../../src/engine/scene/resolveScene.js';
import { AbortedError } from '../../src/engine/scheduler/job.js';
import type { Pool } from '../../src/engine/scheduler/pool.js';
import { frameFor } from '../support/trace.js';

const hall = closedHall(1);
const [width, height] = [40, 210];
let pool: Pool;
let from: AssetProvider;
let folder: string;

beforeAll(() => {
  const scene = compile(loadKernelModule(), hall);
  pool = startPool(2);
  folder = mkdtempSync(path.join(tmpdir(), 'easel-strips-'));
  from = {
    hash: 'hall',
    scene: () => scene,
    module: loadKernelModule,
    texture: () => Promise.reject(new Error('none')),
    picture: () => Promise.reject(new Error('none')),
  };
});
afterAll(async () => {
  await pool.close();
  rmSync(folder, { recursive: true, force: true });
});

const PNG: Frame['files'] = [{ type: 'png', bits: 16, quality: 90 }];
const plain = frameFor(hall, { eye: [-7, 1.7, -13.9], target: [0, 1.9, 4], width, height, samples: 12 });
const frameWith = (values: Partial<Frame>, sampling: Partial<Frame['sampling']> = {}): Frame => {
  const passes = values.passes ?? plain.passes;
  const passNames = passes.map((p) => `still_${p}`);
  return withFrame(plain, { files: PNG, ...values, passNames, name: passNames[0]!, sampling: { ...plain.sampling, denoise: true, ...sampling } });
};
/** Strips of 64 rows: four, the last of them of 18. */
const strips = (control: object = {}) => ({ folder: path.join(folder, 'film'), pixels: width * 64, ...control });
const same = (a: EncodedFrame, b: EncodedFrame): void => {
  expect(a.files.map((f) => f.name)).toEqual(b.files.map((f) => f.name));
  a.files.forEach((f, i) => expect([f.name, f.bytes.equals(b.files[i]!.bytes)]).toEqual([f.name, true]));
};

const passes: Frame['passes'] = [
  'beauty',
  'diffuse',
  'occlusion',
  'shadow',
  'depth',
  'position',
  'normal',
  'albedo',
  'parts',
  'alpha',
  'clay',
  'lines',
];
const CASES: [string, Partial<Frame>, Partial<Frame['sampling']>?][] = [
  ['filtered, with samples where they are needed', {}],
  ['not filtered', {}, { denoise: false }],
  ['until it is even', {}, { samples: 64, noise: 0.3 }],
  ['of few samples', {}, { samples: 4 }],
  ['quick', {}, { mode: 'quick', samples: 4, noise: 0.02 }],
  [
    'with every kind of pass, in every type',
    { passes, files: [...PNG, { type: 'jpeg', bits: 8, quality: 90 }, { type: 'exr', bits: 32, quality: 90 }] },
  ],
  ['with lines drawn over it', { lines: { width: 1.2, colour: [0.1, 0.2, 0.8] } }],
  ['with a clear backdrop', { transparent: true }],
  ['with glow', { grade: { ...plain.grade, glow: { strength: 0.4, reach: 0.05 } } as Frame['grade'] }],
];

describe('a picture in strips', () => {
  it.each(CASES)('has the files of one in one piece: %s', async (_, values, sampling) => {
    const frame = frameWith(values, sampling);
    const shares: number[] = [];
    const made = await renderLargeFrame(pool, from, frame, strips({ onProgress: (s: number) => shares.push(s) }));
    const whole = await renderFrame(pool, from, frame);
    same(made, whole);
    expect([made.samples, made.ended, made.noise]).toEqual([whole.samples, whole.ended, whole.noise]);
    expect(shares.every((s, i) => s <= 1 && s >= (shares[i - 1] ?? 0))).toBe(true);
    expect(shares.at(-1)).toBeCloseTo(1);
    expect(existsSync(path.join(folder, 'film'))).toBe(false);
  });

  it('goes on where it was stopped, at any strip of any part, to the same bits', async () => {
    const frame = frameWith({});
    const whole = await renderFrame(pool, from, frame);
    let stops = 0;
    for (let at = 0; ; at++) {
      // Stopped when it has told of so many strips; what was done before is not done again.
      const stop = new AbortController();
      let told = 0;
      const run = renderLargeFrame(pool, from, frame, strips({ signal: stop.signal, onProgress: () => ++told > at && stop.abort() }));
      const ended = await run.catch((e: unknown) => e);
      if (!(ended instanceof AbortedError)) {
        same(ended as EncodedFrame, whole);
        break;
      }
      stops++;
    }
    expect(stops).toBeGreaterThan(3);
  });

  it('begins a strip anew that was torn while it was written', async () => {
    const frame = frameWith({});
    const whole = await renderFrame(pool, from, frame);
    const stop = new AbortController();
    let told = 0;
    await expect(
      renderLargeFrame(pool, from, frame, strips({ signal: stop.signal, onProgress: () => ++told > 7 && stop.abort() })),
    ).rejects.toBeInstanceOf(AbortedError);
    // As a kill leaves it: neither even nor whole, and nonsense in the film.
    const notes = path.join(folder, 'film', 'progress.json');
    const progress = JSON.parse(readFileSync(notes, 'utf8')) as { even: number[]; whole: number[] };
    const torn = progress.even[0] ?? progress.whole[0]!;
    writeFileSync(
      notes,
      JSON.stringify({ ...progress, even: progress.even.filter((i) => i !== torn), whole: progress.whole.filter((i) => i !== torn) }),
    );
    const film = readFileSync(path.join(folder, 'film', 'film'));
    const row = film.length / height;
    // The last strip has fewer rows than that.
    film.fill(7, torn * 64 * row, Math.min(height, torn * 64 + 20) * row);
    writeFileSync(path.join(folder, 'film', 'film'), film);
    same(await renderLargeFrame(pool, from, frame, strips()), whole);
  });

  it('does not go on with the film of another frame, or with a lost one', async () => {
    const [one, other] = [frameWith({}), withFrame(frameWith({}), { seed: 99, identity: 'other' })];
    for (const spoil of [() => undefined, () => rmSync(path.join(folder, 'film', 'film'))]) {
      const stop = new AbortController();
      let told = 0;
      await expect(
        renderLargeFrame(pool, from, one, strips({ signal: stop.signal, onProgress: () => ++told > 3 && stop.abort() })),
      ).rejects.toBeInstanceOf(AbortedError);
      spoil();
      same(await renderLargeFrame(pool, from, other, strips()), await renderFrame(pool, from, other));
    }
  });
});

describe('which pictures are cut into strips', () => {
  const a1 = { size: { width: 7016, height: 9933 }, passes: ['beauty'] as Frame['passes'] };
  it('are those that are too large for memory; A1 at 300 dpi stays within 4 GB', () => {
    expect(needsStrips({ size: { width: 1920, height: 1080 }, passes: ['beauty'] }, 4e9)).toBe(false);
    expect(needsStrips({ size: { width: 3840, height: 2160 }, passes: ['beauty'] }, 1e9)).toBe(true);
    expect(needsStrips(a1, 64e9)).toBe(true);
    expect(bytesInOnePiece(a1)).toBeGreaterThan(10e9);
    expect(bytesInStrips(a1)).toBeLessThan(4e9);
  });

  it('cover every row once, in whole tiles', () => {
    const list = stripsOf(a1.size);
    expect(list.reduce((at, s) => (expect([s.top, s.top % 64]).toEqual([at, 0]), at + s.height), 0)).toBe(9933);
  });
});
