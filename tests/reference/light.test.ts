import { describe, expect, it } from 'vitest';
import { closedHall } from '../../bench/scenes.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { oracle, sobolSecond } from '../support/oracle.js';
import { BLACK, trace, WHITE } from '../support/trace.js';

const MATT = { base: [1, 1, 1] as [number, number, number], specular: 0 };

describe('white furnace', () => {
  it('a free convex white diffuse surface under unit light returns unit radiance within 0.5 %', () => {
    const ball = modelOf('ball', [{ mesh: sphere(48), material: MATT }]);
    const picture = trace(ball, { eye: [0, 0, 4], target: [0, 0, 0], focalLength: 100, samples: 64, stage: { environment: WHITE } });
    const inside = (p: number): boolean => picture.cover[p] === 1;
    expect(picture.cover.filter((c) => c === 1).length).toBeGreaterThan(200);
    expect(Math.abs(picture.mean(inside) - 1)).toBeLessThan(0.005);
  });

  it('a pane of clear glass neither adds nor takes light', () => {
    const pane = modelOf('pane', [
      { mesh: new MeshMaker().box([-2, -2, -0.05], [2, 2, 0.05]).mesh(), material: { base: [1, 1, 1], transmission: 1, roughness: 0 } },
    ]);
    const picture = trace(pane, { eye: [0.4, 0.3, 3], target: [0, 0, 0], samples: 16, stage: { environment: WHITE, backdrop: WHITE } });
    expect(Math.abs(picture.mean() - 1)).toBeLessThan(1e-4);
  });
});

describe('Fresnel', () => {
  // Hecht, Optics: R = ((n - 1) / (n + 1))² = 0.04 at normal incidence for n = 1.5; two faces to and fro 2R / (1 + R).
  it('a sheet of n = 1.5 mirrors 2R / (1 + R) = 7.69 % at normal incidence, a plate lets (1 - R)² straight through', () => {
    for (const thin of [false, true]) {
      const mesh = thin ? new MeshMaker().quad([-2, -2, 0], [4, 0, 0], [0, 4, 0]).mesh() : new MeshMaker().box([-2, -2, -0.05], [2, 2, 0.05]).mesh();
      const pane = modelOf('pane', [{ mesh, material: { base: [1, 1, 1], transmission: 1, roughness: 0, thin } }]);
      // What passes straight sees the black backdrop; what was mirrored, even twice inside the plate, the white surround.
      const picture = trace(pane, {
        eye: [0, 0, 30],
        target: [0, 0, 0],
        focalLength: 400,
        samples: 256,
        stage: { environment: WHITE, backdrop: BLACK },
      });
      // Both ways are followed, so nothing is left to chance; the eye's lens is 5° wide.
      expect(Math.abs(picture.mean() - (thin ? 0.08 / 1.04 : 1 - 0.96 ** 2))).toBeLessThan(1e-4);
    }
  });
});

describe('configuration factors', () => {
  // Howell, A Catalog of Radiation Heat Transfer Configuration Factors, C-11 and C-14.
  const floor = modelOf('floor', [{ mesh: new MeshMaker().quad([-0.5, 0, 0.5], [1, 0, 0], [0, 0, -1]).mesh(), material: MATT }]);
  const above = {
    eye: [0, 5, 0] as [number, number, number],
    target: [0, 0, 0] as [number, number, number],
    focalLength: 180,
    width: 48,
    height: 48,
    samples: 64,
    bounces: 1,
  };

  it('parallel unit squares one apart: 0.1998', () => {
    const light = { kind: 'rectangle', centre: [0, 1, 0], u: [1, 0, 0], v: [0, 0, 1], radiance: [1, 1, 1] } as never;
    const picture = trace(floor, { ...above, stage: { lights: [light] } });
    expect(picture.error() / picture.mean()).toBeLessThan(0.005);
    expect(Math.abs(picture.mean() - 0.1998)).toBeLessThan(3 * picture.error() + 0.00005);
  });

  it('perpendicular unit squares with a common edge: 0.2000', () => {
    const light = { kind: 'rectangle', centre: [0, 0.5, -0.5], u: [1, 0, 0], v: [0, 1, 0], radiance: [1, 1, 1] } as never;
    const picture = trace(floor, { ...above, samples: 256, stage: { lights: [light] } });
    expect(picture.error() / picture.mean()).toBeLessThan(0.005);
    expect(Math.abs(picture.mean() - 0.20004)).toBeLessThan(3 * picture.error() + 0.00005);
  });
});

