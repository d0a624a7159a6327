import { describe, expect, it } from 'vitest';
import { PIXEL_FLOATS } from '../../kernel/layout.js';
import { type DressingChoice, dressingOf, dressingSchema, finishPictureSchema, pictureMatrix } from '../core/dress/dressing.js';
import { type Vec3 } from '../core/geometry/bounds.js';
import { frameFor } from '../../tests/support/trace.js';
import { MeshMaker, modelOf } from './bench/scenes.js';
import { compile } from './compile.js';
import { loadKernelModule } from './node/assets.js';
import { withPictures } from './pictures.js';
import { loadScene, localKernel } from './scene.js';
import { sceneOf } from './source.js';

const module = loadKernelModule();

describe('where a picture lies on a finish', () => {
  const at = (values: object, size: { width: number; height: number }, u: number, v: number): [number, number] => {
    const m = pictureMatrix(finishPictureSchema.parse({ slot: 'base', file: 'a.png', ...values }), size);
    return [m[0] * u + m[1] * v + m[2], m[3] * u + m[4] * v + m[5]];
  };
  it('by a box is so many metres wide and as high as its shape says', () => {
    expect(at({ scale: 0.5 }, { width: 200, height: 100 }, 0.5, 0.25)).toEqual([1, 1]);
    expect(at({ scale: 0.5, offset: [0.25, 0.5] }, { width: 100, height: 100 }, 0, 0)).toEqual([0.25, 0.5]);
  });
  it('by coordinates is a unit of them, whatever its shape', () => {
    expect(at({ scale: 2, mapping: 'first' }, { width: 200, height: 100 }, 2, 2)).toEqual([1, 1]);
  });
  it('turned counterclockwise by a quarter: what was to its right is up', () => {
    const [u, v] = at({ rotation: 90 }, { width: 64, height: 64 }, 0, -0.3);
    expect(u).toBeCloseTo(0.3, 6);
    expect(v).toBeCloseTo(0, 6);
  });
});

describe('a set with pictures on its finishes', () => {
  // A wall of two metres, with a picture half red, half blue, a metre wide, put on by a box.
  const model = modelOf('wall', [{ mesh: new MeshMaker().box([-1, -1, -0.1], [1, 1, 0]).mesh() }]);
  const picture = { width: 2, height: 2, pixels: Uint8Array.from([255, 0, 0, 255, 0, 0, 255, 255, 255, 0, 0, 255, 0, 0, 255, 255]) };
  const scene = compile(module, model);
  const dressed = (pictures: unknown): DressingChoice =>
    dressingSchema.parse({ rules: [{ match: '*', finish: 'Tiles' }], finishes: [{ name: 'Tiles', colour: '#ffffff', roughness: 1, pictures }] });
  const source = (file: string) => ({
    hash: 'wall',
    scene: () => scene,
    module: () => module,
    texture: async (asked: string) => {
      if (asked !== file) throw new Error(`The picture "${asked}" is not here.`);
      return picture;
    },
    picture: () => Promise.reject(new Error('none')),
  });

  it('shows them at their size, and keeps the compiled scene as it was', async () => {
    const look = { eye: [0, 0, 5] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 90, width: 64, height: 64, samples: 16, bounces: 1 };
    const sun = { kind: 'sun' as const, direction: [0, 0, -1] as Vec3, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Vec3 };
    const frame = {
      ...frameFor(model, { ...look, stage: { lamps: [sun] } }),
      dressing: dressingOf(dressed([{ slot: 'base', file: 'tiles.png', scale: 1 }]))!,
    };
    const { key, load } = sceneOf(frame, source('tiles.png'));
    expect(key).toBe(`wall+${frame.dressing.id}`);
    const image = scene.image;
    const loaded = await load();
    expect(scene.image).toBe(image);
    const host = loadScene(module, loaded, 1);
    const kernel = localKernel(module, host);
    const at = host.areas[0]!.tile;
    const sums = new Float32Array(host.memory.buffer, at, 64 * 64 * PIXEL_FLOATS);
    sums.fill(0);
    kernel.renderTile(host.lay(0, frame), 0, 0, 64, 64, 0, 16, at);
    // Metres on the wall, 5 m away, 36 mm of film behind 90 mm: u is x, so each metre begins red at a whole number.
    const colour = (x: number): [number, number] => {
      const p = (32 * 64 + Math.round(31.5 + (x * 90 * 64) / (36 * 5))) * PIXEL_FLOATS;
      return [sums[p]! / 16, sums[p + 2]! / 16];
    };
    for (const x of [-0.75, 0.25]) expect(colour(x)[0]).toBeGreaterThan(4 * colour(x)[1]);
    for (const x of [-0.25, 0.75]) expect(colour(x)[1]).toBeGreaterThan(4 * colour(x)[0]);
  });

  it('says which picture is not there, and asks for none that nothing wears', async () => {
    const frame = { ...frameFor(model, { eye: [0, 0, 5], target: [0, 0, 0] }), dressing: dressingOf(dressed([{ slot: 'base', file: 'lost.png' }]))! };
    await expect(sceneOf(frame, source('tiles.png')).load()).rejects.toThrow('The picture "lost.png" is not here.');
    const idle = { ...scene, finishes: [...scene.finishes, frame.dressing.finishes[0]!] };
    expect(await withPictures(idle, () => Promise.reject(new Error('asked')))).toBe(idle);
  });
});
