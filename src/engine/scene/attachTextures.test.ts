import { describe, expect, it } from 'vitest';
import { PIXEL_FLOATS } from '../../../kernel/layout.js';
import { type MaterialAssignments, compileAssignments, materialAssignmentsSchema } from '../../core/materials/assignments.js';
import { materialTextureSchema, textureMatrix } from '../../core/materials/customMaterial.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { applyGrade, NEUTRAL_GRADE } from '../../core/image/grade.js';
import { toDisplay, toLinear, type Rgb } from '../../core/units/colour.js';
import { frameFor } from '../../../tests/support/trace.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { compile } from './compile.js';
import { loadKernelModule } from '../node/assets.js';
import { attachTextures } from './attachTextures.js';
import { loadScene, localKernel } from '../upload/loadScene.js';
import { resolveScene } from './resolveScene.js';

const module = loadKernelModule();

describe('where a picture lies on a finish', () => {
  const at = (values: object, size: { width: number; height: number }, u: number, v: number): [number, number] => {
    const m = textureMatrix(materialTextureSchema.parse({ slot: 'base', file: 'a.png', ...values }), size);
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
  const resolved = (pictures: unknown): MaterialAssignments =>
    materialAssignmentsSchema.parse({
      rules: [{ match: '*', material: 'Tiles' }],
      materials: [{ name: 'Tiles', colour: '#ffffff', roughness: 1, textureFiles: pictures }],
    });
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
      ...frameFor(model, { ...look, stage: { lights: [sun] } }),
      materials: compileAssignments(resolved([{ slot: 'base', file: 'tiles.png', scale: 1 }]))!,
    };
    const { key, load } = resolveScene(frame, source('tiles.png'));
    expect(key).toBe(`wall+${frame.materials.id}`);
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

  it.each(['review', 'quick'] as const)('a picture or a colour behind comes out of the grade as it is, under daylight too: %s', async (mode) => {
    const size = { width: 64, height: 32 };
    const wanted = [90, 140, 200];
    const pixels = new Uint8Array(4 * 4 * 4).fill(255);
    for (let i = 0; i < 16; i++) pixels.set(wanted, i * 4);
    const grade = { ...NEUTRAL_GRADE, exposure: -2.5, whiteBalance: 5200, curve: 'toe' as const };
    const plain = frameFor(modelOf('nothing', []), { eye: [0, 0, 5], target: [0, 0, 0], ...size, samples: 4 });
    const bare = { ...plain, grade, sampling: { ...plain.sampling, ...(mode === 'quick' && { mode: 'quick' as const }) } };
    const nothing = compile(module, modelOf('dot', [{ mesh: new MeshMaker().box([50, 50, 50], [51, 51, 51]).mesh(), material: {} }]));
    const source = { hash: 'nothing', scene: () => nothing, module: () => module, picture: () => Promise.reject(new Error('none')) };
    const even = wanted.map((v) => toLinear(v / 255)) as Rgb;
    for (const stage of [
      { ...plain.stage, picture: 'room.png', displayReferred: true },
      { ...plain.stage, backdrop: { top: even, middle: even, bottom: even }, displayReferred: true },
    ]) {
      const frame = { ...bare, stage };
      const { load } = resolveScene(frame, { ...source, texture: () => Promise.resolve({ width: 4, height: 4, pixels }) });
      const host = loadScene(module, await load(), 1);
      const at = host.areas[0]!.tile;
      const sums = new Float32Array(host.memory.buffer, at, size.width * size.height * PIXEL_FLOATS);
      sums.fill(0);
      localKernel(module, host).renderTile(host.lay(0, frame), 0, 0, size.width, size.height, 0, 4, at);
      const light = Float32Array.from([0, 1, 2], (c) => sums[(10 * size.width + 20) * PIXEL_FLOATS + c]! / 4);
      applyGrade(light, light, grade);
      wanted.forEach((v, c) => expect(Math.abs(light[c]! * 255 - v), `${c}`).toBeLessThan(0.6));
    }
  });

  it.each([
    ['wide', 64, 32],
    ['tall', 32, 64],
  ])('stands a picture behind everything, %s frames cropped and never squeezed', async (_, width, height) => {
    // Eight columns and rows of one texel each: red grows to the right, green down.
    const pixels = new Uint8Array(8 * 8 * 4).fill(255);
    for (let y = 0; y < 8; y++) for (let x = 0; x < 8; x++) pixels.set([x * 32, y * 32, 0], (y * 8 + x) * 4);
    const frame = frameFor(modelOf('nothing', []), { eye: [0, 0, 5], target: [0, 0, 0], width, height, samples: 4 });
    const backed = { ...frame, stage: { ...frame.stage, picture: 'room.png' } };
    const nothing = compile(module, modelOf('dot', [{ mesh: new MeshMaker().box([50, 50, 50], [51, 51, 51]).mesh(), material: {} }]));
    const bare = { hash: 'nothing', scene: () => nothing, module: () => module, picture: () => Promise.reject(new Error('none')) };
    const { key, load } = resolveScene(backed, { ...bare, texture: () => Promise.resolve({ width: 8, height: 8, pixels }) });
    expect(key).toBe('nothing+behind room.png');
    const host = loadScene(module, await load(), 1);
    const at = host.areas[0]!.tile;
    const sums = new Float32Array(host.memory.buffer, at, width * height * PIXEL_FLOATS);
    sums.fill(0);
    localKernel(module, host).renderTile(host.lay(0, backed), 0, 0, width, height, 0, 4, at);
    const shown = (x: number, y: number): number[] => [0, 1].map((c) => 255 * toDisplay(sums[(y * width + x) * PIXEL_FLOATS + c]! / 4));
    // The square covers the frame: all of its long side, the middle half of its short one; a texel is 8 pixels.
    const short = Math.min(width, height);
    for (const [x, y] of [
      [4, 4],
      [short - 5, short - 5],
      [20, 12],
    ] as const) {
      const [u, v] = [(x + 0.5 + (width < height ? 16 : 0)) / 64, (y + 0.5 + (height < width ? 16 : 0)) / 64];
      const [red, green] = shown(x, y);
      expect(Math.abs(red! - (u * 8 - 0.5) * 32)).toBeLessThan(5);
      expect(Math.abs(green! - (v * 8 - 0.5) * 32)).toBeLessThan(5);
    }
    await expect(
      resolveScene(backed, { ...bare, texture: () => Promise.reject(new Error('The picture "room.png" is not here.')) }).load(),
    ).rejects.toThrow('not here');
  });

  it('says which picture is not there, and asks for none that no part has', async () => {
    const frame = {
      ...frameFor(model, { eye: [0, 0, 5], target: [0, 0, 0] }),
      materials: compileAssignments(resolved([{ slot: 'base', file: 'lost.png' }]))!,
    };
    await expect(resolveScene(frame, source('tiles.png')).load()).rejects.toThrow('The picture "lost.png" is not here.');
    const idle = { ...scene, materials: [...scene.materials, frame.materials.materials[0]!] };
    expect(await attachTextures(idle, () => Promise.reject(new Error('asked')))).toBe(idle);
  });
});
