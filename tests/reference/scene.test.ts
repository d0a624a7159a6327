/** Instances, turns, textures, glass in line and the denoiser, each against what must come out. */
import { longTest } from '../support/long.js';
import { mat4 } from 'gl-matrix';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { identity } from '../../src/core/math/matrix.js';
import type { Model } from '../../src/core/model/model.js';
import { toLinear } from '../../src/core/units/colour.js';
import { cameraOf, projectPoint } from '../../src/core/camera/view.js';
import { compile } from '../../src/engine/scene/compile.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool } from '../../src/engine/node/threads.js';
import { decodeTexture } from '../../src/formats/image/texture.js';
import { frameFor, trace, WHITE } from '../support/trace.js';

const GLOW = { base: [0, 0, 0] as [number, number, number], specular: 0 };
const lit = (r: number, g: number, b: number) => ({ ...GLOW, emission: [r, g, b] as [number, number, number] });

function moved(model: Model, part: number, world: mat4): Model {
  model.parts[part]!.world = world;
  return model;
}

describe('instances', () => {
  const view = {
    eye: [3, 2, 5] as [number, number, number],
    target: [0, 0, 0] as [number, number, number],
    samples: 4,
    stage: { environment: WHITE },
  };
  const shape = () => new MeshMaker().box([-0.5, -0.3, -0.8], [0.7, 0.9, 0.4], 3).mesh();

  it('a moved instance gives the picture of a mesh that was moved itself', () => {
    const world = mat4.fromRotationTranslationScale(identity(), [0.1, 0.5, 0.2, 0.837], [0.4, -0.2, 0.3], [1.2, 0.7, 1.5]);
    const baked = shape();
    for (let i = 0; i < baked.positions.length; i += 3) {
      const [x, y, z] = [0, 1, 2].map((a) => baked.positions[i + a]!) as [number, number, number];
      for (let r = 0; r < 3; r++) baked.positions[i + r] = world[r]! * x + world[4 + r]! * y + world[8 + r]! * z + world[12 + r]!;
    }
    const a = trace(moved(modelOf('m', [{ mesh: shape() }]), 0, world), view);
    const b = trace(modelOf('m', [{ mesh: baked }]), view);
    const far = Array.from(a.colour.keys()).filter((i) => Math.abs(a.colour[i]! - b.colour[i]!) > 0.02);
    // Same name, same numbers drawn; the two round differently, which shows at a few pixels of the outline.
    expect(far.length).toBeLessThan(a.colour.length * 0.01);
    expect(a.mean()).toBeCloseTo(b.mean(), 3);
  });

  it('a mirrored instance is lit from its outside', () => {
    const mirrored = mat4.fromScaling(identity(), [-1, 1, 1]);
    const a = trace(moved(modelOf('m', [{ mesh: sphere(32) }]), 0, mirrored), view);
    const b = trace(modelOf('m', [{ mesh: sphere(32) }]), view);
    expect(a.mean()).toBeCloseTo(b.mean(), 2);
  });

  it('what is not in the picture neither shows nor shades', () => {
    const model = modelOf('m', [{ mesh: sphere(16) }, { mesh: new MeshMaker().box([-9, -9, -9], [9, 9, 9], 1, true).mesh() }]);
    model.parts[1]!.renderVisible = false;
    const alone = modelOf('m', [{ mesh: sphere(16) }]);
    expect(Array.from(trace(model, view).colour)).toEqual(Array.from(trace(alone, view).colour));
  });

  it('an empty picture is the backdrop', () => {
    const model = modelOf('m', [{ mesh: sphere(16) }]);
    model.parts[0]!.renderVisible = false;
    const picture = trace(model, { ...view, stage: { backdrop: WHITE } });
    expect(picture.mean()).toBeCloseTo(1, 6);
    expect(picture.cover.every((c) => c === 0)).toBe(true);
  });
});

