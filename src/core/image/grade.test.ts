import { describe, expect, it } from 'vitest';
import { toDisplay } from '../units/colour.js';
import { applyGrade, type Grade, autoExposure, NEUTRAL_GRADE } from './grade.js';
import { CURVES, CURVE_LIST, drago, EXPOSURE, hable } from './tone.js';
import { whiteMatrix } from './whiteBalance.js';
import { blackBody } from '../units/colourTemperature.js';

const graded = (linear: number[], grade: Partial<Grade>, size?: { width: number; height: number }): number[] => {
  const out = new Float32Array(linear.length);
  applyGrade(Float32Array.from(linear), out, { ...NEUTRAL_GRADE, ...grade }, size);
  return [...out];
};

describe('tone curves by their publications', () => {
  it('Drago 2003 maps white to white and compresses by a logarithm whose base moves from 2 to 10', () => {
    // Equation 4 by hand: at white the base is 10; far below it is nearly 2.
    expect(drago(11.2)).toBeCloseTo(1, 12);
    expect(drago(11.2 * 0.5 ** 4)).toBeCloseTo(Math.log(0.7 + 1) / Math.log(2 + 8 * 0.85 ** 4) / Math.log10(12.2), 12);
  });
  it('Hable 2010 maps its linear white 11.2 to white', () => {
    expect(hable(11.2 / 2)).toBeCloseTo(1, 12);
    expect(hable(0)).toBeCloseTo(0, 12);
    // The talk's formula with A 0.15, B 0.50, C 0.10, D 0.20, E 0.02, F 0.30 by hand at 1 (bias 2): 0.15 + 0.05 + 0.004 over 0.71, less E / F.
    const curve = (x: number): number => (x * (0.15 * x + 0.1 * 0.5) + 0.2 * 0.02) / (x * (0.15 * x + 0.5) + 0.2 * 0.3) - 0.02 / 0.3;
    expect(hable(0.5)).toBeCloseTo((0.204 / 0.71 - 0.02 / 0.3) / curve(11.2), 9);
  });
  it.each(CURVES)('%s rises all the way and begins at black', (curve) => {
    const { map } = CURVE_LIST[curve];
    expect(map(0)).toBeCloseTo(0, 9);
    for (let l = 0.01; l < 2.5; l += 0.01) expect(map(l)).toBeGreaterThan(map(l - 0.01));
  });
});

describe('exposure', () => {
  it('is in stops: two of them are four times the light', () => {
    const light = [0.1, 0.05, 0.02];
    const brighter = graded(light, { exposure: 2, curve: 'straight' });
    brighter.forEach((v, c) => expect(v).toBeCloseTo(toDisplay(light[c]! * 4 * EXPOSURE), 4));
  });
  it('metering brings the log-average to its key value, whatever the light was', () => {
    const scene = Float32Array.from({ length: 3000 }, (_, i) => 40 * (1 + (Math.floor(i / 3) % 10)));
    const stops = autoExposure(scene);
    const logs = Array.from({ length: 1000 }, (_, i) => Math.log2(scene[i * 3]! * EXPOSURE * 2 ** stops));
    expect(2 ** (logs.reduce((a, b) => a + b, 0) / logs.length)).toBeCloseTo(0.36, 2);
    expect(autoExposure(new Float32Array(30))).toBe(0);
  });
});

describe('white balance', () => {
  // Wyman, Sloan, Shirley, "Simple analytic approximations to the CIE XYZ color matching functions", 2013, multi-lobe fit.
  const lobe = (w: number, m: number, below: number, above: number): number => Math.exp(-0.5 * ((w - m) * (w < m ? below : above)) ** 2);
  const matching = (w: number): [number, number, number] => [
    0.362 * lobe(w, 442, 0.0624, 0.0374) + 1.056 * lobe(w, 599.8, 0.0264, 0.0323) - 0.065 * lobe(w, 501.1, 0.049, 0.0382),
    0.821 * lobe(w, 568.8, 0.0213, 0.0247) + 0.286 * lobe(w, 530.9, 0.0613, 0.0322),
    1.217 * lobe(w, 437, 0.0845, 0.0278) + 0.681 * lobe(w, 459, 0.0385, 0.0725),
  ];
  it.each([1800, 2700, 4000, 5500, 6500, 10_000, 20_000])('a black body of %i K has the colour that Planck gives it', (kelvin) => {
    const sum = [0, 0, 0];
    for (let w = 380; w <= 780; w++) {
      const planck = w ** -5 / (Math.exp(1.438777e7 / (w * kelvin)) - 1);
      matching(w).forEach((m, c) => (sum[c]! += m * planck));
    }
    const all = sum[0]! + sum[1]! + sum[2]!;
    const [x, y] = blackBody(kelvin);
    // The fit of the matching functions is good to about half a percent.
    expect(Math.abs(x - sum[0]! / all)).toBeLessThan(0.005);
    expect(Math.abs(y - sum[1]! / all)).toBeLessThan(0.005);
  });
  /** Linear Rec. 709 of a black body's light, its luminance 1 (IEC 61966-2-1). */
  const kelvinColour = (kelvin: number): number[] => {
    const [x, y] = blackBody(kelvin);
    const [a, b] = [x / y, (1 - x - y) / y];
    return [3.2409699 * a - 1.5373832 - 0.4986108 * b, -0.9692436 * a + 1.8759675 + 0.0415551 * b, 0.0556301 * a - 0.203977 + 1.0569715 * b];
  };
  it('makes light of its temperature grey, and changes nothing at 6500 K', () => {
    expect(whiteMatrix(6500)).toBeNull();
    for (const kelvin of [2700, 4000, 9000]) {
      const light = kelvinColour(kelvin).map((c) => c * 0.2);
      const [r, g, b] = graded(light, { whiteBalance: kelvin, curve: 'straight' });
      const neutral = graded(
        kelvinColour(6500).map((c) => c * 0.2),
        { curve: 'straight' },
      );
      expect(r! / b!).toBeCloseTo(neutral[0]! / neutral[2]!, 2);
      expect(g! / b!).toBeCloseTo(neutral[1]! / neutral[2]!, 2);
    }
  });
});

describe('glow', () => {
  it('spreads what is brighter than white as far as it should, evenly, and leaves the rest', () => {
    const [width, height] = [61, 41];
    const dark = new Array<number>(width * height * 3).fill(0.01);
    const glow = { strength: 0.5, reach: 0.1 };
    expect(graded(dark, { glow }, { width, height })).toEqual(graded(dark, {}, { width, height }));
    const spark = [...dark];
    const at = (20 * width + 30) * 3;
    for (let c = 0; c < 3; c++) spark[at + c] = 200;
    const shown = graded(spark, { glow, curve: 'straight' }, { width, height });
    const value = (x: number, y: number): number => shown[(y * width + x) * 3]!;
    expect(value(33, 20)).toBeGreaterThan(value(36, 20));
    expect(value(33, 20)).toBeCloseTo(value(27, 20), 6);
    expect(value(30, 23)).toBeCloseTo(value(33, 20), 6);
    // Beyond three boxes of 2 r + 1 with r = 2 there is nothing of it.
    expect(value(30 + 8, 20)).toBeCloseTo(value(0, 0), 6);
  });
});
