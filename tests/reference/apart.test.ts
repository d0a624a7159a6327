/**
 * Light apart: by what it comes from, and by layer. Light is additive, so each light's pass is the render in which only that
 * light shines; layers are put together by the over operator (Porter and Duff, "Compositing Digital Images", 1984).
 */
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import type { Frame } from '../../src/core/frame/frame.js';
import { PASSES, type PassId } from '../../src/core/image/passes.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import type { Light } from '../../src/core/stage/light.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool } from '../../src/engine/node/threads.js';
import { passPlane } from '../../src/engine/output/passes.js';
import { renderFrame } from '../../src/engine/output/renderFrame.js';
import { compile } from '../../src/engine/scene/compile.js';
import { readExr } from '../../src/formats/exr/read.js';
import { frameFor, WHITE } from '../support/trace.js';

type Vec3 = [number, number, number];
const pool = startPool(2);
afterAll(() => pool.close());

const ball = sphere(48);
for (let i = 1; i < ball.positions.length; i += 3) ball.positions[i]! += 1;
/** A ball, a small shining quad above it and a pane of clear glass beside it, on no ground of their own. */
const model = modelOf('still life', [
  { mesh: ball, material: { name: 'ball', base: [0.8, 0.2, 0.2], roughness: 0.3 } },
  {
    mesh: new MeshMaker().quad([-0.3, 2.6, 0.3], [0.6, 0, 0], [0, 0, -0.6]).mesh(),
    material: { name: 'glow', base: [0, 0, 0], emission: [3, 3, 2] },
  },
  {
    mesh: new MeshMaker().quad([1.3, 0.01, 0.4], [1, 0, 0], [0, 1.6, 0]).mesh(),
    material: { name: 'pane', base: [0.8, 0.9, 1], transmission: 1, roughness: 0, thin: true },
  },
]);
const scene = compile(loadKernelModule(), model);
const bare = compile(loadKernelModule(), modelOf('nothing', [{ mesh: new MeshMaker().quad([90, 80, 90], [0.01, 0, 0], [0, 0.01, 0]).mesh() }]));

const SUN: Light = { kind: 'sun', direction: [-0.6, -0.8, 0], radius: 0.02, irradiance: [2, 2, 2] };
const LIGHTS: Light[] = [
  { kind: 'rectangle', centre: [3, 3, 3], u: [1, 0, 0], v: [0, -0.7, 0.7], radiance: [4, 4, 4] },
  { kind: 'point', centre: [-3, 2, 2], intensity: [6, 5, 4] },
];
const plane = (shadowCatcher = false): Frame['stage']['base'] => ({
  height: 0,
  x: 0,
  z: 0,
  inner: 5,
  outer: 9,
  colour: [0.5, 0.45, 0.4],
  roughness: 1,
  shadowCatcher,
});
const ENVIRONMENT = { top: [0.3, 0.4, 0.6] as Vec3, middle: [0.5, 0.5, 0.5] as Vec3, bottom: [0.1, 0.1, 0.1] as Vec3 };
const BACKDROP = { top: [0.8, 0.8, 0.9] as Vec3, middle: [0.9, 0.9, 0.9] as Vec3, bottom: [0.7, 0.7, 0.7] as Vec3 };

const idsOf = (group: string): PassId[] => PASSES.filter((p) => p.group === group).map((p) => p.id);
const SOURCES = idsOf('sources');
const LAYERS = idsOf('layers');

function frame(values: Partial<Frame> = {}, samples = 64): Frame {
  const stage = { environment: ENVIRONMENT, backdrop: BACKDROP, lights: [SUN, ...LIGHTS], base: plane() };
  const base = frameFor(model, { eye: [0, 2.5, 7], target: [0, 0.8, 0], width: 64, height: 48, samples, bounces: 3, stage });
  return { ...base, passes: ['beauty', ...SOURCES, ...LAYERS], ...values };
}

type Planes = Record<string, Float32Array> & { beauty: Float32Array };

/** The passes of a frame, each as its own numbers. */
async function planesOf(asked: Frame, of = scene): Promise<Planes> {
  const picture = await pool.render(of === scene ? 'still life' : 'bare', () => of, asked);
  const film = { ...picture, transparent: asked.transparent };
  const planes = Object.fromEntries(asked.passes.map((id) => [id, passPlane(film, id).slice()])) as Planes;
  picture.release();
  return planes;
}

/** The layers put over one another, RGB a pixel. */
function composed({ subject, ground, backdrop, 'ground-shadow': shadow }: Planes): Float32Array {
  return backdrop!.map((behind, i) => {
    const [at, c] = [Math.floor(i / 3) * 4, i % 3];
    const below = shadow![i]! * (ground![at + c]! + (1 - ground![at + 3]!) * behind);
    return subject![at + c]! + (1 - subject![at + 3]!) * below;
  });
}

