import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/bounds.js';
import { luminance } from '../units/colour.js';
import { DAYLIGHT_UNIT } from './daylight.js';
import { luxAtTarget, toLight, type UserLight, userLightSchema, ROOM_UNIT, spotAngle } from './userLight.js';
import { resolveStage, fitStagePreset, rotateEnvironment, stageSchema } from './stage.js';

const own = (values: Partial<UserLight> = {}): UserLight =>
  userLightSchema.parse({ id: 'a', name: 'A', kind: 'point', at: [0, 2, 0], target: [0, 0, 0], ...values });
const BOUNDS = { min: [-1, 0, -1] as Vec3, max: [1, 2, 1] as Vec3 };

describe('a lamp of one’s own', () => {
  it('of 800 lm has 63.7 cd all round, and warm light of that luminance', () => {
    const light = toLight(own(), 1);
    if (light.kind !== 'point') throw new Error(light.kind);
    expect(luminance(...light.intensity)).toBeCloseTo(800 / (4 * Math.PI), 9);
    expect(light.intensity[0]).toBeGreaterThan(light.intensity[2] * 2);
    const [r, , b] = (toLight(own({ kelvin: 6500 }), 1) as typeof light).intensity;
    expect(r / b).toBeCloseTo(1, 0);
  });

  it('as a spot sends all of its lumens into its cone, falloff included', () => {
    const [inner, outer] = [0.3, 0.5];
    // The falloff of KHR_lights_punctual, integrated by steps.
    let sum = 0;
    const n = 200_000;
    for (let i = 0; i < n; i++) {
      const a = ((i + 0.5) / n) * outer;
      const t = Math.min(1, (Math.cos(a) - Math.cos(outer)) / (Math.cos(inner) - Math.cos(outer)));
      sum += t * t * 2 * Math.PI * Math.sin(a) * (outer / n);
    }
    expect(spotAngle(inner, outer)).toBeCloseTo(sum, 6);
    const light = toLight(own({ kind: 'spot', target: [0, 0, 3] }), 1);
    if (light.kind !== 'spot') throw new Error(light.kind);
    expect(luminance(...light.intensity) * spotAngle(light.inner, light.outer)).toBeCloseTo(800, 6);
    expect(light.direction).toEqual([0, expect.closeTo(-2 / Math.hypot(2, 3), 9), expect.closeTo(3 / Math.hypot(2, 3), 9)]);
  });

  it('as a directional light gives its lux along its aim wherever it stands, and turns with the lights, not with the sky', () => {
    const light = toLight(own({ kind: 'directional', target: [0, 0, 2], lux: 5000, spread: 2 }), 200);
    if (light.kind !== 'sun') throw new Error(light.kind);
    expect(luminance(...light.irradiance) * 200).toBeCloseTo(5000, 6);
    expect(light.radius).toBeCloseTo(Math.PI / 180, 9);
    expect(light.direction).toEqual([0, expect.closeTo(-Math.SQRT1_2, 9), expect.closeTo(Math.SQRT1_2, 9)]);
    expect(luxAtTarget(own({ kind: 'directional', at: [0, 90, 0] }))).toBe(1000);
    const stage = fitStagePreset(stageSchema.parse({ preset: 'clay room', lights: [own({ kind: 'directional' })] }), BOUNDS);
    expect(rotateEnvironment(stage, 90).lights.at(-1)).toEqual(stage.lights.at(-1));
  });

  it.each(['rectangle', 'disc'] as const)('as a %s shines towards its target, with its lumens over its area', (kind) => {
    for (const target of [
      [0, 0, 0],
      [5, 2, 0],
      [1, 0.5, -3],
    ] as Vec3[]) {
      const light = toLight(own({ kind, target, width: 0.4, height: 0.2 }), 1);
      if (light.kind !== kind) throw new Error(light.kind);
      const { u, v } = light;
      const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const area = Math.hypot(...n) * (kind === 'disc' ? Math.PI : 1);
      expect(area).toBeCloseTo(kind === 'disc' ? Math.PI * 0.04 : 0.08, 9);
      const to = target.map((c, i) => c - [0, 2, 0][i]!);
      expect(n.reduce((s, c, i) => s + c * to[i]!, 0) / Math.hypot(...n) / Math.hypot(...to)).toBeCloseTo(1, 9);
      // A Lambertian area of L sends π L A to one side.
      expect(luminance(...light.radiance) * Math.PI * area).toBeCloseTo(800, 6);
    }
  });

  it('shines on a ready stage and under daylight, in the unit of each, as long as it is on', () => {
    const lights = [own(), own({ id: 'b', on: false })];
    const ready = fitStagePreset(stageSchema.parse({ lights }), BOUNDS).lights;
    const bare = fitStagePreset(stageSchema.parse({}), BOUNDS).lights;
    expect(ready).toHaveLength(bare.length + 1);
    const day = resolveStage(stageSchema.parse({ lights, daylight: { manualSun: { azimuth: 0, altitude: 30 } } }), BOUNDS).lights;
    expect(day.map((l) => l.kind)).toEqual(['sun', 'point']);
    const [room, sunny] = [ready.at(-1), day[1]].map((l) => (l?.kind === 'point' ? l.intensity[1] : NaN)) as [number, number];
    expect(room / sunny).toBeCloseTo(DAYLIGHT_UNIT / ROOM_UNIT, 9);
  });

  it('is refused where it is cannot aim at itself, or has no such temperature', () => {
    expect(() => own({ kind: 'spot', target: [0, 2, 0] })).toThrow(/cannot aim at itself/);
    expect(() => own({ kelvin: 100 })).toThrow();
  });
});
