import { describe, expect, it } from 'vitest';
import { type ChangedArea, findAreas, MIN_AREA } from './areas.js';

/** The same written out: from pixel to pixel, four apart at most either way. */
function floodAreas(mask: Uint8Array, values: Float32Array, width: number, height: number): ChangedArea[] {
  const left = new Set([...mask.keys()].filter((i) => mask[i] === 1));
  const areas: ChangedArea[] = [];
  while (left.size > 0) {
    const [start] = left;
    left.delete(start!);
    const own = [start!];
    for (const i of own)
      for (let dy = -4; dy <= 4; dy++)
        for (let dx = -4; dx <= 4; dx++) {
          const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
          if (x >= 0 && x < width && y >= 0 && y < height && left.delete(y * width + x)) own.push(y * width + x);
        }
    const [xs, ys] = [own.map((i) => i % width), own.map((i) => Math.floor(i / width))];
    const [x, y] = [Math.min(...xs), Math.min(...ys)];
    if (own.length < MIN_AREA) continue;
    const largest = Math.max(...own.map((i) => values[i]!));
    areas.push({ x, y, width: Math.max(...xs) - x + 1, height: Math.max(...ys) - y + 1, pixels: own.length, largest });
  }
  return areas.sort((a, b) => b.pixels - a.pixels);
}

describe('areas of a mask', () => {
  it.each([0.002, 0.01, 0.03, 0.1, 0.5, 0.99])('are those found from pixel to pixel, where %s of it is changed', (share) => {
    let state = Math.round(share * 1e4) + 1;
    const next = (): number => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
    for (const [width, height] of [
      [60, 40],
      [7, 90],
      [90, 3],
    ] as const) {
      const mask = Uint8Array.from({ length: width * height }, () => (next() < share ? 1 : 0));
      const values = Float32Array.from(mask, (m) => m * next() * 9);
      const wanted = floodAreas(mask, values, width, height);
      const found = findAreas(mask, values, width, height);
      expect(found).toEqual(wanted);
      // What is too small is taken off.
      expect(mask.reduce((a, b) => a + b, 0)).toBe(wanted.reduce((n, a) => n + a.pixels, 0));
    }
  });
});
