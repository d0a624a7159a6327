/** The compiled grade beside the plain one, on colours all over and far beyond white. */
import { describe, expect, it } from 'vitest';
import { encodeTable3d, tableFrom } from '../../core/image/colourTable.js';
import { applyGrade, exposedLight, type Grade, gradeSchema } from '../../core/image/grade.js';
import { CURVES } from '../../core/image/tone.js';
import { loadKernelModule } from '../node/assets.js';
import { LightGrader } from './lightGrader.js';

/** Not a multiple of four. */
const COUNT = 4003;
/** Light from a hundred-thousandth of white to ten thousand times white, by an additive recurrence (Roberts 2018); some of it black. */
const LIGHT = Float32Array.from({ length: 3 * COUNT }, (_, i) => (i % 97 === 0 ? 0 : 10 ** (-5 + 9 * ((0.5 + 0.8191725134 * i) % 1))));
const ALPHA = Float32Array.from({ length: COUNT }, (_, i) => (i % 11) / 10);

const grader = new LightGrader(loadKernelModule());
const gradeOf = (values: object): Grade => gradeSchema.parse(values);

function plain(grade: Grade, alpha: Float32Array | null): Uint8ClampedArray {
  const display = new Float32Array(LIGHT.length);
  applyGrade(LIGHT, display, grade);
  const bytes = new Uint8ClampedArray(4 * COUNT);
  for (let i = 0; i < COUNT; i++) {
    for (let c = 0; c < 3; c++) bytes[4 * i + c] = display[3 * i + c]! * 255;
    bytes[4 * i + 3] = alpha ? alpha[i]! * 255 : 255;
  }
  return bytes;
}

const farthest = (a: Uint8ClampedArray, b: Uint8ClampedArray): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);

const TABLE = tableFrom(17, (c) => c.set([c[2]! ** 0.8, c[0]! * 0.9, 1 - c[1]!]));
const CASES: [string, object][] = [
  ...CURVES.flatMap((curve) => [-6, 0, 3.3].map((exposure): [string, object] => [`${curve} at ${exposure} EV`, { curve, exposure }])),
  ['warm light', { whiteBalance: 3200 }],
  ['cold light', { whiteBalance: 12_000, exposure: -1 }],
  ['levels', { levels: { black: 0.05, white: 0.9, gamma: 1.3 } }],
  ['contrast', { contrast: 1.6 }],
  ['less colour', { saturation: 0.3 }],
  ['more colour', { saturation: 1.8, contrast: 0.8 }],
  ['a colour table', { table: { name: 'T', side: 17, values: encodeTable3d(TABLE), share: 0.7 } }],
  [
    'all at once',
    { exposure: 0.7, whiteBalance: 5000, curve: 'toe', contrast: 1.2, saturation: 1.3, levels: { black: 0.02, white: 0.97, gamma: 0.9 } },
  ],
];

describe('LightGrader', () => {
  it.each(CASES)('shows what files have, within 1/255: %s', (_, values) => {
    grader.load(LIGHT, ALPHA);
    const grade = gradeOf(values);
    const seen = grader.grade(grade);
    expect(seen).toHaveLength(4 * COUNT);
    expect(farthest(seen, plain(grade, ALPHA))).toBeLessThanOrEqual(1);
    // Most bytes are the very same.
    const other = plain(grade, ALPHA).reduce((n, v, i) => n + (v === seen[i] ? 0 : 1), 0);
    expect(other / seen.length).toBeLessThan(0.02);
  });

  it('leaves out exposure and white balance where the light has them', () => {
    const grade = gradeOf({ exposure: 1.5, whiteBalance: 4000 });
    grader.load(LIGHT, null);
    const direct = grader.grade(grade);
    grader.load(exposedLight(LIGHT, grade), null);
    expect(farthest(grader.grade(grade, true), direct)).toBeLessThanOrEqual(1);
    expect(direct[3]).toBe(255);
  });

  it('keeps its light when a larger table needs more room, and takes light of another size', () => {
    const own = new LightGrader(loadKernelModule());
    own.load(LIGHT, ALPHA);
    const before = own.grade(gradeOf({}));
    own.grade(gradeOf({ table: { name: 'T', side: 17, values: encodeTable3d(TABLE), share: 1 } }));
    expect([...own.grade(gradeOf({}))]).toEqual([...before]);
    own.load(LIGHT.subarray(0, 30), null);
    expect([...own.grade(gradeOf({}))]).toEqual([...before.subarray(0, 40)].map((v, i) => (i % 4 === 3 ? 255 : v)));
  });

  it('shows what is below black, and what is no number, as black', () => {
    const own = new LightGrader(loadKernelModule());
    own.load(Float32Array.of(0, 0, 0, NaN, NaN, NaN, -1, -1, -1, 9, 9, 9), null);
    expect([...own.grade(gradeOf({}))].filter((_, i) => i % 4 !== 3)).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 0, 255, 255, 255]);
  });
});
