import { describe, expect, it } from 'vitest';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { FloatType } from 'three';
import * as L from '../../../kernel/layout.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { roundToHalf } from '../../core/image/half.js';
import { parseSet } from '../../core/plan/set.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { filmLayout } from '../upload/filmLayout.js';
import { type Development, developFrame } from './develop.js';
import { encodeFrame, type TracedFrame } from './encodeFrame.js';
import { decodeMaster } from './master.js';

const [width, height] = [24, 16];
const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  sheet: { size: { width, height }, files: [{ type: 'png', bits: 16 }, { type: 'jpeg' }, { type: 'exr', bits: 16 }] },
  views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
  shots: [{ id: 's', kind: 'still', views: ['v'] }],
});
const [planned] = planFrames(set, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 'abc' });
const frameWith = (values: Partial<Frame>): Frame => {
  const passNames = (values.passes ?? planned!.passes).map((p) => `still_${p}`);
  return withFrame(planned!, { ...values, name: passNames[0]!, passNames });
};
const names = { parts: ['a'], materials: ['b'] };

/** Numbers that look like noise, and are the same in every run. */
function noise(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}

function traced(frame: Frame): TracedFrame {
  const next = noise(7);
  const { stride } = filmLayout(frame);
  const samples = 16;
  const sums = Float32Array.from({ length: width * height * stride }, () => next() * samples);
  for (let i = 0; i < width * height; i++) {
    sums[i * stride + L.PIXEL_COUNT] = samples;
    sums[i * stride + L.PIXEL_COVERAGE] = samples;
    sums[i * stride + L.PIXEL_ALPHA] = (i % 5) * 4;
  }
  const colour = Float32Array.from({ length: width * height * 3 }, () => next() ** 4 * 3);
  const lines = Float32Array.from({ length: width * height }, (_, i) => (i % 7 === 0 ? 2.5 * next() : 10.5));
  return {
    width,
    height,
    colour,
    sums,
    stride,
    samples,
    ended: 'samples',
    ...((frame.lines || frame.passes.includes('lines')) && { lines }),
    ...(frame.passes.includes('clay') && { clay: colour.slice().reverse() }),
  };
}

const masterOf = async (frame: Frame): Promise<Buffer> =>
  Buffer.from((await encodeFrame({ frame, traced: traced(frame), names, keepMaster: true })).master!);
const filesOf = async (frame: Frame, picture = traced(frame)) => (await encodeFrame({ frame, traced: picture, names })).files;
function developed(made: Development): Extract<Development, { kind: 'files' }> {
  if (made.kind !== 'files') throw new Error(made.kind);
  return made;
}

