import { describe, expect, it } from 'vitest';
import { DAYLIGHT_UNIT } from '../stage/daylight.js';
import { ev100OfCamera, ev100OfStops, stopsOfEv100, exposureWarning, shutterTimeOf } from './exposure.js';
import { applyGrade, NEUTRAL_GRADE } from './grade.js';

describe('exposure under daylight', () => {
  it('goes to and fro between stops and EV100', () => {
    for (const stops of [-5, 0, 3.25]) expect(stopsOfEv100(ev100OfStops(stops))).toBeCloseTo(stops, 12);
    expect(ev100OfStops(1)).toBeCloseTo(ev100OfStops(0) - 1, 12);
  });

  it('has f/16 at 1/100 s and ISO 100 near EV 15, the rule of a sunny day (common practice, no source)', () => {
    expect(ev100OfCamera({ aperture: 16, time: 1 / 100, sensitivity: 100 })).toBeCloseTo(14.64, 2);
    expect(ev100OfCamera({ aperture: 1, time: 1, sensitivity: 100 })).toBe(0);
    expect(ev100OfCamera({ aperture: 8, time: 1 / 60, sensitivity: 400 })).toBeCloseTo(
      ev100OfCamera({ aperture: 8, time: 1 / 60, sensitivity: 100 }) - 2,
      12,
    );
    expect(shutterTimeOf(ev100OfCamera({ aperture: 5.6, time: 1 / 30, sensitivity: 200 }), { aperture: 5.6, sensitivity: 200 })).toBeCloseTo(
      1 / 30,
      12,
    );
  });

  it('brings 1.2 · 2^EV cd/m² to white (ISO 12232)', () => {
    const ev = 14;
    const luminance = 1.2 * 2 ** ev;
    const light = new Float32Array(3).fill(luminance / DAYLIGHT_UNIT);
    const out = new Float32Array(3);
    applyGrade(light, out, { ...NEUTRAL_GRADE, curve: 'straight', exposure: stopsOfEv100(ev) });
    expect(out[1]).toBeCloseTo(1, 5);
    applyGrade(
      light.map((v) => v / 2),
      out,
      { ...NEUTRAL_GRADE, curve: 'straight', exposure: stopsOfEv100(ev) },
    );
    // IEC 61966-2-1: half the light is 0.7354.
    expect(out[1]).toBeCloseTo(0.7354, 3);
  });

  it('says when light is off by orders of magnitude, and by how much', () => {
    expect(exposureWarning(0, 3.9)).toBeNull();
    expect(exposureWarning(0, -4)).toBeNull();
    expect(exposureWarning(0, 10)).toBeCloseTo(1 / 1024, 12);
    expect(exposureWarning(2, -5)).toBeCloseTo(128, 9);
  });
});
