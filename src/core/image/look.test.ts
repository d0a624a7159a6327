/** What comes after the tone curve, against closed forms; and colour tables in and out. */
import { describe, expect, it } from 'vitest';
import { decodeTable3d, encodeTable3d, lookUpColour, tableFrom } from './colourTable.js';
import { readCube, writeCube } from './cube.js';
import { applyGrade, gradeSchema, NEUTRAL_GRADE } from './grade.js';
import { applyLook, contrastCurve, levelsCurve, type Look, tableOfLook } from './look.js';

const looked = (rgb: number[], look: Look): number[] => {
  const out = Float32Array.from(rgb);
  applyLook(out, look);
  return [...out];
};
/** Colours all over the cube, by an additive recurrence (Roberts, "The unreasonable effectiveness of quasirandom sequences", 2018). */
const COLOURS = Array.from({ length: 400 }, (_, i) => [0.8191725, 0.6710436, 0.5497004].map((a) => (0.5 + a * (i + 1)) % 1));
const near = (a: readonly number[], b: readonly number[]): number => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)));

describe('levels and contrast', () => {
  it('change nothing where they are plain', () => {
    for (const rgb of COLOURS)
      expect(looked(rgb, { levels: { black: 0, white: 1, gamma: 1 }, contrast: 1, saturation: 1 })).toEqual([...Float32Array.from(rgb)]);
  });
  it('follow their formula within a quarter of an 8-bit step', () => {
    const levels = { black: 0.1, white: 0.85, gamma: 1.4 };
    for (const rgb of COLOURS)
      expect(
        near(
          looked(rgb, { levels, contrast: 1.7 }),
          rgb.map((v) => contrastCurve(levelsCurve(v, levels), 1.7)),
        ),
      ).toBeLessThan(0.25 / 255);
    expect(levelsCurve(0.1, levels)).toBe(0);
    expect(levelsCurve(0.85, levels)).toBe(1);
    // By hand: (0.475 - 0.1) / 0.75 = 0.5; 0.5 ^ (1 / 1.4).
    expect(levelsCurve(0.475, levels)).toBeCloseTo(0.6095, 4);
  });
  it('keep black, middle and white, and have the stated slope at the middle', () => {
    for (const c of [0.4, 1, 2.5]) {
      expect([0, 0.5, 1].map((v) => contrastCurve(v, c))).toEqual([0, 0.5, 1]);
      expect((contrastCurve(0.501, c) - contrastCurve(0.499, c)) / 0.002).toBeCloseTo(c, 1);
      expect(contrastCurve(0.2, c) + contrastCurve(0.8, c)).toBeCloseTo(1, 12);
    }
  });
});

describe('saturation by ASC CDL 1.2', () => {
  it('moves colours from and to their luma', () => {
    const grey = looked([0.8, 0.4, 0.2], { saturation: 0 });
    // 0.2126 * 0.8 + 0.7152 * 0.4 + 0.0722 * 0.2
    for (const v of grey) expect(v).toBeCloseTo(0.4706, 4);
    const [r, g, b] = looked([0.6, 0.5, 0.4], { saturation: 1.5 }) as [number, number, number];
    const luma = 0.2126 * 0.6 + 0.7152 * 0.5 + 0.0722 * 0.4;
    expect(
      near(
        [r, g, b],
        [0.6, 0.5, 0.4].map((v) => luma + 1.5 * (v - luma)),
      ),
    ).toBeLessThan(1e-6);
  });
});

