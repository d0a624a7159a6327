import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import * as L from '../../../kernel/layout.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { parseSet } from '../../core/plan/set.js';
import { decodeCheckpoint } from '../sampling/checkpoint.js';
import { encodeFrame, type EncodeTask, type TracedFrame } from '../output/encodeFrame.js';
import { filmLayout } from '../upload/filmLayout.js';
import { OutputWorkers } from './outputWorkers.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  sheet: { size: { width: 24, height: 16 }, files: [{ type: 'png', bits: 16 }, { type: 'jpeg' }, { type: 'exr', bits: 16 }] },
  views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
  shots: [{ id: 's', kind: 'still', views: ['v'] }],
});
const [frame] = planFrames(set, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 'abc' });

/** A picture as workers leave it: in memory that threads share. */
function task(light = 1, ended: 'samples' | 'hand' = 'samples'): EncodeTask {
  const pixels = 24 * 16;
  const { stride } = filmLayout(frame!);
  const shared = (n: number): Float32Array => new Float32Array(new SharedArrayBuffer(n * 4));
  const [colour, sums] = [shared(pixels * 3), shared(pixels * stride)];
  colour.forEach((_, i) => (colour[i] = (light * (i % 97)) / 97));
  for (let i = 0; i < pixels; i++) sums[i * stride + L.PIXEL_COVERAGE] = 1;
  return { frame: frame!, traced: { width: 24, height: 16, colour, sums, stride, samples: 4, ended }, names: { parts: ['a'], materials: ['b'] } };
}

describe('pictures finished in a thread', () => {
  it('have the same bytes as those finished here', async () => {
    const finisher = new OutputWorkers(2, 0);
    const here = await encodeFrame(task());
    const there = await Promise.all(Array.from({ length: 5 }, () => finisher.finish(task())));
    for (const { files } of there) {
      expect(files.map((f) => f.name)).toEqual(here.files.map((f) => f.name));
      files.forEach((f, i) => expect(f.bytes.equals(here.files[i]!.bytes)).toBe(true));
      for (const f of files) expect(f.sha256).toBe(createHash('sha256').update(f.bytes).digest('hex'));
    }
    await finisher.close();
  });

  it('that are black are told so, by the error that is told here', async () => {
    const finisher = new OutputWorkers(2, 0);
    await expect(finisher.finish(task(0))).rejects.toMatchObject({ name: 'PictureError', message: expect.stringContaining('black') as string });
    // The thread goes on.
    expect((await finisher.finish(task())).files).toHaveLength(3);
    await finisher.close();
  });

  it('that were ended early keep what was summed up, and it is read again there', async () => {
    const finisher = new OutputWorkers(2, 0);
    const { film } = await finisher.finish(task(1, 'hand'));
    expect(decodeCheckpoint(film!)!.identity).toBe(frame!.identity);
    const again = await finisher.decodeFilm(film!);
    expect([again!.samples, again!.sums.length]).toEqual([4, (task().traced as TracedFrame).sums.length]);
    expect(await finisher.decodeFilm(Uint8Array.from([1, 2, 3]))).toBeNull();
    await finisher.close();
  });
});