describe('a turned subject', () => {
  it('is seen where the plan says: a lit marker lands on its computed pixel, surroundings stay', () => {
    const model = modelOf('m', [
      { mesh: new MeshMaker().box([0.95, -0.05, -0.05], [1.05, 0.05, 0.05]).mesh(), material: lit(0, 5, 0) },
      { mesh: new MeshMaker().box([-0.05, 0.95, -0.05], [0.05, 1.05, 0.05]).mesh(), material: lit(5, 0, 0) },
    ]);
    model.parts[1]!.isContext = true;
    const options = {
      eye: [0, 2, 6] as [number, number, number],
      target: [0, 0.4, 0] as [number, number, number],
      width: 200,
      height: 120,
      samples: 4,
    };
    const base = frameFor(model, options);
    const pool = startPool(1);
    return (async () => {
      for (const rotation of [0, 30, 90, 215]) {
        const frame = { ...base, turn: { angle: rotation, rotation, pivot: [0, 0, 0] as [number, number, number], what: ['subject' as const] } };
        const picture = await pool.render('turned', () => compile(loadKernelModule(), model), frame);
        const centre = (channel: number): [number, number] => {
          let [x, y, n] = [0, 0, 0];
          for (let p = 0; p < 200 * 120; p++) {
            const v = picture.colour[p * 3 + channel]!;
            x += v * ((p % 200) + 0.5);
            y += v * (Math.floor(p / 200) + 0.5);
            n += v;
          }
          return [x / n, y / n];
        };
        const a = (rotation * Math.PI) / 180;
        const camera = cameraOf({ eye: options.eye, target: options.target, focalLength: 50, keepVerticals: false }, frame.size, 1);
        // Counterclockwise seen from above: +X goes to −Z.
        const expected = projectPoint(camera, frame.size, [Math.cos(a), 0, -Math.sin(a)])!;
        const still = projectPoint(camera, frame.size, [0, 1, 0])!;
        expect(Math.hypot(centre(1)[0] - expected[0], centre(1)[1] - expected[1])).toBeLessThan(0.5);
        expect(Math.hypot(centre(0)[0] - still[0], centre(0)[1] - still[1])).toBeLessThan(0.5);
        picture.release();
      }
      await pool.close();
    })();
  });
});

describe('textures', () => {
  it('show their texels in linear light, v downwards, u to the right', async () => {
    const pixels = Buffer.from([255, 0, 0, 0, 255, 0, 0, 0, 255, 128, 128, 128]);
    const png = await sharp(pixels, { raw: { width: 2, height: 2, channels: 3 } })
      .png()
      .toBuffer();
    const image = await decodeTexture('four', png);
    const mesh = { ...new MeshMaker().quad([-1, -1, 0], [2, 0, 0], [0, 2, 0]).mesh(), uvs: new Float32Array([0, 1, 1, 1, 0, 0, 1, 0]) };
    const model = modelOf('t', [
      { mesh, material: { base: [1, 1, 1], specular: 0, textures: { base: { texture: 0, matrix: [1, 0, 0, 0, 1, 0], mapping: 'first' } } } },
    ]);
    model.textures.push({ ...image, name: 'four', wrapU: 'clamp', wrapV: 'clamp' });
    const size = 16;
    const picture = trace(model, {
      eye: [0, 0, 4],
      target: [0, 0, 0],
      focalLength: 72,
      width: size,
      height: size,
      samples: 16,
      stage: { environment: WHITE },
    });
    const at = (x: number, y: number): number[] => [0, 1, 2].map((c) => picture.colour[(y * size + x) * 3 + c]!);
    const near = (got: number[], wanted: number[]): void => got.forEach((v, i) => expect(Math.abs(v - wanted[i]!)).toBeLessThan(0.02));
    near(at(1, 1), [1, 0, 0]);
    near(at(14, 1), [0, 1, 0]);
    near(at(1, 14), [0, 0, 1]);
    near(
      at(14, 14),
      [1, 1, 1].map(() => toLinear(128 / 255)),
    );
  });

  it('refuses what is no picture', async () => {
    await expect(decodeTexture('noise', new Uint8Array([1, 2, 3]))).rejects.toThrow('The texture "noise" cannot be read');
  });
});