describe('the closed hall beside the oracle', () => {
  it('has the same mean radiance on the same random numbers within 0.02 %, and leaks no light', () => {
    const model = closedHall(2, { base: [0.6, 0.6, 0.6] });
    // Grey finishes, so that one channel stands for all; a bright surround would show a leak.
    model.materials.forEach((f) => {
      if (f.base[1] > 0) f.base = [0.6, 0.6, 0.6];
      if (f.emission[1] > 0) f.emission = [11, 11, 11];
    });
    const environment = { top: [50, 50, 50], middle: [50, 50, 50], bottom: [50, 50, 50] } as never;
    const picture = trace(model, {
      eye: [-7, 1.7, -13.9],
      target: [0, 1.9, 4],
      focalLength: 24,
      width: 80,
      height: 48,
      samples: 32,
      bounces: 6,
      stage: { environment },
    });
    const theirs = oracle(model, picture.frame);
    const count = theirs.length;
    let [mean, difference] = [0, 0];
    for (let p = 0; p < count; p++) {
      mean += theirs[p]! / count;
      difference += (picture.colour[p * 3 + 1]! - theirs[p]!) / count;
    }
    let spread = 0;
    for (let p = 0; p < count; p++) spread += (picture.colour[p * 3 + 1]! - theirs[p]! - difference) ** 2;
    const error = Math.sqrt(spread / (count - 1) / count);
    expect(error / mean).toBeLessThan(0.0001);
    expect(Math.abs(difference) / mean).toBeLessThan(0.0002);
  });
});

describe('sampling', () => {
  it('follows the direction numbers of the second Sobol dimension (Joe and Kuo, 2008)', () => {
    expect([1, 2, 3, 4, 5].map((i) => sobolSecond(i) / 2 ** 32)).toEqual([0.5, 0.75, 0.25, 0.625, 0.125]);
  });

  it('falls at least as 1 / sqrt(samples) against a long reference', () => {
    const ball = modelOf('ball', [{ mesh: sphere(48), material: { ...MATT, base: [0.7, 0.7, 0.7] } }]);
    const light = { kind: 'rectangle', centre: [2, 3, 2], u: [-1, 0, 1], v: [-0.5, 0.8, -0.5], radiance: [20, 20, 20] } as never;
    const shoot = (samples: number) =>
      trace(ball, {
        eye: [0, 0, 4],
        target: [0, 0, 0],
        focalLength: 100,
        samples,
        stage: { environment: { ...WHITE, bottom: [0, 0, 0] }, lights: [light] },
      });
    const truth = shoot(2048);
    const inside = Array.from(truth.cover.keys()).filter((p) => truth.cover[p] === 1);
    const rmse = (samples: number): number => {
      const picture = shoot(samples);
      return Math.sqrt(inside.reduce((s, p) => s + (picture.colour[p * 3 + 1]! - truth.colour[p * 3 + 1]!) ** 2, 0) / inside.length);
    };
    const slope = Math.log(rmse(64) / rmse(4)) / Math.log(64 / 4);
    // -0.5 for independent numbers, less for strata; 0.05 is the margin that checks of this kind allow.
    expect(slope).toBeLessThan(-0.45);
  });
});

describe('determinism', () => {
  it('gives the same bits for tiles of 16 and 64', () => {
    const hall = closedHall(1);
    const options = {
      eye: [-7, 1.7, -13.9] as [number, number, number],
      target: [0, 1.9, 4] as [number, number, number],
      width: 96,
      height: 80,
      samples: 4,
    };
    expect(Buffer.from(trace(hall, options, 16).colour.buffer).equals(Buffer.from(trace(hall, options, 64).colour.buffer))).toBe(true);
  });
});
