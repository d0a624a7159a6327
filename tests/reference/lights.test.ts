import { describe, expect, it } from 'vitest';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import type { EnvironmentMap } from '../../src/engine/scene/environmentMap.js';
import type { Light } from '../../src/core/stage/light.js';
import { toLight, luxAtTarget, userLightSchema } from '../../src/core/stage/userLight.js';
import { luminance } from '../../src/core/units/colour.js';
import { cameraOf } from '../../src/core/camera/view.js';
import { BLACK, type Traced, trace, type TraceOptions, WHITE } from '../support/trace.js';

type Vec3 = [number, number, number];
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };
const grey = (v: number): Vec3 => [v, v, v];

/** Illuminance on a spot of level ground from above: radiance of a white matt surface times pi. */
function lux(lights: Light[], options: Partial<TraceOptions> = {}): { value: number; picture: Traced } {
  const ground = modelOf('ground', [{ mesh: new MeshMaker().quad([-50, 0, 50], [100, 0, 0], [0, 0, -100]).mesh(), material: MATT }]);
  const picture = trace(ground, {
    // Near enough that the spot is 3 cm wide.
    eye: [0, 1, 0],
    target: [0, 0, 0],
    focalLength: 1200,
    width: 16,
    height: 16,
    samples: 256,
    bounces: 1,
    ...options,
    stage: { lights, ...options.stage },
  });
  return { value: picture.mean() * Math.PI, picture };
}

describe('lamps, in lux against the closed form', () => {
  it('a point of I candela gives I cos a / d²', () => {
    for (const [x, h] of [
      [0, 2],
      [3, 2],
      [1, 7],
    ] as const) {
      const d2 = x * x + h * h;
      const { value } = lux([{ kind: 'point', centre: [x, h, 0], intensity: grey(100) }]);
      expect(value / ((100 * h) / Math.sqrt(d2) / d2)).toBeCloseTo(1, 3);
    }
  });

  it('a lamp of one’s own gives the lux of its lumens: F / 4 pi d² all round, F / (pi (d² + r²)) under a disc', () => {
    const placed = { id: 'a', name: 'A', at: [0, 2, 0], target: [0, 0, 0], lumens: 800, kelvin: 6500 };
    // Green alone is read off the picture: its share of the lamp's light is taken out.
    const value = (own: object): number => {
      const lamp = toLight(userLightSchema.parse({ ...placed, ...own }), 1);
      const light = 'intensity' in lamp ? lamp.intensity : 'radiance' in lamp ? lamp.radiance : lamp.irradiance;
      return (lux([lamp]).value * luminance(...light)) / light[1];
    };
    expect(value({ kind: 'point' }) / (800 / (4 * Math.PI * 4))).toBeCloseTo(1, 3);
    expect(value({ kind: 'disc', width: 1 }) / (800 / (Math.PI * (4 + 0.25)))).toBeCloseTo(1, 2);
    expect(value({ kind: 'spot', cone: 30 }) / luxAtTarget(userLightSchema.parse({ ...placed, kind: 'spot', cone: 30 }))).toBeCloseTo(1, 3);
  });

  it('a spot gives that within its inner cone, nothing beyond the outer, the square between (KHR_lights_punctual)', () => {
    const spot = (degrees: number): number => {
      const a = (degrees * Math.PI) / 180;
      const direction: Vec3 = [Math.sin(a), -Math.cos(a), 0];
      return lux([{ kind: 'spot', centre: [0, 2, 0], direction, intensity: grey(100), inner: 0.3, outer: 0.6 }]).value;
    };
    expect(spot(0)).toBeCloseTo(25, 2);
    expect(spot(16)).toBeCloseTo(25, 2);
    expect(spot(35)).toBe(0);
    const share = (Math.cos((25 * Math.PI) / 180) - Math.cos(0.6)) / (Math.cos(0.3) - Math.cos(0.6));
    expect(spot(25) / (25 * share * share)).toBeCloseTo(1, 2);
  });

  it('a sun gives its irradiance times the sine of its altitude, as a point and as a disc of 0.53°', () => {
    for (const radius of [0, (0.2665 * Math.PI) / 180]) {
      const altitude = (30 * Math.PI) / 180;
      const sun: Light = { kind: 'sun', direction: [-Math.cos(altitude), -Math.sin(altitude), 0], radius, irradiance: grey(90_000) };
      expect(lux([sun]).value / 45_000).toBeCloseTo(1, 3);
    }
  });

  it('a disc gives what coaxial discs exchange: pi L r² / (d² + r²) at its axis', () => {
    // Howell, A Catalog of Radiation Heat Transfer Configuration Factors, B-11: differential element to coaxial disc.
    const { value, picture } = lux([{ kind: 'disc', centre: [0, 2, 0], u: [1.5, 0, 0], v: [0, 0, 1.5], radiance: grey(10) }]);
    const exact = (Math.PI * 10 * 1.5 ** 2) / (2 ** 2 + 1.5 ** 2);
    expect((picture.error() * Math.PI) / exact).toBeLessThan(0.005);
    expect(Math.abs(value - exact)).toBeLessThan(3 * picture.error() * Math.PI + 1e-3);
  });

  it('a mesh that shines gives as much as the lamp of its shape, both sides, and is drawn, not met by luck', () => {
    const square = new MeshMaker().quad([-0.5, 1, -0.5], [1, 0, 0], [0, 0, 1], 3, 3).mesh();
    const model = modelOf('lit', [
      { mesh: new MeshMaker().quad([-0.5, 0, 0.5], [1, 0, 0], [0, 0, -1]).mesh(), material: MATT },
      { mesh: square, material: { base: [0, 0, 0], specular: 0, emission: [1, 1, 1] } },
    ]);
    // Howell C-11: parallel unit squares one apart, 0.1998. The eye looks from the side, under the shining square.
    const over = (samples: number) =>
      trace(model, { eye: [0, 0.99, 0], target: [0, 0, 0.0001], focalLength: 36 / 2 / 0.505, width: 48, height: 48, samples, bounces: 1 });
    const picture = over(64);
    expect(picture.error() / picture.mean()).toBeLessThan(0.005);
    expect(Math.abs(picture.mean() - 0.1998)).toBeLessThan(3 * picture.error() + 0.002);
  });

  it('a hundred lamps give the sum of a hundred, at the error of about one', () => {
    const ring = Array.from({ length: 100 }, (_, i): Light => ({
      kind: 'point',
      centre: [3 * Math.cos(i), 2 + (i % 5), 3 * Math.sin(i)],
      intensity: grey(1 + (i % 3)),
    }));
    const exact = ring.reduce((sum, l) => (l.kind === 'point' ? sum + (l.intensity[0] * l.centre[1]) / Math.hypot(...l.centre) ** 3 : sum), 0);
    const { value, picture } = lux(ring, { samples: 1024 });
    expect(Math.abs(value - exact)).toBeLessThan(4 * picture.error() * Math.PI);
    expect((picture.error() * Math.PI) / exact).toBeLessThan(0.005);
  });
});