describe('files developed of a master', () => {
  const passes: Frame['passes'] = ['beauty', 'diffuse', 'shadow', 'depth', 'normal', 'parts', 'alpha', 'clay', 'lines'];
  it.each([
    ['beauty alone', {}],
    ['every kind of pass', { passes }],
    ['a clear backdrop', { transparent: true }],
    ['lines drawn over it', { lines: { width: 1, colour: [0.1, 0.2, 0.9] as const } }],
    ['no filter', { sampling: { ...planned!.sampling, denoise: false } }],
  ] as [string, Partial<Frame>][])('are those of the render, to the last byte: %s', async (_, values) => {
    const frame = frameWith(values);
    const made = developed(await developFrame(frame, decodeMaster(await masterOf(frame)), names));
    expect([made.exact, made.samples]).toEqual([true, 16]);
    const direct = await filesOf(frame);
    expect(made.files.map((f) => f.name)).toEqual(direct.map((f) => f.name));
    made.files.forEach((f, i) => expect([f.name, f.bytes.equals(direct[i]!.bytes)]).toEqual([f.name, true]));
  });

  it('in another grade, type, weight and colour of lines are those of a render with these', async () => {
    const lines = { width: 1, colour: [0, 0, 0] as [number, number, number] };
    const master = decodeMaster(await masterOf(frameWith({ lines })));
    const other = frameWith({
      lines: { width: 3.4, colour: [1, 0.5, 0] },
      grade: { ...planned!.grade, exposure: -1.5 },
      files: [{ type: 'png', bits: 8, quality: 90 }],
    });
    const made = developed(await developFrame(other, master, names));
    const direct = await filesOf(other);
    expect(made.files).toHaveLength(1);
    expect(made.files[0]!.bytes.equals(direct[0]!.bytes)).toBe(true);
    expect(made.files[0]!.bytes.equals((await filesOf(frameWith({ lines })))[1]!.bytes)).toBe(false);
  });

  it('without the filter show what was traced, and say that they are not those of a render', async () => {
    const frame = frameWith({});
    const picture = traced(frame);
    const plain = Float32Array.from({ length: width * height * 3 }, (_, i) => picture.sums[Math.floor(i / 3) * picture.stride + (i % 3)]! / 16);
    const off = frameWith({ sampling: { ...planned!.sampling, denoise: false } });
    const made = developed(await developFrame(off, decodeMaster(await masterOf(frame)), names));
    expect(made.exact).toBe(false);
    const direct = await filesOf(off, { ...picture, colour: plain });
    made.files.forEach((f, i) => expect(f.bytes.equals(direct[i]!.bytes)).toBe(true));
  });

  it('with the filter ask for it first, with sums that are within a part in 2048 of the film’s', async () => {
    const off = frameWith({ sampling: { ...planned!.sampling, denoise: false } });
    const master = decodeMaster(await masterOf(off));
    const on = frameWith({});
    const asked = await developFrame(on, master, names);
    if (asked.kind !== 'film') throw new Error(asked.kind);
    const { sums, stride } = traced(off);
    let worst = 0;
    for (let i = 0; i < width * height; i++)
      for (let k = 0; k < L.PIXEL_FLOATS; k++) {
        const was = sums[i * stride + k]!;
        worst = Math.max(worst, Math.abs(asked.film.sums[i * asked.film.stride + k]! - was) / Math.max(was, 1e-3));
      }
    expect(asked.film.samples).toBe(16);
    expect(worst).toBeLessThan(1 / 2000);
    const beauty = traced(off).colour;
    const made = developed(await developFrame(on, master, names, beauty));
    expect(made.exact).toBe(false);
    const direct = await filesOf(on, { ...traced(on), colour: beauty });
    made.files.forEach((f, i) => expect(f.bytes.equals(direct[i]!.bytes)).toBe(true));
  });

  it('in single precision need a master in it', async () => {
    const single = frameWith({ files: [{ type: 'exr', bits: 32, quality: 90 }] });
    expect((await developFrame(single, decodeMaster(await masterOf(frameWith({}))), names)).kind).toBe('unfit');
    const made = developed(await developFrame(single, decodeMaster(await masterOf(single)), names));
    expect(made.files[0]!.bytes.equals((await filesOf(single))[0]!.bytes)).toBe(true);
    // Of such a master the others are made as well.
    const both = developed(await developFrame(frameWith({}), decodeMaster(await masterOf(single)), names));
    const direct = await filesOf(frameWith({}));
    both.files.forEach((f, i) => expect(f.bytes.equals(direct[i]!.bytes)).toBe(true));
  });

  it('cannot be had with the filter put on or off where clay was filtered with beauty', async () => {
    const clay = frameWith({ passes: ['beauty', 'clay'] });
    const off = withFrame(clay, { sampling: { ...clay.sampling, denoise: false } });
    expect((await developFrame(off, decodeMaster(await masterOf(clay)), names)).kind).toBe('unfit');
  });
});

describe('a master', () => {
  it('is an OpenEXR file whose beauty another reader finds, at half precision', async () => {
    const frame = frameWith({});
    const bytes = await masterOf(frame);
    const loader = new EXRLoader();
    loader.setDataType(FloatType);
    const read = loader.parse(new Uint8Array(bytes).buffer) as { width: number; height: number; data: Float32Array };
    expect([read.width, read.height]).toEqual([width, height]);
    const beauty = roundToHalf(traced(frame).colour);
    // That reader has rows from the bottom.
    for (const [x, y] of [
      [0, 0],
      [23, 0],
      [5, 11],
    ] as const)
      for (let c = 0; c < 3; c++) expect(read.data[((height - 1 - y) * width + x) * 4 + c]).toBe(beauty[(y * width + x) * 3 + c]);
  });

  it('is not made of a still that was ended early', async () => {
    const frame = frameWith({});
    const early = await encodeFrame({ frame, traced: { ...traced(frame), ended: 'hand' }, names, keepMaster: true });
    expect([early.master, early.film !== undefined]).toEqual([undefined, true]);
  });

  it('that is damaged or of something else is refused', async () => {
    const bytes = await masterOf(frameWith({}));
    expect(() => decodeMaster(bytes.subarray(0, bytes.length / 2))).toThrow();
    expect(() => decodeMaster(Buffer.from('something else'))).toThrow();
    const other = (await filesOf(frameWith({ files: [{ type: 'exr', bits: 16, quality: 90 }] })))[0]!.bytes;
    expect(() => decodeMaster(other)).toThrow('another version');
  });
});
