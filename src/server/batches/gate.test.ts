/** First frames: they come before the rest, are read back, and hold the batch where they are not as planned or where that is asked for. */
import { executorLike } from '../../../tests/support/executors.js';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { Frame } from '../../core/frame/frame.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { customQualitySchema } from '../../core/frame/settings.js';
import type { SetFile } from '../../core/plan/set.js';
import { writeExr } from '../../formats/exr/write.js';
import type { Executor } from '../executor/executor.js';
import { checkFiles } from './checkFiles.js';
import { noiseProblem } from './gate.js';

const server = new ServerHere();
beforeEach(() => server.start());
afterEach(() => server.end());

/** Notes the order in which frames are begun; what `spoil` answers is written in the place of each of its files. */
function noting(executor: Executor, begun: number[], spoil: (frame: Frame) => Buffer | null = () => null): Executor {
  const render: Executor['render'] = async (frame, from, options) => {
    begun.push(frame.number);
    const done = await executor.render(frame, from, options);
    const instead = spoil(frame);
    return instead ? { ...done, files: done.files.map((f) => ({ ...f, bytes: instead })) } : done;
  };
  return executorLike(executor, { render });
}

const file: SetFile = { ...spin(9), views: [{ ...spin(9).views[0]!, eye: [0.9, 0.5, 1.2], target: [0, 0.1, 0] }] };

async function start(choice: object, plan = file): Promise<number> {
  const project = await server.blockProject('Block', '?unit=mm&up=z');
  const set = await server.addSet(project, plan);
  const reply = await server
    .call()
    .post(`/api/sets/${set.id}/batches`)
    .send({ revision: project.revisions[0]!.id, ...choice });
  return (reply.body as BatchReply).id;
}