describe('sun and shadow', () => {
  // A thin upright on level ground, seen straight from above in a parallel view of 8 m across.
  const shadow = (altitude: number, radius: number) => {
    const pole = modelOf('pole', [
      { mesh: new MeshMaker().quad([-8, 0, 8], [16, 0, 0], [0, 0, -16]).mesh(), material: MATT },
      { mesh: new MeshMaker().box([-0.02, 0, -2], [0.02, 1, 2]).mesh(), material: { ...MATT, base: [0, 0, 0] as Vec3 } },
    ]);
    const a = (altitude * Math.PI) / 180;
    const sun: Light = { kind: 'sun', direction: [-Math.cos(a), -Math.sin(a), 0], radius, irradiance: grey(Math.PI / Math.sin(a)) };
    const picture = trace(pole, {
      eye: [0, 5, 0],
      target: [0, 0, 0],
      width: 800,
      height: 16,
      samples: 64,
      bounces: 1,
      stage: { lights: [sun] },
      frame: {
        camera: cameraOf(
          { eye: [0, 5, 0], target: [0, 0, 0], focalLength: 50, keepVerticals: false, kind: 'parallel', width: 8 },
          { width: 800, height: 16 },
          1,
        ),
      },
    });
    return Array.from({ length: 800 }, (_, x) => picture.colour[(8 * 800 + x) * 3]!);
  };

  it('a wall of 1 m throws a shadow of 1 / tan(altitude) m, within a pixel of a centimetre', () => {
    for (const altitude of [20, 45, 60]) {
      const row = shadow(altitude, 0);
      const dark = row.filter((v) => v < 0.5).length / 100;
      expect(Math.abs(dark - (1 / Math.tan((altitude * Math.PI) / 180) + 0.04))).toBeLessThan(0.011);
    }
  });

  it('a disc of 2° radius gives a half-shadow from height / tan(altitude + r) to height / tan(altitude − r)', () => {
    const r = (2 * Math.PI) / 180;
    const a = (40 * Math.PI) / 180;
    const row = shadow(40, r);
    const soft = row.filter((v) => v > 0.004 && v < 0.996).length / 100;
    // A tenth of a degree at each end has less than the threshold.
    expect(Math.abs(soft - (1 / Math.tan(a - r) - 1 / Math.tan(a + r)))).toBeLessThan(0.02);
  });
});

