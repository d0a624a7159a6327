/** Which rays meet a part, and how samples are spread: where they stop, and how their errors lie. */
import { describe, expect, it } from 'vitest';
import * as L from '../../kernel/layout.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { type Traced, trace } from '../support/trace.js';

type Vec3 = [number, number, number];
const GLOW = { base: [1, 1, 1] as Vec3, unlit: true };
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };

describe('what a part is seen by', () => {
  it('camera, shadow and reflection are kept apart', () => {
    const seen = (visible: { camera: boolean; shadow: boolean; reflection: boolean }) => {
      const model = modelOf('three', [
        { mesh: new MeshMaker().quad([-3, 0, 3], [6, 0, 0], [0, 0, -6]).mesh(), material: { base: [1, 1, 1] as Vec3, metalness: 1, roughness: 0 } },
        { mesh: new MeshMaker().quad([-1, 1, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: { ...GLOW, base: [0.5, 0.5, 0.5] as Vec3 } },
        { mesh: new MeshMaker().quad([3, 0, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: MATT },
        { mesh: new MeshMaker().quad([3, 1, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: MATT },
      ]);
      model.parts[1]!.visible = visible;
      model.parts[3]!.visible = visible;
      const lights = [{ kind: 'sun' as const, direction: [0, -1, 0] as Vec3, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Vec3 }];
      const look = (eye: Vec3, target: Vec3) =>
        trace(model, { eye, target, focalLength: 1200, width: 16, height: 16, samples: 4, bounces: 4, stage: { lights } }).mean();
      // Down on the sheet; across into its mirror image; up from below its neighbour onto shaded ground.
      return { camera: look([0, 3, 0], [0, 0, 0.001]), mirrored: look([0, 0.5, 1.5], [0, 0, 0.75]), ground: look([4, 0.5, 0.2], [4, 0, 0]) };
    };
    const all = seen({ camera: true, shadow: true, reflection: true });
    expect(all.camera).toBeCloseTo(0.5, 3);
    expect(all.mirrored).toBeCloseTo(0.5, 2);
    // In the shade but for what comes round by four bounces.
    expect(all.ground).toBeLessThan(0.02);
    expect(seen({ camera: true, shadow: false, reflection: true }).ground).toBeGreaterThan(0.97);
    expect(seen({ camera: true, shadow: true, reflection: false }).mirrored).toBeLessThan(0.05);
    // Not seen by the camera, but by its mirror image in the ground below.
    expect(seen({ camera: false, shadow: true, reflection: true }).camera).toBeCloseTo(0.5, 2);
    expect(seen({ camera: false, shadow: true, reflection: false }).camera).toBeLessThan(0.05);
  });
});

describe('sampling', () => {
  const scene = modelOf('half', [{ mesh: sphere(48), material: { ...MATT, base: [0.7, 0.7, 0.7] as Vec3 } }]);
  const view = { eye: [0, 0, 4] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 60, width: 96, height: 64 };
  const lights = [
    { kind: 'rectangle' as const, centre: [2, 3, 2] as Vec3, u: [-1, 0, 1] as Vec3, v: [-0.5, 0.8, -0.5] as Vec3, radiance: [20, 20, 20] as Vec3 },
  ];

  it('stops cells by their error, the same whatever the tiles', () => {
    const noisy = { ...view, samples: 512, sampling: { noise: 0.02 }, stage: { lights } };
    const [a, b] = [trace(scene, noisy, 16), trace(scene, noisy, 64)];
    expect(Buffer.from(a.colour.buffer).equals(Buffer.from(b.colour.buffer))).toBe(true);
    // The backdrop stops at once; the ball goes on until it is smooth.
    const counts = Array.from({ length: 96 * 64 }, (_, p) => a.sums[p * a.stride + L.PIXEL_COUNT]!);
    expect(Math.min(...counts)).toBe(16);
    expect(Math.max(...counts)).toBeGreaterThan(40);
    expect(a.taken).toBeLessThan(300);
    const truth = trace(scene, { ...view, samples: 768, stage: { lights } });
    const ball = Array.from(counts.keys()).filter((p) => truth.cover[p] === 1 && truth.colour[p * 3]! > 0.05);
    const error = ball.reduce((s, p) => s + Math.abs(a.colour[p * 3]! / truth.colour[p * 3]! - 1), 0) / ball.length;
    expect(error).toBeLessThan(0.03);
  });

  it('a filter wider than a pixel blurs by the width it says and keeps the light', () => {
    const edge = modelOf('edge', [{ mesh: new MeshMaker().quad([0, -9, 0], [9, 0, 0], [0, 18, 0]).mesh(), material: GLOW }]);
    const row = (filter: Frame['sampling']['filter']): number[] => {
      const picture = trace(edge, { eye: [0, 0, 9], target: [0, 0, 0], focalLength: 50, width: 64, height: 16, samples: 256, sampling: { filter } });
      return Array.from({ length: 64 }, (_, x) => picture.colour[(8 * 64 + x) * 3]!);
    };
    const soft = (values: number[]): number => values.filter((v) => v > 0.002 && v < 0.998).length;
    expect(soft(row({ kind: 'box', width: 1 }))).toBeLessThanOrEqual(1);
    expect(soft(row({ kind: 'box', width: 4 }))).toBe(4);
    expect(soft(row({ kind: 'tent', width: 4 }))).toBe(4);
    const light = (values: number[]): number => values.reduce((s, v) => s + v, 0);
    expect(light(row({ kind: 'gauss', width: 3 }))).toBeCloseTo(light(row({ kind: 'box', width: 1 })), 1);
  });

  it('neighbouring pixels err apart: blurring takes more of the error away than of independent ones', () => {
    const wall = modelOf('wall', [
      { mesh: new MeshMaker().quad([-9, -9, 0], [18, 0, 0], [0, 18, 0]).mesh(), material: { ...MATT, base: [0.7, 0.7, 0.7] as Vec3 } },
    ]);
    const shoot = (frame: Partial<Frame>) => trace(wall, { ...view, width: 64, height: 64, samples: 1, bounces: 1, stage: { lights }, frame });
    const truth = trace(wall, { ...view, width: 64, height: 64, samples: 256, bounces: 1, stage: { lights } });
    const ratio = (picture: Traced): number => {
      // Error of means over 4 × 4 pixels beside that of single ones: a quarter where pixels are independent.
      const e = Float64Array.from({ length: 64 * 64 }, (_, p) => picture.colour[p * 3]! - truth.colour[p * 3]!);
      let [single, blocks] = [0, 0];
      for (const v of e) single += v * v;
      for (let y = 0; y < 64; y += 4) {
        for (let x = 0; x < 64; x += 4) {
          let s = 0;
          for (let k = 0; k < 16; k++) s += e[(y + (k >> 2)) * 64 + x + (k & 3)]!;
          blocks += s * s;
        }
      }
      return Math.sqrt(blocks / 16 / single);
    };
    expect(ratio(shoot({ seed: 1 }))).toBeLessThan(0.5);
    expect(ratio(shoot({ seed: 99 }))).toBeLessThan(0.5);
  });
});
