import fc from 'fast-check';
import { DataUtils } from 'three';
import { describe, expect, it } from 'vitest';
import { halfDecoder, MAX_HALF, roundToHalf } from './half.js';

/** All finite halves from 0 up, by the table of a library that reads them. */
const halves = Array.from({ length: 0x7c00 }, (_, bits) => DataUtils.fromHalfFloat(bits));
const round = (x: number): number => roundToHalf(Float32Array.of(x))[0]!;

describe('numbers at half precision', () => {
  it('stay where they are halves already', () => {
    expect([...roundToHalf(Float32Array.from(halves))]).toEqual(halves);
    expect([...roundToHalf(Float32Array.from(halves, (h) => -h))]).toEqual(halves.map((h) => -h));
  });

  it('come to the even one from the middle between two, and to the nearer one from beside it (IEEE 754-2008, 4.3.1)', () => {
    const wrong: number[] = [];
    for (let bits = 1; bits < halves.length; bits++) {
      const [low, high] = [halves[bits - 1]!, halves[bits]!];
      const middle = (low + high) / 2;
      const apart = (high - low) / 8;
      if (round(middle) !== (bits % 2 === 0 ? high : low) || round(middle - apart) !== low || round(middle + apart) !== high) wrong.push(bits);
    }
    expect(wrong).toEqual([]);
  });

  it('are at most the largest, and what is no number stays none', () => {
    expect([1e9, Infinity, 65_520, -1e9, -Infinity].map(round)).toEqual([MAX_HALF, MAX_HALF, MAX_HALF, -MAX_HALF, -MAX_HALF]);
    expect(round(NaN)).toBeNaN();
    expect(Object.is(round(-0), -0)).toBe(true);
  });

  it('are off by at most one part in 2048', () => {
    fc.assert(
      fc.property(fc.float({ min: Math.fround(2 ** -14), max: 65_504, noNaN: true }), (x) => Math.abs(round(x) - x) <= x / 2048),
      { numRuns: 2000 },
    );
  });
});

describe('halves by their bits', () => {
  it('are what three.js decodes, every one of them', () => {
    const bits = Uint16Array.from({ length: 65536 }, (_, i) => i);
    const values = halfDecoder()(bits);
    values.forEach((v, i) => expect(Object.is(v, DataUtils.fromHalfFloat(i)) || (Number.isNaN(v) && ((i >> 10) & 31) === 31)).toBe(true));
  });
});
