import { DataUtils, type DataTexture } from 'three';
import { describe, expect, it } from 'vitest';
import { fitStagePreset } from '../../core/stage/stage.js';
import type { Gradient } from '../../core/stage/stage.js';
import { lightBeam, filtered, gradientAt, environmentTexture } from './light.js';
import { frameRect } from './frameRect.js';

const even: Gradient = { top: [2, 2, 2], middle: [2, 2, 2], bottom: [2, 2, 2] };
const half: Gradient = { top: [1, 0, 0], middle: [1, 0, 0], bottom: [0, 0, 1] };
const bounds = { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] };

describe('the viewport’s surround', () => {
  it('stays even however it is filtered', () => {
    for (const roughness of [0, 0.3, 1]) for (const light of filtered(even, roughness)) expect(light[1]).toBeCloseTo(2, 6);
  });

  it('is the gradient itself in a mirror, and a cosine lobe on a matt surface', () => {
    expect(filtered(half, 0)[32]).toEqual(gradientAt(half, 1));
    const matt = filtered(half, 1);
    expect(matt[32]![0]).toBeCloseTo(1, 6);
    // Sideways: the mean of √|y| under a cosine lobe across y is (2/π) B(3/4, 3/2) = 0.6102, the beta function by Γ(0.75) Γ(1.5) / Γ(2.25).
    expect(matt[16]![0]).toBeCloseTo(0.5 + 0.5 * (1 - 0.6102), 2);
    expect(matt[16]![0] + matt[16]![2]).toBeCloseTo(1, 6);
    // Downwards the mean of √cos is 4/5.
    expect(matt[0]![0]).toBeCloseTo(0.2, 2);
  });

  it('lies the right way round: up is up and a lamp is mirrored where it stands', () => {
    const stage = { ...fitStagePreset({ preset: 'bright sweep' }, bounds), environment: half };
    stage.lights = [{ kind: 'sun', direction: [-1, 0, 0], radius: 0.5, irradiance: [100, 100, 100] }];
    const texture = environmentTexture(stage, [0, 1, 0]);
    const at = (face: number, channel: number): number => {
      const { data, width } = (texture.images as DataTexture[])[face]!.image as { data: Uint16Array; width: number };
      return DataUtils.fromHalfFloat(data[((width / 2) * width + width / 2) * 4 + channel]!);
    };
    // Faces +x, −x, +y, −y, +z, −z; three.js looks pictures of cubes up with x turned over.
    expect([0, 1, 2, 3, 4, 5].map((face) => at(face, 1) > 1)).toEqual([false, true, false, false, false, false]);
    expect(at(2, 0)).toBeCloseTo(1, 2);
    expect(at(3, 2)).toBeCloseTo(1, 2);
    expect(texture.mipmaps).toHaveLength(3);
    texture.dispose();
  });
});

describe('beams', () => {
  it('follow the inverse square, and area lamps their solid angle', () => {
    const intensity: [number, number, number] = [8, 4, 2];
    expect(lightBeam({ kind: 'point', centre: [0, 2, 0], intensity }, [0, 0, 0])!.irradiance).toEqual([2, 1, 0.5]);
    const light = {
      kind: 'rectangle' as const,
      centre: [0, 10, 0] as [number, number, number],
      radiance: [100, 100, 100] as [number, number, number],
    };
    expect(lightBeam({ ...light, u: [1, 0, 0], v: [0, 0, 1] }, [0, 0, 0])!.irradiance[0]).toBeCloseTo(1, 6);
    expect(lightBeam({ ...light, u: [0, 0, 1], v: [1, 0, 0] }, [0, 0, 0])).toBeNull();
    expect(lightBeam({ ...light, kind: 'disc', u: [1, 0, 0], v: [0, 0, 1] }, [0, 0, 0])!.irradiance[0]).toBeCloseTo(Math.PI, 5);
  });

  it('leave out what lies outside a spot’s cone', () => {
    const spot = {
      kind: 'spot' as const,
      centre: [0, 2, 0] as [number, number, number],
      intensity: [4, 4, 4] as [number, number, number],
      inner: 0.1,
      outer: 0.3,
    };
    expect(lightBeam({ ...spot, direction: [0, -1, 0] }, [0, 0, 0])!.irradiance[0]).toBeCloseTo(1, 6);
    expect(lightBeam({ ...spot, direction: [1, 0, 0] }, [0, 0, 0])).toBeNull();
  });
});

describe('the output frame on the mount', () => {
  it('keeps the aspect, pixels that are not square too, and the margin', () => {
    expect(frameRect({ width: 1000, height: 500 }, { width: 960, height: 540 }, 1)).toMatchObject({ top: 14, height: 472 });
    const tall = frameRect({ width: 428, height: 900 }, { width: 400, height: 400 }, 2);
    expect(tall).toEqual({ left: 14, width: 400, height: 200, top: 350 });
  });
});