async function reached(id: number, state: string): Promise<BatchReply> {
  const batch = await until(
    async () => (await server.call().get(`/api/batches/${id}`)).body as BatchReply,
    (b) => [state, 'held', 'done'].includes(b.state),
  );
  expect([batch.state, batch.reason]).toEqual([state, state === 'held' ? expect.any(String) : null]);
  return batch;
}
const done = async (id: number): Promise<number[]> =>
  ((await server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[]).filter((f) => f.state === 'done').map((f) => f.number);

describe('noise of a first frame', () => {
  const of = (noise: number | null, asked: number) => noiseProblem({ noise, samples: 64 }, { sampling: { noise: asked } as Frame['sampling'] });
  it('may be a tenth above what was asked', () => {
    expect(of(0.055, 0.05)).toBeNull();
    expect(of(0.0551, 0.05)).toContain('The noise is 0.055 where 0.05 was asked for');
    // Without a level nothing is promised, and frames of earlier versions did not tell.
    expect(of(0.5, 0)).toBeNull();
    expect(of(null, 0.05)).toBeNull();
  });
});

describe('a batch', () => {
  it('renders first, middle and last before the rest, and goes on where they are clean', async () => {
    const begun: number[] = [];
    server.running.context.executor = noting(server.running.context.executor, begun);
    await reached(await start({}), 'done');
    expect(begun.slice(0, 3).sort()).toEqual([1, 5, 9]);
    expect(begun).toHaveLength(9);
  });

  it('waits for a word where that is asked for, and goes on when it is resumed', async () => {
    const id = await start({ holdAfterFirst: true, firstFrames: 2 });
    const held = await reached(id, 'held');
    expect(held).toMatchObject({ done: 2, atGate: true });
    expect(held.reason).toContain('The first frames are done and as planned.');
    expect(await done(id)).toEqual([1, 9]);
    await server.call().post(`/api/batches/${id}/resume`);
    expect(await reached(id, 'done')).toMatchObject({ done: 9 });
  });

  it('holds where first frames end noisier than their quality promises', async () => {
    const of = (noise: number) => ({ ...file, sheet: { ...file.sheet, quality: customQualitySchema.parse({ samples: 16, noise }) } });
    const held = await reached(await start({ firstFrames: 1 }, of(0.001)), 'held');
    expect(held.reason).toMatch(/spin, frame 1: The noise is 0\.\d{3} where 0\.001 was asked for; sampling ended at 16 samples\./);
    // What is promised is kept.
    await reached(await start({ firstFrames: 1 }, of(0.9)), 'done');
  });

  it('holds where a first frame is not as planned, says what, and renders the rest all the same when it is resumed', async () => {
    const small = await sharp({ create: { width: 16, height: 9, channels: 3, background: '#804020' } })
      .png()
      .toBuffer();
    server.running.context.executor = noting(server.running.context.executor, [], (f) => (f.number === 5 ? small : null));
    const id = await start({});
    const held = await reached(id, 'held');
    expect(held.reason).toMatch(/^The first frames are not as planned\. spin, frame 5: "[^"]+\.png" is 16 × 9, planned were 32 × 18\./);
    expect(await done(id)).toEqual([1, 5, 9]);
    await server.call().post(`/api/batches/${id}/resume`);
    await reached(id, 'done');
  });

  it('has no first frames where none are wanted', async () => {
    const begun: number[] = [];
    server.running.context.executor = noting(server.running.context.executor, begun);
    await reached(await start({ firstFrames: 0, holdAfterFirst: true }), 'done');
    // Neither the middle one nor the last; several are begun together, so that their order is by luck.
    expect(Math.max(...begun.slice(0, 3))).toBeLessThan(5);
  });
});

describe('files that are read back', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-read-back-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const SIZE = { width: 32, height: 18 };
  const frameOf = (sheet: object = {}): Frame =>
    planFrames({ ...file, sheet: { ...file.sheet, ...sheet } }, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 's' })[0]!;
  /** What is said of the one file of a frame, without its name. */
  const said = async (frame: Frame, bytes: Uint8Array): Promise<string[]> => {
    const at = path.join(folder, 'file');
    writeFileSync(at, bytes);
    return (await checkFiles(frame, () => at)).map((s) => s.replace(/^"[^"]+" /, ''));
  };
  const image = (channels: 3 | 4, value: (i: number) => number, size = SIZE) =>
    sharp(
      Uint8Array.from({ length: size.width * size.height * channels }, (_, i) => value(i)),
      { raw: { ...size, channels } },
    );
  const noise = (i: number): number => (i * 7919) % 256;

  it('as planned say nothing', async () => {
    expect(await said(frameOf(), await image(3, noise).png().toBuffer())).toEqual([]);
    expect(await said(frameOf({ alpha: true }), await image(4, noise).png().toBuffer())).toEqual([]);
    expect(await said(frameOf({ files: [{ type: 'jpeg', quality: 90 }] }), await image(3, noise).jpeg().toBuffer())).toEqual([]);
  });

  it('of another type, size, depth or alpha are told', async () => {
    expect(await said(frameOf(), await image(3, noise).jpeg().toBuffer())).toContain('is a file of type jpeg.');
    expect(await said(frameOf(), await image(3, noise, { width: 16, height: 9 }).png().toBuffer())).toEqual(['is 16 × 9, planned were 32 × 18.']);
    expect(await said(frameOf({ files: [{ type: 'png', bits: 16 }] }), await image(3, noise).png().toBuffer())).toEqual([
      'does not have 16 bits a channel.',
    ]);
    expect(await said(frameOf({ alpha: true }), await image(3, noise).png().toBuffer())).toEqual(['has no alpha.']);
  });

  it('that are black, even, empty, torn or missing are told', async () => {
    expect(
      await said(
        frameOf(),
        await image(3, () => 0)
          .png()
          .toBuffer(),
      ),
    ).toEqual(['is black.']);
    expect(
      await said(
        frameOf(),
        await image(3, () => 90)
          .png()
          .toBuffer(),
      ),
    ).toEqual(['is one even colour.']);
    expect(
      await said(
        frameOf({ alpha: true }),
        await image(4, (i) => (i % 4 === 3 ? 0 : noise(i)))
          .png()
          .toBuffer(),
      ),
    ).toEqual(['is empty: its alpha is 0 everywhere.']);
    const whole = await image(3, noise).png().toBuffer();
    expect((await said(frameOf(), whole.subarray(0, whole.length / 2)))[0]).toContain('cannot be read');
    expect(await checkFiles(frameOf(), () => path.join(folder, 'none'))).toEqual([expect.stringContaining('is missing.')]);
  });

  it('of OpenEXR are read by another loader: size, and values that are no numbers', async () => {
    const frame = frameOf({ files: [{ type: 'exr', bits: 32 }] });
    const exr = (value: (i: number) => number, { width, height } = SIZE): Buffer =>
      writeExr({
        width,
        height,
        channels: ['R', 'G', 'B'].map((name) => ({
          name,
          type: 'float' as const,
          data: Float32Array.from({ length: width * height }, (_, i) => value(i)),
        })),
        compression: 'zip',
      });
    expect(
      await said(
        frame,
        exr((i) => i),
      ),
    ).toEqual([]);
    expect(
      await said(
        frame,
        exr((i) => i, { width: 16, height: 9 }),
      ),
    ).toEqual(['is 16 × 9, planned were 32 × 18.']);
    expect(
      await said(
        frame,
        exr((i) => (i === 40 ? NaN : i)),
      ),
    ).toEqual(['has values that are no numbers.']);
  });
});