describe('a picture as surround', () => {
  const image = (width: number, height: number, light: (longitude: number, latitude: number) => number): EnvironmentMap => ({
    id: 'test',
    width,
    height,
    texels: Float32Array.from({ length: width * height * 3 }, (_, i) => {
      const p = Math.floor(i / 3);
      return light((((p % width) + 0.5) / width - 0.5) * 360, 90 - ((Math.floor(p / width) + 0.5) / height) * 180);
    }),
  });
  const stage = { image: { id: 'test', rotation: 0, strength: 1, visible: true } };

  it('an even one is a furnace', () => {
    const ball = modelOf('ball', [{ mesh: sphere(48), material: MATT }]);
    const picture = trace(ball, { eye: [0, 0, 4], target: [0, 0, 0], focalLength: 120, samples: 64, stage, image: image(32, 16, () => 1) });
    expect(Math.abs(picture.mean((p) => picture.cover[p] === 1) - 1)).toBeLessThan(0.005);
  });

  it('a small bright patch at the zenith of radius r gives pi L sin² r, found by its brightness', () => {
    const patch = image(720, 360, (_, latitude) => (latitude > 85 ? 1000 : 0));
    const { value, picture } = lux([], { stage, image: patch });
    const exact = Math.PI * 1000 * Math.sin((5 * Math.PI) / 180) ** 2;
    expect((picture.error() * Math.PI) / exact).toBeLessThan(0.005);
    expect(Math.abs(value / exact - 1)).toBeLessThan(0.01);
  });

  it('shows each direction where an equirectangular picture has it: the middle is -Z, a quarter to the right +X', () => {
    const marks = image(360, 180, (longitude, latitude) => (Math.abs(longitude - 90) < 10 && Math.abs(latitude - 20) < 10 ? 1 : 0));
    const nothing = modelOf('far', [{ mesh: new MeshMaker().box([500, -1, 500], [501, 0, 501]).mesh() }]);
    const look = (target: Vec3, rotation = 0) =>
      trace(nothing, { eye: [0, 0, 0], target, focalLength: 400, samples: 4, image: marks, stage: { image: { ...stage.image, rotation } } }).mean();
    const up = Math.tan((20 * Math.PI) / 180);
    expect(look([1, up, 0])).toBeCloseTo(1, 5);
    expect(look([-1, up, 0])).toBe(0);
    expect(look([1, -up, 0])).toBe(0);
    expect(look([0, up, -1])).toBe(0);
    // Turned by 90° counterclockwise seen from above, what was at +X stands at -Z.
    expect(look([0, up, -1], 90)).toBeCloseTo(1, 5);
  });
});

describe('shadow-only ground', () => {
  const box = modelOf('box', [{ mesh: new MeshMaker().box([-0.5, 0, -0.5], [0.5, 1, 0.5]).mesh(), material: MATT }]);
  const base = { height: 0, x: 0, z: 0, inner: 50, outer: 60, colour: grey(0.5), roughness: 1, shadowCatcher: true };
  const sun: Light = { kind: 'sun', direction: [-Math.SQRT1_2, -Math.SQRT1_2, 0], radius: 0, irradiance: grey(1) };
  const view = { eye: [0, 8, 0.01] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 60, width: 64, height: 64, samples: 16 };
  const at = (picture: Traced, x: number) => picture.sums[(32 * 64 + Math.round(32 + (x * 64) / (8 * 0.6))) * picture.stride + 13]! / 16;

  it('is clear where light arrives, opaque in the shadow, and is not there elsewhere', () => {
    const picture = trace(box, { ...view, frame: { transparent: true }, stage: { base, lights: [sun] } });
    expect(at(picture, 1.8)).toBe(0);
    expect(at(picture, -1)).toBe(1);
    expect(at(picture, 0)).toBe(1);
    expect(at(picture, -2)).toBe(0);
  });

  it('shows the backdrop darkened by what is blocked', () => {
    const picture = trace(box, { ...view, stage: { base, lights: [sun], backdrop: WHITE, environment: BLACK } });
    const pixel = (x: number) => picture.colour[(32 * 64 + Math.round(32 + (x * 64) / (8 * 0.6))) * 3]!;
    expect(pixel(1.8)).toBeCloseTo(1, 5);
    expect(pixel(-1)).toBeCloseTo(0, 5);
  });
});
