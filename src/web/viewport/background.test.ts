import type { Color, DataTexture } from 'three';
import { describe, expect, it } from 'vitest';
import { NEUTRAL_GRADE } from '../../core/image/grade.js';
import { parseHex } from '../../core/units/colour.js';
import { backgroundOf } from './background.js';

const stops = (top: string, middle: string, bottom: string) => ({ top: parseHex(top), middle: parseHex(middle), bottom: parseHex(bottom) });

describe('what stands behind everything', () => {
  it('is one colour where it is even, exactly as the set has it', () => {
    const shown = backgroundOf({ backdrop: stops('#a62c49', '#a62c49', '#a62c49'), displayReferred: true }, NEUTRAL_GRADE);
    expect((shown as Color).getHexString()).toBe('a62c49');
  });

  it('is a gradient from straight down to straight up, with the middle at eye level', () => {
    const texture = backgroundOf({ backdrop: stops('#203040', '#ffffff', '#804020'), displayReferred: true }, NEUTRAL_GRADE) as DataTexture;
    const { data, height } = texture.image as { data: Uint8Array; height: number };
    const row = (i: number): number[] => [...data.subarray(i * 4, i * 4 + 3)];
    const near = (is: number[], hex: string, by: number): void => {
      const wanted = [1, 3, 5].map((k) => parseInt(hex.slice(k, k + 2), 16));
      is.forEach((v, i) => expect(Math.abs(v - wanted[i]!)).toBeLessThanOrEqual(by));
    };
    near(row(0), '#804020', 1);
    near(row(height - 1), '#203040', 1);
    // The root in the kernel's gradient is steep there.
    near(row(height / 2), '#ffffff', 12);
  });

  it('is nothing where an image stands behind the canvas', () => {
    expect(backgroundOf({ backdrop: stops('#000000', '#ffffff', '#000000'), picture: 'a.png' }, NEUTRAL_GRADE)).toBeNull();
  });
});
