import { describe, expect, it } from 'vitest';
import { PIXEL_COLOUR, PIXEL_COUNT, PIXEL_FLOATS } from '../../../kernel/layout.js';
import { NEUTRAL_GRADE } from '../../core/image/grade.js';
import { filmSoFar } from './filmSoFar.js';

/** A film of so many pixels; `at` tells samples and their mean grey of each, or null where nothing is traced yet. */
function film(width: number, height: number, at: (x: number, y: number) => { samples: number; grey: number } | null) {
  const sums = new Float32Array(width * height * PIXEL_FLOATS);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const pixel = at(x, y);
      if (!pixel) continue;
      const to = (y * width + x) * PIXEL_FLOATS;
      sums[to + PIXEL_COUNT] = pixel.samples;
      for (let c = 0; c < 3; c++) sums[to + PIXEL_COLOUR + c] = pixel.grey * pixel.samples;
    }
  return { width, height, sums, stride: PIXEL_FLOATS };
}

describe('a film that is being filled', () => {
  it('is clear where no tile has come, and the mean of its samples elsewhere', () => {
    const { rgba, width, height } = filmSoFar(
      film(8, 4, (x) => (x < 4 ? { samples: 1 + x, grey: 0.2 } : null)),
      NEUTRAL_GRADE,
      100,
    );
    expect([width, height]).toEqual([8, 4]);
    const alpha = Array.from({ length: 8 }, (_, x) => rgba[x * 4 + 3]);
    expect(alpha).toEqual([255, 255, 255, 255, 0, 0, 0, 0]);
    // However many samples: the mean is the same.
    expect(new Set([0, 1, 2, 3].map((x) => rgba[x * 4])).size).toBe(1);
    expect(rgba[0]).toBeGreaterThan(60);
    expect(rgba[0]).toBeLessThan(200);
  });

  it('is made smaller by the mean of what lies in a pixel, at its aspect', () => {
    const bright = filmSoFar(
      film(40, 20, () => ({ samples: 2, grey: 0.5 })),
      NEUTRAL_GRADE,
      10,
    );
    expect([bright.width, bright.height]).toEqual([10, 5]);
    const mixed = filmSoFar(
      film(40, 20, (x) => ({ samples: 2, grey: x % 2 })),
      NEUTRAL_GRADE,
      10,
    );
    const [even, odd] = [0, 1].map(
      (grey) =>
        filmSoFar(
          film(40, 20, () => ({ samples: 2, grey })),
          NEUTRAL_GRADE,
          10,
        ).rgba[0]!,
    );
    expect(mixed.rgba[0]).toBeGreaterThan(even!);
    expect(mixed.rgba[0]).toBeLessThan(odd!);
  });
});