describe('a table of colours', () => {
  const out = new Float32Array(3);
  const through = (table: Parameters<typeof lookUpColour>[0], rgb: number[]): number[] => {
    lookUpColour(table, rgb[0]!, rgb[1]!, rgb[2]!, out);
    return [...out];
  };
  it('that is the identity gives each colour back, of any size', () => {
    for (const side of [2, 3, 17, 33]) {
      const table = tableFrom(side, () => undefined);
      for (const rgb of [...COLOURS, [0, 0, 0], [1, 1, 1], [1, 0, 1]]) expect(near(through(table, rgb), rgb)).toBeLessThan(1e-6);
    }
  });
  it('between entries is exact for what is linear, and close for a closed curve', () => {
    const linear = (c: number[]): number[] => [0.2 + 0.5 * c[1]!, 0.9 - 0.3 * c[0]! - 0.4 * c[2]!, 0.1 + 0.2 * c[0]! + 0.3 * c[1]! + 0.4 * c[2]!];
    const table = tableFrom(5, (rgb) => rgb.set(linear([...rgb])));
    for (const rgb of COLOURS) expect(near(through(table, rgb), linear(rgb))).toBeLessThan(1e-6);
    // v ↦ v² between 33 entries is off by at most h² / 4 = (1 / 32)² / 4.
    const square = tableFrom(33, (rgb) => rgb.set([...rgb].map((v) => v * v)));
    for (const rgb of COLOURS)
      expect(
        near(
          through(square, rgb),
          rgb.map((v) => v * v),
        ),
      ).toBeLessThan((1 / 32) ** 2 / 4 + 1e-6);
  });
  it('keeps greys grey where its own are', () => {
    const table = tableFrom(9, (rgb) => rgb.set([rgb[0]! ** 2, rgb[1]! ** 2, rgb[2]! ** 2]));
    for (let v = 0; v <= 1; v += 0.0173) {
      const [r, g, b] = through(table, [v, v, v]);
      expect(Math.max(Math.abs(r! - g!), Math.abs(g! - b!))).toBeLessThan(1e-6);
    }
  });
  it('goes through a set file at 16 bits, is mixed in by its share, and is checked', () => {
    const table = tableFrom(9, (rgb) => rgb.set([...rgb].map((v) => 1 - v)));
    const values = encodeTable3d(table);
    expect(near([...decodeTable3d(9, values).values], [...table.values])).toBeLessThan(1 / 65535);
    const kept = { name: 'negative', side: 9, values, share: 0.25 };
    expect(near(looked([0.2, 0.6, 1], { table: kept }), [0.35, 0.55, 0.75])).toBeLessThan(1e-4);
    expect(gradeSchema.safeParse({ table: kept }).success).toBe(true);
    expect(gradeSchema.safeParse({ table: { ...kept, values: values.slice(4) } }).error!.issues[0]!.message).toContain('cut short');
  });
});

describe('.cube files', () => {
  it('come out as they went in', () => {
    const table = tableFrom(17, (rgb) => rgb.set([rgb[1]!, rgb[2]!, rgb[0]! ** 1.5]));
    const text = writeCube('turned "about"', table);
    const read = readCube(text);
    expect([read.title, read.table.side, read.reduced]).toEqual(['turned about', 17, false]);
    expect(near([...read.table.values], [...table.values])).toBeLessThan(1e-6);
  });
  it('have red fastest, comments, a domain, and more entries than are kept', () => {
    const small = readCube('# by hand\nTITLE "t"\n\nLUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n');
    expect([...small.table.values.slice(3, 6)]).toEqual([1, 0, 0]);
    // Over 0..2 the identity of a domain shows 0..1 as its first half.
    const wide = readCube('LUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n');
    expect([...wide.table.values.slice(-3)]).toEqual([0.5, 0.5, 0.5]);
    const large = readCube(
      writeCube(
        'large',
        tableFrom(40, () => undefined),
      ),
    );
    expect([large.table.side, large.reduced]).toEqual([33, true]);
    expect(near([...large.table.values], [...tableFrom(33, () => undefined).values])).toBeLessThan(2e-6);
  });
  it.each([
    ['LUT_1D_SIZE 16\n', 'one-dimensional'],
    ['hello\n', 'LUT_3D_SIZE must come before'],
    ['', 'no LUT_3D_SIZE'],
    ['LUT_3D_SIZE 2\n0 0 0\n', 'needs 8 lines of values and has 1'],
    ['LUT_3D_SIZE 2\n0 0 zero\n', 'Line 2'],
    ['LUT_3D_SIZE 1\n', '2 to 256'],
    ['LUT_3D_SIZE 2\nGAMMA 2\n', '"GAMMA"'],
  ])('that are none are refused: %j', (text, said) => {
    expect(() => readCube(text)).toThrow(said);
  });
  it('of a grade hold what it does to display values', () => {
    const look: Look = { contrast: 1.3, saturation: 0.7, levels: { black: 0.02, white: 0.98, gamma: 1.1 } };
    const baked = readCube(writeCube('baked', tableOfLook(33, look))).table;
    const light = Float32Array.from(COLOURS.flat());
    const [plain, graded] = [new Float32Array(light.length), new Float32Array(light.length)];
    applyGrade(light, plain, NEUTRAL_GRADE);
    applyGrade(light, graded, gradeSchema.parse(look));
    const rgb = new Float32Array(3);
    let most = 0;
    for (let i = 0; i < plain.length; i += 3) {
      lookUpColour(baked, plain[i]!, plain[i + 1]!, plain[i + 2]!, rgb);
      most = Math.max(most, near([...rgb], [...graded.subarray(i, i + 3)]));
    }
    expect(most).toBeLessThan(1 / 255);
  });
});
