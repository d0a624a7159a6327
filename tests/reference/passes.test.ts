import sharp from 'sharp';
import { lineCover } from '../../src/core/image/lineCover.js';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { afterAll, describe, expect, it } from 'vitest';
import { EXR_COMPRESSIONS, type Frame } from '../../src/core/frame/frame.js';
import { compileAssignments, materialAssignmentsSchema } from '../../src/core/materials/assignments.js';
import { writeExr } from '../../src/formats/exr/write.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { compile } from '../../src/engine/scene/compile.js';
import { resolveScene } from '../../src/engine/scene/resolveScene.js';
import { cryptomatteHash } from '../../src/engine/upload/memoryViews.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool } from '../../src/engine/node/threads.js';
import { passPlane } from '../../src/engine/output/passes.js';
import { renderFrame } from '../../src/engine/output/renderFrame.js';
import { frameFor, WHITE } from '../support/trace.js';

type Vec3 = [number, number, number];
const pool = startPool(2);
afterAll(() => pool.close());

const model = modelOf('still life', [
  { mesh: new MeshMaker().quad([-3, 0, 3], [6, 0, 0], [0, 0, -6]).mesh(), material: { name: 'table', base: [0.5, 0.4, 0.3] as Vec3 } },
  { mesh: sphere(48), material: { name: 'ball', base: [0.8, 0.2, 0.2] as Vec3, roughness: 0.2 } },
]);
for (let i = 1; i < model.meshes[1]!.positions.length; i += 3) model.meshes[1]!.positions[i]! += 1;
model.materials[0]!.name = 'table';
model.materials[1]!.name = 'ball';
const scene = compile(loadKernelModule(), model);

function frame(values: Partial<Frame> = {}): Frame {
  const lights = [{ kind: 'sun' as const, direction: [-0.6, -0.8, 0] as Vec3, radius: 0.02, irradiance: [2, 2, 2] as Vec3 }];
  const base = frameFor(model, {
    eye: [0, 2.5, 6],
    target: [0, 0.8, 0],
    width: 64,
    height: 48,
    samples: 64,
    bounces: 3,
    stage: { environment: WHITE, backdrop: WHITE, lights },
  });
  return { ...base, ...values };
}