const most = (values: Float32Array): number => values.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
const mean = (values: Float32Array, keep: (i: number) => boolean = () => true): number => {
  const kept = values.filter((_, i) => keep(i));
  return kept.reduce((s, v) => s + v, 0) / kept.length;
};

describe('light by its source', () => {
  it.each([false, true])('adds up to beauty, filtered for noise: %s', async (denoise) => {
    const asked = frame();
    const planes = await planesOf({ ...asked, sampling: { ...asked.sampling, denoise } }, scene);
    const sum = planes.beauty.map((_, i) => SOURCES.reduce((s, id) => s + planes[id]![i]!, 0));
    expect(most(sum.map((v, i) => v - planes.beauty[i]!))).toBeLessThan(1e-5);
    for (const id of ['surroundings', 'sunlight', 'model-lights', 'light-1', 'light-2']) expect.soft(most(planes[id]!), id).toBeGreaterThan(0.05);
    for (const id of ['light-3', 'light-8']) expect(most(planes[id]!)).toBe(0);
  });

  it('is, of each, what a render shows in which only that one shines', async () => {
    const asked = frame({}, 128);
    const all = await planesOf(asked);
    const nothing = { top: [0, 0, 0] as Vec3, middle: [0, 0, 0] as Vec3, bottom: [0, 0, 0] as Vec3 };
    const dark = { ...asked.stage, environment: nothing, backdrop: nothing };
    const beauty = async (s: Frame['stage']): Promise<number> => mean((await planesOf({ ...asked, stage: s, passes: ['beauty'] })).beauty);
    // What shines of the model cannot be put out: it is subtracted.
    const glow = await beauty({ ...dark, lights: [] });
    const alone = async (stage: Frame['stage']): Promise<number> => (await beauty(stage)) - glow;
    const expected: [string, number][] = [
      ['sunlight', await alone({ ...dark, lights: [SUN] })],
      ['light-1', await alone({ ...dark, lights: [LIGHTS[0]!] })],
      ['light-2', await alone({ ...dark, lights: [LIGHTS[1]!] })],
      ['surroundings', await alone({ ...asked.stage, lights: [] })],
      ['model-lights', glow],
    ];
    // 128 samples in 3 072 pixels: the mean of either is known to about three quarters of a per cent.
    for (const [id, value] of expected) expect.soft(mean(all[id]!) / value, id).toBeCloseTo(1, 1.5);
  }, 60_000);
});

describe('layers', () => {
  it.each([
    ['a ground that fades', false, {}],
    ['a ground that fades, filtered for noise', true, {}],
    ['a ground that only catches shadows', false, { base: plane(true) }],
    ['no ground', false, { base: null }],
    ['surroundings that are all the light', false, { lights: [] }],
  ] as [string, boolean, Partial<Frame['stage']>][])('are beauty again when they are put together: %s', async (_, denoise, stage) => {
    const asked = frame();
    const planes = await planesOf({ ...asked, stage: { ...asked.stage, ...stage }, sampling: { ...asked.sampling, denoise } });
    expect(most(composed(planes).map((v, i) => v - planes.beauty[i]!))).toBeLessThan(1e-5);
    // Alone on the ball, none of it in a corner.
    const at = (24 * 64 + 32) * 4;
    expect([planes.subject![at + 3], planes.subject![3]]).toEqual([1, 0]);
  });

  it('have the ground as it is without the subject, and its shadow apart', async () => {
    const asked = frame({}, 256);
    const { ground, subject, 'ground-shadow': shadow } = await planesOf(asked);
    const { beauty } = await planesOf({ ...asked, passes: ['beauty'] }, bare);
    // Where the ground is whole, and no part of the subject is before it.
    const whole = (pixel: number): boolean => ground![pixel * 4 + 3]! > 0.999 && subject![pixel * 4 + 3] === 0;
    const dark = (pixel: number): boolean => whole(pixel) && shadow![pixel * 3]! < 0.8;
    const rgb = ground!.filter((_, i) => i % 4 !== 3);
    const ratio = (keep: (pixel: number) => boolean): number =>
      mean(rgb, (i) => keep(Math.floor(i / 3))) / mean(beauty, (i) => keep(Math.floor(i / 3)));
    const count = Array.from({ length: 64 * 48 }, (_, i) => i).filter(dark).length;
    expect(count).toBeGreaterThan(40);
    // The subject also throws light onto the ground, which is no shadow: a few per cent at most.
    expect(ratio(whole)).toBeGreaterThan(0.99);
    expect(ratio(whole)).toBeLessThan(1.06);
    expect(ratio(dark)).toBeGreaterThan(0.95);
    expect(ratio(dark)).toBeLessThan(1.15);
  }, 60_000);

  it('show through glass what is behind it, and what the glass mirrors with the subject', async () => {
    const asked = frame({}, 64);
    const planes = await planesOf({ ...asked, stage: { ...asked.stage, base: null, environment: WHITE, backdrop: WHITE, lights: [] } });
    const { subject, backdrop } = planes;
    const pane = Array.from({ length: 64 * 48 }, (_, i) => i).filter((i) => subject![i * 4 + 3]! > 0.1 && subject![i * 4 + 3]! < 0.4);
    expect(pane.length).toBeGreaterThan(50);
    // The pane lets 0.8, 0.9 and 1 of it through.
    const colour = [0, 1, 2].map((c) => pane.reduce((s, i) => s + backdrop![i * 3 + c]!, 0) / pane.length);
    expect(colour[0]! / colour[2]!).toBeCloseTo(0.8, 1);
    expect(colour[1]! / colour[2]!).toBeCloseTo(0.9, 1);
    // What it mirrors of white, 2f / (1 + f), is with the subject: premultiplied, and no more than its cover.
    const mirrored = pane.reduce((s, i) => s + subject![i * 4 + 2]!, 0) / pane.length;
    expect(mirrored).toBeGreaterThan(0.05);
    expect(mirrored).toBeLessThan(0.2);
  });

  it('keep the shadow of a clear picture in its factor', async () => {
    const asked = frame();
    const planes = await planesOf({ ...asked, transparent: true, stage: { ...asked.stage, base: plane(true) } });
    const shadow = planes['ground-shadow']!;
    expect(Math.min(...shadow)).toBeLessThan(0.6);
    expect(shadow.filter((v) => v === 1).length).toBeGreaterThan(1000);
  });
});