describe('glass', () => {
  const behind = { mesh: new MeshMaker().quad([-3, -3, -3], [6, 0, 0], [0, 6, 0]).mesh(), material: lit(1, 1, 1) };
  const pane = (z: number) => ({
    mesh: new MeshMaker().box([-3, -3, z], [3, 3, z + 0.02]).mesh(),
    material: { base: [1, 1, 1] as [number, number, number], transmission: 1, roughness: 0 },
  });
  const view = {
    eye: [0, 0, 20] as [number, number, number],
    target: [0, 0, 0] as [number, number, number],
    focalLength: 300,
    width: 16,
    height: 16,
    samples: 256,
  };

  it('three panes in line show what is behind them by their transmittance', () => {
    const picture = trace(modelOf('panes', [behind, pane(0), pane(1), pane(2)]), view);
    // A stack of m faces of reflectance R between air passes (1 − R) / (1 + (m − 1) R), Stokes; R = 0.04, m = 6.
    expect(Math.abs(picture.mean() - 0.96 / 1.2)).toBeLessThan(3 * picture.error() + 0.002);
  });

  it('past its depth goes straight on and never black', () => {
    for (const refractionDepth of [0, 2, 5]) {
      expect(trace(modelOf('panes', [behind, pane(0), pane(1), pane(2)]), { ...view, refractionDepth }).mean()).toBeGreaterThan(0.8);
    }
  });

  it('dims a lamp behind it by the loss of its two faces, and tints by its colour', () => {
    const floor = {
      mesh: new MeshMaker().quad([-0.5, 0, 0.5], [1, 0, 0], [0, 0, -1]).mesh(),
      material: { base: [1, 1, 1] as [number, number, number], specular: 0 },
    };
    const light = { kind: 'rectangle', centre: [0, 4, 0], u: [0.2, 0, 0], v: [0, 0, 0.2], radiance: [100, 100, 100] } as never;
    const cover = {
      mesh: new MeshMaker().box([-9, 2, -9], [9, 2.01, 9]).mesh(),
      material: { base: [1, 0.5, 1] as [number, number, number], transmission: 1, roughness: 0 },
    };
    const shot = {
      eye: [0, 1.9, 0.001] as [number, number, number],
      target: [0, 0, 0] as [number, number, number],
      focalLength: 90,
      width: 16,
      height: 16,
      samples: 64,
      bounces: 1,
      stage: { lights: [light] },
    };
    const open = trace(modelOf('open', [floor]), shot);
    const glazed = trace(modelOf('glazed', [floor, cover]), shot);
    const middle = (p: ReturnType<typeof trace>, c: number): number => p.colour[(8 * 16 + 8) * 3 + c]!;
    expect(middle(glazed, 0) / middle(open, 0)).toBeCloseTo(0.96 ** 2, 1);
    expect(middle(glazed, 1) / middle(glazed, 0)).toBeCloseTo(0.25, 2);
  });
});

describe('denoising', () => {
  longTest('brings a picture nearer to the long reference and keeps what is flat', async () => {
    const model = modelOf('m', [
      { mesh: sphere(48), material: { base: [0.7, 0.3, 0.2], specular: 0.5, roughness: 0.5 } },
      { mesh: new MeshMaker().quad([-6, -1, 6], [12, 0, 0], [0, 0, -12]).mesh(), material: { base: [0.6, 0.6, 0.6], specular: 0 } },
    ]);
    const light = { kind: 'rectangle', centre: [3, 5, 3], u: [-1.4, 0, 1.4], v: [-0.8, 1.4, -0.8], radiance: [9, 9, 9] } as never;
    const options = {
      eye: [0, 2, 6] as [number, number, number],
      target: [0, -0.2, 0] as [number, number, number],
      width: 84,
      height: 56,
      stage: { environment: { ...WHITE, bottom: [0.1, 0.1, 0.1] as [number, number, number] }, lights: [light] },
    };
    const pool = startPool(2);
    const scene = compile(loadKernelModule(), model);
    const shoot = async (samples: number, denoise: boolean): Promise<Float32Array> => {
      const frame = frameFor(model, { ...options, samples });
      const picture = await pool.render('m', () => scene, { ...frame, sampling: { ...frame.sampling, denoise } });
      return picture.colour.slice();
    };
    const truth = await shoot(1024, false);
    const rmse = (a: Float32Array): number => Math.sqrt(a.reduce((s, v, i) => s + (v - truth[i]!) ** 2, 0) / a.length);
    const [noisy, clean, four] = [rmse(await shoot(16, false)), rmse(await shoot(16, true)), rmse(await shoot(64, false))];
    await pool.close();
    expect(clean).toBeLessThan(noisy);
    // As good as four times the samples, the measure that denoising is judged by.
    expect(clean).toBeLessThan(four * 1.25);
  });
});