describe('passes of one run', () => {
  it('diffuse, specular and emission add up to the beauty', async () => {
    const picture = await pool.render('s', () => scene, frame({ passes: ['beauty', 'diffuse', 'specular', 'emission'] }));
    const [d, s, e] = (['diffuse', 'specular', 'emission'] as const).map((id) => passPlane(picture, id)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const off = picture.colour.map((c, i) => Math.abs(c - d[i]! - s[i]! - e[i]!));
    expect(Math.max(...off)).toBeLessThan(1e-4);
    // All of them hold something, and the backdrop is emission alone.
    for (const plane of [d, s, e]) expect(Math.max(...plane)).toBeGreaterThan(0.05);
    expect([d[0], s[0], e[0]]).toEqual([0, 0, 1]);
    picture.release();
  });

  it('mattes name part and finish with their coverage, depth and position tell where', async () => {
    const picture = await pool.render(
      's',
      () => scene,
      frame({ passes: ['beauty', 'parts', 'materials', 'depth', 'position', 'shadow', 'occlusion'] }),
    );
    const at = 24 * 64 + 32;
    const parts = passPlane(picture, 'parts');
    const bits = new Uint32Array(parts.buffer);
    expect([bits[at * 8], parts[at * 8 + 1]]).toEqual([cryptomatteHash('part 2'), 1]);
    expect(new Uint32Array(passPlane(picture, 'materials').buffer)[at * 8]).toBe(cryptomatteHash('ball'));
    // Coverage of every pixel adds up to what is covered.
    for (let p = 0; p < 64 * 48; p++)
      expect(parts[p * 8 + 1]! + parts[p * 8 + 3]! + parts[p * 8 + 5]! + parts[p * 8 + 7]!).toBeLessThanOrEqual(1.0001);
    const position = passPlane(picture, 'position').subarray(at * 3, at * 3 + 3);
    expect(Math.hypot(position[0]!, position[1]! - 1, position[2]!)).toBeCloseTo(1, 2);
    const depth = passPlane(picture, 'depth')[at]!;
    const forward = [0, -1.7, -6].map((c) => c / Math.hypot(1.7, 6)) as Vec3;
    expect(depth).toBeCloseTo(forward[1] * (position[1]! - 2.5) + forward[2] * (position[2]! - 6), 2);
    // The table is open in front and closed in beneath the ball; the sun leaves a shadow beside it.
    const openness = passPlane(picture, 'occlusion');
    expect(Math.min(...openness)).toBeLessThan(0.6);
    expect(Math.max(...openness)).toBe(1);
    const shadow = passPlane(picture, 'shadow');
    expect(shadow.filter((v) => v === 0).length).toBeGreaterThan(10);
    expect(shadow.filter((v) => v === 1).length).toBeGreaterThan(500);
    picture.release();
  });

  it('lines follow outline and creases, and hidden ones are not drawn', async () => {
    const box = modelOf('box', [
      { mesh: new MeshMaker().box([-1, 0, -1], [1, 2, 1]).mesh() },
      // A small box wholly behind the first.
      { mesh: new MeshMaker().box([-0.3, 0.5, -3], [0.3, 1.5, -2]).mesh() },
    ]);
    const both = compile(loadKernelModule(), box);
    const one = compile(loadKernelModule(), modelOf('one', [{ mesh: box.meshes[0]! }]));
    const view = {
      ...frameFor(box, { eye: [0, 1, 8], target: [0, 1, 0], width: 96, height: 96, samples: 1, stage: { environment: WHITE } }),
      passes: ['beauty', 'lines'] as Frame['passes'],
    };
    const drawn = async (hash: string, s: typeof both) => {
      const picture = await pool.render(hash, () => s, view);
      const lines = lineCover(picture.lines!, 1.2);
      picture.release();
      return lines;
    };
    const [a, b] = [await drawn('both', both), await drawn('one', one)];
    expect(a.reduce((s, v) => s + v, 0)).toBeGreaterThan(100);
    expect(Buffer.from(a.buffer).equals(Buffer.from(b.buffer))).toBe(true);
  });

  it('curves of the model are drawn where they are in the picture, and end where a plane cuts', async () => {
    const box = modelOf('box', [{ mesh: new MeshMaker().box([-1, 0, -1], [1, 2, 1]).mesh() }]);
    // Across the box's front, out to both sides of it.
    const points = [-1.8, 1, 1.01, 1.8, 1, 1.01];
    const part = { ...box.parts[0]!, name: 'Curve', path: 'Curve', primitives: [] };
    const withCurve = (renderVisible: boolean) =>
      compile(loadKernelModule(), { ...box, parts: [...box.parts, { ...part, renderVisible }], curves: [{ part: 1, points }] });
    const frame = {
      ...frameFor(box, { eye: [0, 1, 8], target: [0, 1, 0], width: 96, height: 96, samples: 1, stage: { environment: WHITE } }),
      passes: ['beauty', 'lines'] as Frame['passes'],
    };
    const cut: Frame = { ...frame, section: { planes: [{ normal: [1, 0, 0], offset: 1.4, thickness: 0 }], caps: true } as never };
    const row = async (hash: string, renderVisible: boolean, f: Frame) => {
      const picture = await pool.render(hash, () => withCurve(renderVisible), f);
      const { width } = picture;
      const middle = Array.from(lineCover(picture.lines!.slice(48 * width - width, 48 * width + width), 1.2));
      picture.release();
      return middle.reduce((s, v) => s + v, 0);
    };
    const without = await row('curve-out', false, frame);
    const whole = await row('curve-in', true, frame);
    const shorter = await row('curve-in', true, cut);
    // In the front plane a metre is 96 / (2 · 6.99 · tan) pixels; here only their proportion counts: 3.6 m, then 3.2 m.
    expect(whole - without).toBeGreaterThan(20);
    expect((shorter - without) / (whole - without)).toBeCloseTo(3.2 / 3.6, 1);
  });
});

describe('OpenEXR', () => {
  const read = (file: Buffer) => {
    const loader = new EXRLoader();
    loader.setDataType(FloatType);
    return loader.parse(file.buffer.slice(file.byteOffset, file.byteOffset + file.length) as ArrayBuffer) as {
      width: number;
      height: number;
      data: Float32Array;
    };
  };

  it.each(EXR_COMPRESSIONS)("is read by three's loader: halves and floats, value by value, rows in order, compression %s", (compression) => {
    for (const type of ['half', 'float'] as const) {
      const [width, height] = [37, 41];
      const plane = (k: number) => Float32Array.from({ length: width * height }, (_, i) => (((i * 7919 + k * 31) % 2000) - 500) / 64);
      const channels = ['R', 'G', 'B'].map((name, k) => ({ name, type, data: plane(k) }));
      const image = read(writeExr({ width, height, channels, compression }));
      expect([image.width, image.height]).toEqual([width, height]);
      // The loader's rows go from the bottom up.
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          for (let c = 0; c < 3; c++)
            expect(image.data[((height - 1 - y) * width + x) * 4 + c]).toBeCloseTo(channels[c]!.data[y * width + x]!, type === 'half' ? 1 : 5);
        }
      }
    }
  });

  it('refuses a channel of another size', () => {
    expect(() => writeExr({ width: 4, height: 4, channels: [{ name: 'R', type: 'half', data: new Float32Array(3) }] })).toThrow(
      '3 values for 16 pixels',
    );
  });

  it('of a frame holds beauty with alpha, and names its mattes for readers of Cryptomatte', async () => {
    const planned = frame({ passes: ['beauty', 'parts'], transparent: true, files: [{ type: 'exr', bits: 32, quality: 100 }] });
    const { files } = await renderFrame(pool, source, { ...planned, name: 'a', passNames: ['a', 'a_parts'] });
    expect(files.map((f) => f.name)).toEqual(['a.exr']);
    const image = read(files[0]!.bytes);
    // Corner: nothing there; middle: the ball, opaque.
    expect(image.data[(47 * 64 + 0) * 4 + 3]).toBe(0);
    expect(image.data[(24 * 64 + 32) * 4 + 3]).toBe(1);
    const text = files[0]!.bytes.toString('latin1');
    expect(text).toContain('MurmurHash3_32');
    expect(text).toContain(`"part 2":"${cryptomatteHash('part 2').toString(16).padStart(8, '0')}"`);
    expect(text).toContain('parts00.R');
  });

  it('names every label that lies in its mattes: assigned materials, the ground, a cap', async () => {
    const assigned = compileAssignments(materialAssignmentsSchema.parse({ rules: [{ match: 'part 2', material: 'brushed brass' }] }))!;
    const planned = frame({ passes: ['materials', 'parts'], files: [{ type: 'exr', bits: 32, quality: 100 }], materials: assigned });
    const cut = { planes: [{ normal: [0, 0, 1] as [number, number, number], offset: 0.3 }], cap: [0.8, 0.2, 0.1] as [number, number, number] };
    const base = {
      ...planned.stage,
      base: { height: -1, x: 0, z: 0, inner: 20, outer: 30, colour: [0.5, 0.5, 0.5] as [number, number, number], roughness: 1, shadowCatcher: false },
    };
    const asked = { ...planned, name: 'a', passNames: ['a', 'a'], section: cut, stage: base };
    const picture = await pool.render(source.hash + assigned.id, resolveScene(asked, source).load, asked);
    const labels = new Set<number>();
    for (const id of ['materials', 'parts'] as const) {
      const plane = passPlane({ ...picture, own: {} }, id);
      const bits = new Uint32Array(plane.buffer, plane.byteOffset, plane.length);
      for (let i = 0; i < bits.length; i += 2) if (plane[i + 1]! > 0) labels.add(bits[i]!);
    }
    picture.release();
    const { files } = await renderFrame(pool, source, asked);
    const text = files[0]!.bytes.toString('latin1');
    const told = new Map([...text.matchAll(/\{"[^{}]*"\}/g)].flatMap((m) => Object.entries(JSON.parse(m[0]) as Record<string, string>)));
    expect([...told.keys()]).toEqual(expect.arrayContaining(['brushed brass', 'Ground', 'Cap', 'part 2']));
    const known = new Set([...told.values()].map((hex) => parseInt(hex, 16)));
    labels.delete(0);
    expect(labels.size).toBeGreaterThan(3);
    expect([...labels].filter((l) => !known.has(l))).toEqual([]);
  });

  it('labels are MurmurHash3 of the name', () => {
    // Test vectors of the reference implementation, seed 0, from memory: "" 0, "hello" 248bfa47, "hello, world" 149bbb7f.
    expect(cryptomatteHash('hello').toString(16)).toBe('248bfa47');
    expect(cryptomatteHash('hello, world').toString(16)).toBe('149bbb7f');
  });
});