describe('translucent', () => {
  it('is the light from behind a thin sheet, and none of that from before it', async () => {
    const sheet = modelOf('sheet', [
      {
        mesh: new MeshMaker().quad([-1, 0, 0], [2, 0, 0], [0, 2, 0]).mesh(),
        material: { name: 'paper', base: [0.9, 0.9, 0.9], translucency: 0.5, specular: 0 },
      },
    ]);
    const lit = compile(loadKernelModule(), sheet);
    const from = async (z: number): Promise<[number, number]> => {
      const lights: Light[] = [{ kind: 'point', centre: [0, 1, z], intensity: [9, 9, 9] }];
      const asked = frameFor(sheet, { eye: [0, 1, 5], target: [0, 1, 0], width: 16, height: 16, samples: 16, bounces: 1, stage: { lights } });
      const picture = await pool.render(`sheet ${z}`, () => lit, { ...asked, passes: ['beauty', 'translucent'] });
      const values: [number, number] = [mean(passPlane(picture, 'translucent')), mean(picture.colour)];
      picture.release();
      return values;
    };
    const [behind, all] = await from(-2);
    expect(all).toBeGreaterThan(0.05);
    expect(behind / all).toBeCloseTo(1, 5);
    const [none, front] = await from(2);
    expect([none, front > 0.05]).toEqual([0, true]);
  });
});

describe('files', () => {
  const source = {
    hash: 'still life',
    scene: () => scene,
    module: loadKernelModule,
    texture: () => Promise.reject(new Error('none')),
    picture: () => Promise.reject(new Error('none')),
  };

  it('are one OpenEXR with a layer each, and clear PNGs', async () => {
    const asked = frame(
      {
        files: [
          { type: 'exr', bits: 32, quality: 100 },
          { type: 'png', bits: 16, quality: 100 },
        ],
      },
      16,
    );
    const { files } = await renderFrame(pool, source, { ...asked, name: 'a', passNames: asked.passes.map((p) => `a_${p}`) });
    const { channels } = readExr(files.find((f) => f.name === 'a.exr')!.bytes);
    const read = (id: string, names: string[]): Float32Array => {
      const planes = names.map((n) => channels.get(id ? `${id}.${n}` : n)!);
      return Float32Array.from({ length: planes[0]!.length * names.length }, (_, i) => planes[i % names.length]![Math.floor(i / names.length)]!);
    };
    const [rgb, rgba] = [
      ['R', 'G', 'B'],
      ['R', 'G', 'B', 'A'],
    ];
    const layers = {
      beauty: read('', rgb),
      subject: read('subject', rgba),
      ground: read('ground', rgba),
      backdrop: read('backdrop', rgb),
      'ground-shadow': read('ground-shadow', rgb),
    };
    expect(most(composed(layers).map((v, i) => v - layers.beauty[i]!))).toBeLessThan(1e-5);
    const png = sharp(files.find((f) => f.name === 'a_subject.png')!.bytes);
    expect((await png.metadata()).channels).toBe(4);
    const alpha = await png.toColourspace('rgb16').extractChannel(3).raw({ depth: 'ushort' }).toBuffer();
    const values = new Uint16Array(alpha.buffer, alpha.byteOffset, alpha.length / 2);
    expect([values[0], values[24 * 64 + 32]]).toEqual([0, 65535]);
  });
});
