import { describe, expect, it } from 'vitest';
import { luminance, toLinear, type Rgb } from '../units/colour.js';
import { applyGrade, NEUTRAL_GRADE } from './grade.js';
import { sceneFromDisplay, inverseToneTable } from './inverseTone.js';
import { CURVES } from './tone.js';

/** Display values 0..1 of display values, there and back: to light, and through the grade. */
function around(colour: Rgb, grade: typeof NEUTRAL_GRADE): number[] {
  const out = new Float32Array(3);
  applyGrade(Float32Array.from(sceneFromDisplay(colour.map(toLinear) as Rgb, grade)), out, grade);
  return [...out];
}

/** The same as a kernel does it, by table. */
function byTable(colour: Rgb, grade: typeof NEUTRAL_GRADE, cells: number): number[] {
  const table = inverseToneTable(grade, cells);
  const linear = colour.map(toLinear) as Rgb;
  const x = Math.sqrt(Math.min(1, luminance(...linear))) * cells;
  const i = Math.min(cells - 1, Math.floor(x));
  const gain = table[i]! + (table[i + 1]! - table[i]!) * (x - i);
  const m = table.subarray(cells + 1);
  const out = Float32Array.from([0, 3, 6], (row) => Math.max(0, gain * linear.reduce((s, c, k) => s + m[row + k]! * c, 0)));
  applyGrade(out, out, grade);
  return [...out];
}

describe('a colour that is to come out as it is', () => {
  it.each(CURVES.flatMap((curve) => [-12, 0, 2.5].map((exposure) => ({ curve, exposure }))))(
    'does so within half an 8-bit step: curve $curve, $exposure stops',
    (look) => {
      const grade = { ...NEUTRAL_GRADE, ...look };
      for (let v = 0; v <= 255; v++) for (const c of around([v / 255, v / 255, v / 255], grade)) expect(Math.abs(c * 255 - v)).toBeLessThan(0.5);
      for (const colour of [
        [1, 0, 0],
        [0, 0.2, 1],
        [0.95, 0.9, 0.1],
      ] as Rgb[])
        around(colour, grade).forEach((c, i) => expect(Math.abs(c - colour[i]!) * 255).toBeLessThan(0.5));
    },
  );

  it.each([2800, 4300, 9000])('also where light of %i K is made neutral', (whiteBalance) => {
    const grade = { ...NEUTRAL_GRADE, whiteBalance };
    for (const v of [0.1, 0.5, 0.8, 1]) for (const c of around([v, v, v], grade)) expect(Math.abs(c - v) * 255).toBeLessThan(0.5);
  });

  it.each(CURVES)('by table too: curve %s', (curve) => {
    const grade = { ...NEUTRAL_GRADE, curve, whiteBalance: 5000, exposure: -7 };
    for (let v = 0; v <= 255; v++) for (const c of byTable([v / 255, v / 255, v / 255], grade, 256)) expect(Math.abs(c * 255 - v)).toBeLessThan(0.5);
  });

  it('is brighter light the further the exposure is turned down', () => {
    const at = (exposure: number) => sceneFromDisplay([0.5, 0.5, 0.5], { ...NEUTRAL_GRADE, exposure })[1];
    expect(at(-3) / at(0)).toBeCloseTo(8, 4);
  });
});
