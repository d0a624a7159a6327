import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { DAYLIGHT_UNIT, daylightOf, daylightSchema, dayOfYear } from '../../src/core/stage/daylight.js';
import { siteSchema, skyAngles } from '../../src/core/stage/site.js';
import {
  availability,
  clearChromaticity,
  extraterrestrial,
  relativeLuminance,
  type SkyLight,
  skyTable,
  sunColour,
} from '../../src/core/stage/sky.js';
import { applyDaylight } from '../../src/core/stage/stage.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { SKY_SIZE } from '../../src/engine/scene/environmentMap.js';
import { DARK, trace, type TraceOptions } from '../support/trace.js';

const RADIANS = Math.PI / 180;
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };
const site = siteSchema.parse({ latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' });

/** Mean over the upper hemisphere of luminance × cosine, by the midpoint rule: illuminance over that of the zenith. */
function horizontal(luminance: (zenith: number, turn: number) => number, steps = 400): number {
  let sum = 0;
  for (let i = 0; i < steps; i++) {
    const zenith = ((i + 0.5) / steps) * (Math.PI / 2);
    for (let j = 0; j < steps; j++) sum += luminance(zenith, ((j + 0.5) / steps) * 2 * Math.PI) * Math.cos(zenith) * Math.sin(zenith);
  }
  return (sum * (Math.PI / 2 / steps) * 2 * Math.PI) / steps;
}

describe('CIE S 011 / ISO 15469 skies', () => {
  it('has the traditional overcast with a zenith of three horizons, and 7 pi / 9 of it on level ground (Moon and Spencer 1942)', () => {
    expect(relativeLuminance(16, 0, 1, 1) / relativeLuminance(16, Math.PI / 2, 1, 1)).toBeCloseTo(3, 9);
    expect(horizontal((z) => relativeLuminance(16, z, 1, 1))).toBeCloseTo((7 * Math.PI) / 9, 4);
  });

  it('is 1 at the zenith in every type, whatever the sun', () => {
    for (let type = 1; type <= 16; type++) for (const sun of [0.1, 0.8, 1.4]) expect(relativeLuminance(type, 0, sun, sun)).toBeCloseTo(1, 12);
  });

  it('is even in type 5, brightest around the sun in clear types, and the same all round in types 1, 3 and 5', () => {
    for (const z of [0, 0.5, 1.5]) expect(relativeLuminance(5, z, 0.7, 1)).toBeCloseTo(1, 12);
    for (const type of [11, 12, 13, 14, 15]) {
      const [atSun, opposite] = [relativeLuminance(type, 0.8, 0.8, 0), relativeLuminance(type, 0.8, 0.8, 1.6)];
      expect(atSun).toBeGreaterThan(4 * opposite);
    }
    for (const type of [1, 3, 5]) expect(relativeLuminance(type, 1, 0.7, 0.3)).toBe(relativeLuminance(type, 1, 0.7, 1.7));
  });

  it('takes the coefficients of type 12 as published: -1, -0.32, 10, -3, 0.45', () => {
    const [z, s, x] = [1.1, 0.6, 0.5];
    const f = (a: number): number => 1 + 10 * (Math.exp(-3 * a) - Math.exp((-3 * Math.PI) / 2)) + 0.45 * Math.cos(a) ** 2;
    const phi = (a: number): number => 1 - Math.exp(-0.32 / Math.cos(a));
    expect(relativeLuminance(12, z, s, x)).toBeCloseTo((f(x) * phi(z)) / (f(s) * phi(0)), 12);
  });

  it('refuses a type that there is not', () => expect(() => relativeLuminance(17, 0, 0, 0)).toThrow(/no sky of type 17/));
});

describe('IES RP-21 daylight availability (values from memory)', () => {
  it('has 127.5 klx outside, more in January', () => {
    expect(extraterrestrial(2)).toBeCloseTo(127.5 * 1.034, 9);
    expect(extraterrestrial(2 + 365 / 2)).toBeCloseTo(127.5 * 0.966, 9);
  });

  it('gives sun and sky at 30° in each condition', () => {
    const outside = extraterrestrial(100);
    expect(availability('clear', 30 * RADIANS, 100).direct).toBeCloseTo(outside * Math.exp(-0.42), 9);
    expect(availability('clear', 30 * RADIANS, 100).diffuse).toBeCloseTo(0.8 + 15.5 * Math.SQRT1_2, 9);
    expect(availability('partly cloudy', 30 * RADIANS, 100).direct).toBeCloseTo(outside * Math.exp(-1.6), 9);
    expect(availability('partly cloudy', 30 * RADIANS, 100).diffuse).toBeCloseTo(22.8, 9);
    expect(availability('overcast', 30 * RADIANS, 100)).toEqual({ direct: 0, diffuse: expect.closeTo(10.8, 9) as number });
  });

  it('goes over into twilight without a step, 3.4 lx where it ends', () => {
    const [above, below] = [availability('clear', 1e-9, 100), availability('clear', -1e-9, 100)];
    expect(above.diffuse).toBeCloseTo(below.diffuse, 3);
    expect(availability('clear', -6 * RADIANS, 100)).toEqual({ direct: 0, diffuse: expect.closeTo(0.0034, 6) as number });
  });

  it('counts days from 1, leap days too', () => {
    expect([dayOfYear('2026-01-01'), dayOfYear('2026-12-31'), dayOfYear('2028-12-31')]).toEqual([1, 365, 366]);
  });
});

describe('colour', () => {
  it('is bluer away from the sun than beside it, and whiter with haze (Preetham 1999)', () => {
    const s = 50 * RADIANS;
    const [far] = clearChromaticity(2.5, 30 * RADIANS, s, 80 * RADIANS);
    const [near] = clearChromaticity(2.5, 50 * RADIANS, s, 2 * RADIANS);
    const [hazy] = clearChromaticity(8, 30 * RADIANS, s, 80 * RADIANS);
    expect(far).toBeLessThan(0.27);
    expect(near).toBeGreaterThan(far + 0.02);
    expect(hazy).toBeGreaterThan(far);
  });

  it('leaves the lux as they are, whatever the haze', () => {
    for (const turbidity of [2, 8]) {
      const light = daylightOf(daylightSchema.parse({ date: '2026-04-10', time: '14:00', turbidity }), site);
      expect(light.lux.sun).toBeCloseTo(daylightOf(daylightSchema.parse({ date: '2026-04-10', time: '14:00' }), site).lux.sun, 9);
    }
  });

  it('reddens the sun on its way down', () => {
    const warm = (h: number): number => sunColour(2.5, h * RADIANS)[0] / sunColour(2.5, h * RADIANS)[2];
    expect(warm(60)).toBeLessThan(1.6);
    expect(warm(10)).toBeGreaterThan(warm(60) * 1.3);
    expect(warm(2)).toBeGreaterThan(warm(10) * 2);
    const [r, g, b] = sunColour(3, 0.3);
    expect(0.2126 * r + 0.7152 * g + 0.0722 * b).toBeCloseTo(1, 9);
  });
});

/** Level white ground with nothing on it, under daylight: radiance times pi, in klx. */
function groundLux(options: Partial<TraceOptions>): number {
  const ground = modelOf('ground', [{ mesh: new MeshMaker().quad([-50, 0, 50], [100, 0, 0], [0, 0, -100]).mesh(), material: MATT }]);
  const picture = trace(ground, {
    eye: [0, 1, 0],
    target: [0, 0, 0],
    focalLength: 1200,
    width: 32,
    height: 32,
    samples: 256,
    bounces: 1,
    ...options,
  });
  let sum = 0;
  for (let p = 0; p < 1024; p++) sum += 0.2126 * picture.colour[p * 3]! + 0.7152 * picture.colour[p * 3 + 1]! + 0.0722 * picture.colour[p * 3 + 2]!;
  return ((sum / 1024) * Math.PI * DAYLIGHT_UNIT) / 1000;
}

describe('the rendered sky', () => {
  it.each([
    ['clear', '2026-06-21', '13:30'],
    ['clear', '2026-03-21', '08:00'],
    ['partly cloudy', '2026-06-21', '10:00'],
    ['overcast', '2026-10-01', '12:00'],
  ] as const)('gives level ground the lux of sun and sky: %s, %s %s', (sky, date, time) => {
    const light = daylightOf(daylightSchema.parse({ date, time, sky }), site);
    const stage = applyDaylight(DARK, light, true);
    // The sky alone, then both.
    expect(groundLux({ stage: { ...stage, lights: [] } }) / light.lux.sky).toBeCloseTo(1, 1.7);
    expect(groundLux({ stage }) / light.lux.level).toBeCloseTo(1, 1.7);
  });

  it('integrates to its diffuse light in each of the sixteen types', () => {
    const { width, height } = SKY_SIZE;
    for (let type = 1; type <= 16; type++) {
      const sky: SkyLight = { type, turbidity: 3, sun: [Math.cos(0.7), Math.sin(0.7), 0], diffuse: 0.8, ground: [0, 0, 0] };
      const texels = skyTable(sky, width, height);
      let sum = 0;
      for (let row = 0; row < height / 2; row++) {
        const zenith = ((row + 0.5) / height) * Math.PI;
        for (let column = 0; column < width; column++) {
          const at = (row * width + column) * 3;
          const l = 0.2126 * texels[at]! + 0.7152 * texels[at + 1]! + 0.0722 * texels[at + 2]!;
          sum += l * Math.cos(zenith) * Math.sin(zenith) * (Math.PI / height) * ((2 * Math.PI) / width);
        }
      }
      expect(sum).toBeCloseTo(0.8, 5);
    }
  });

  it('has its brightest place at the sun, whichever way it stands', () => {
    for (const sun of [
      [0.6, 0.5, -0.3],
      [-0.6, 0.5, -0.3],
      [0.2, 0.4, 0.9],
    ] as Vec3[]) {
      const n = Math.hypot(...sun);
      const to = sun.map((c) => c / n) as Vec3;
      const { width, height } = SKY_SIZE;
      const texels = skyTable({ type: 12, turbidity: 2.5, sun: to, diffuse: 1, ground: [0, 0, 0] }, width, height);
      let best = 0;
      for (let i = 0; i < width * height; i++) if (texels[i * 3 + 1]! > texels[best * 3 + 1]!) best = i;
      const zenith = ((Math.floor(best / width) + 0.5) / height) * Math.PI;
      const turn = (((best % width) + 0.5) / width - 0.5) * 2 * Math.PI;
      const there: Vec3 = [Math.sin(turn) * Math.sin(zenith), Math.cos(zenith), -Math.cos(turn) * Math.sin(zenith)];
      // A texel is 1.4°, and towards the horizon the sky is brighter beside the sun than at it.
      expect(Math.acos(there[0] * to[0] + there[1] * to[1] + there[2] * to[2]) / RADIANS).toBeLessThan(4);
    }
  });
});

describe('shadows of a pole of 2 m', () => {
  const SIZE = 400;
  /** A plan of 12 m on a side, from above: which way and how far the shadow goes. */
  function shadow(north: number, disc: number, time: string) {
    const daylight = daylightSchema.parse({ date: '2026-04-20', time, disc });
    const light = daylightOf(daylight, { ...site, north });
    const model = modelOf('pole', [
      { mesh: new MeshMaker().quad([-20, 0, 20], [40, 0, 0], [0, 0, -40]).mesh(), material: MATT },
      { mesh: new MeshMaker().box([-0.03, 0, -0.03], [0.03, 2, 0.03]).mesh(), material: { base: [0, 0, 0], specular: 0 } },
    ]);
    const { colour } = trace(model, {
      eye: [0, 300, 0],
      target: [0, 0, -0.0001],
      // 12 m across 300 m away.
      focalLength: (36 * 300) / 12,
      width: SIZE,
      height: SIZE,
      samples: 4,
      bounces: 1,
      stage: {
        ...applyDaylight(DARK, light, true),
        lights: light.light ? [light.light] : [],
        sky: undefined,
        environment: DARK.environment,
        backdrop: DARK.backdrop,
      },
    });
    let far: [number, number] = [0, 0];
    const middle = SIZE / 2;
    for (let y = 0; y < SIZE; y++) {
      for (let x = 0; x < SIZE; x++) {
        const [dx, dy] = [x + 0.5 - middle, y + 0.5 - middle];
        if (colour[(y * SIZE + x) * 3 + 1]! < 0.02 && Math.hypot(dx, dy) > Math.hypot(...far)) far = [dx, dy];
      }
    }
    const metre = SIZE / 12;
    // Up in the picture is -Z, right is +X.
    const place = skyAngles([far[0], 0, far[1]], north);
    return { light, length: Math.hypot(...far) / metre, azimuth: place.azimuth, pixel: 1 / metre };
  }

  it('are as long as height ÷ tan(altitude) and lie away from the sun, within a pixel', () => {
    for (const time of ['10:00', '13:00', '17:00']) {
      const { light, length, azimuth, pixel } = shadow(0, 0, time);
      const exact = 2 / Math.tan(light.sun.altitude * RADIANS);
      // The pole is 6 cm thick; its far corner adds at most half its diagonal.
      expect(Math.abs(length - exact)).toBeLessThan(pixel + 0.0425);
      const across = Math.sin((azimuth - light.sun.azimuth - 180) * RADIANS) * exact;
      expect(Math.abs(across)).toBeLessThan(pixel + 0.0425);
    }
  });

  it('turn by 30° with true north', () => {
    const [a, b] = [shadow(0, 0, '11:00'), shadow(30, 0, '11:00')];
    // Against true north nothing changes; in the model the shadow has turned by 30°.
    const apart = ((b.azimuth - a.azimuth + 540) % 360) - 180;
    expect(Math.abs(apart * RADIANS * a.length)).toBeLessThan(2 * a.pixel + 0.06);
    expect(a.light.light!.direction).not.toEqual(b.light.light!.direction);
    const bearing = (d: Vec3): number => Math.atan2(d[0], -d[2]) / RADIANS;
    expect((bearing(b.light.light!.direction) - bearing(a.light.light!.direction) + 360) % 360).toBeCloseTo(30, 9);
  });

  it('have an edge as wide as the disc makes it', () => {
    // A wall's top edge 2 m up, square to the sun at 45°: the penumbra on the ground is 2 m / sin h × 2 tan(r) / sin h wide.
    const light = daylightOf(daylightSchema.parse({ manualSun: { azimuth: 180, altitude: 45 }, disc: 2 }), undefined);
    const model = modelOf('wall', [
      { mesh: new MeshMaker().quad([-20, 0, 20], [40, 0, 0], [0, 0, -40]).mesh(), material: MATT },
      { mesh: new MeshMaker().box([-15, 0, -0.01], [15, 2, 0]).mesh(), material: MATT },
    ]);
    const width = 64;
    const height = 256;
    const { colour } = trace(model, {
      eye: [0, 30, -2],
      target: [0, 0, -2.0001],
      focalLength: (36 * 30) / 1.2,
      width,
      height,
      samples: 256,
      bounces: 1,
      stage: { ...DARK, lights: [light.light!] },
    });
    const rows = Array.from({ length: height }, (_, y) => {
      let sum = 0;
      for (let x = 0; x < width; x++) sum += colour[(y * width + x) * 3 + 1]!;
      return sum / width;
    });
    const full = Math.max(...rows);
    // Share of the disc that is seen grows from 0 to 1 over the penumbra; its middle half, by area, spans 2 × 0.4040 r of a disc.
    const crossing = (share: number): number => {
      const at = rows.findIndex((v) => v < share * full);
      const [a, b] = [rows[at - 1]!, rows[at]!];
      return at - 1 + (a - share * full) / (a - b);
    };
    const metre = height / 1.2;
    const between = (crossing(0.25) - crossing(0.75)) / metre;
    const h = 45 * RADIANS;
    const radius = (2 / Math.sin(h)) * (Math.tan(1 * RADIANS) / Math.sin(h));
    expect(between / (2 * 0.404 * radius)).toBeCloseTo(1, 1);
  });
});