const source = {
  hash: 's',
  scene: () => scene,
  module: loadKernelModule,
  texture: () => Promise.reject(new Error('none')),
  picture: () => Promise.reject(new Error('no picture')),
};

describe('files of passes', () => {
  it('are one a pass, beauty with straight alpha', async () => {
    const planned = frame({ passes: ['beauty', 'normal', 'clay'], transparent: true, files: [{ type: 'png', bits: 8, quality: 100 }] });
    const { files } = await renderFrame(pool, source, { ...planned, name: 'b', passNames: ['b', 'b_normal', 'b_clay'] });
    expect(files.map((f) => f.name)).toEqual(['b.png', 'b_normal.png', 'b_clay.png']);
    expect((await sharp(files[0]!.bytes).metadata()).channels).toBe(4);
    expect((await sharp(files[1]!.bytes).metadata()).channels).toBe(3);
    // Clay has no colour of its own: red and blue differ by the clay's warmth alone.
    const clay = await sharp(files[2]!.bytes).raw().toBuffer();
    const at = (24 * 64 + 32) * 3;
    expect(Math.abs(clay[at]! - clay[at + 2]!)).toBeLessThan(30);
  });
});

describe('ending the sampling', () => {
  it('by time, by hand, and going on from there to the same bits', async () => {
    const long = frame({ passes: ['beauty'] });
    const sampling = { ...long.sampling, samples: 65_536, seconds: 0.4 };
    const timed = await pool.render('s', () => scene, { ...long, sampling });
    expect(timed.ended).toBe('time');
    expect(timed.samples).toBeLessThan(65_536);
    expect(timed.samples & (timed.samples - 1)).toBe(0);
    timed.release();
    const enough = new AbortController();
    const rounds: number[] = [];
    const taken = await pool.render(
      's',
      () => scene,
      { ...long, sampling: { ...sampling, seconds: 0 } },
      {
        enough: enough.signal,
        onRound: ({ samples }) => {
          rounds.push(samples);
          if (samples === 8) enough.abort();
        },
      },
    );
    expect([taken.ended, rounds.slice(0, 4)]).toEqual(['hand', [1, 2, 4, 8]]);
    taken.release();
    // 16 samples, then on to 64, are the 64 of one run.
    const short = await pool.render(
      's',
      () => scene,
      { ...long, sampling: { ...long.sampling, samples: 64, seconds: 0 } },
      { onRound: () => undefined },
    );
    const whole = await pool.render('s', () => scene, { ...long, sampling: { ...long.sampling, samples: 64 } });
    expect(Buffer.from(short.colour.slice().buffer).equals(Buffer.from(whole.colour.slice().buffer))).toBe(true);
    short.release();
    whole.release();
  });
});
