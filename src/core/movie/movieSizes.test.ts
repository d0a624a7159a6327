import { describe, expect, it } from 'vitest';
import { parseSet, type SetFile } from '../plan/set.js';
import { oddMovieSizes, withEvenMovieSizes } from './movieSizes.js';

const set = (sheet: object, overrides?: object): SetFile =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'x',
    sheet,
    views: [{ id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0] }],
    shots: [
      { id: 'still', name: 'Still', kind: 'still', views: ['a'] },
      { id: 'turn', name: 'Turn', kind: 'turntable', view: 'a', frames: 8, ...(overrides && { overrides }) },
    ],
  });

describe('sizes that movies cannot have', () => {
  it('are those of moving shots alone, of the sheet, of extra sizes and of overrides', () => {
    expect(oddMovieSizes(set({ size: { width: 1280, height: 720 } }))).toEqual([]);
    expect(oddMovieSizes(set({ size: { width: 1281, height: 720 } }))).toEqual([{ shot: 'turn', name: 'Turn', size: { width: 1281, height: 720 } }]);
    const extra = set({ size: { width: 1280, height: 720 }, sizes: [{ id: 'square', width: 601, height: 601 }] });
    expect(oddMovieSizes(extra).map((o) => o.size)).toEqual([{ width: 601, height: 601 }]);
    expect(oddMovieSizes(set({ size: { width: 1281, height: 720 } }, { size: { width: 640, height: 360 } }))).toEqual([]);
  });

  it('become even by a pixel, and even ones stay', () => {
    for (const odd of [
      set({ size: { width: 1281, height: 719 }, sizes: [{ id: 'square', width: 601, height: 600 }] }),
      set({ size: { width: 1280, height: 720 } }, { size: { width: 641, height: 361 } }),
    ]) {
      const mended = withEvenMovieSizes(odd);
      expect(oddMovieSizes(odd).length).toBeGreaterThan(0);
      expect(oddMovieSizes(mended)).toEqual([]);
    }
    const fine = set({ size: { width: 1280, height: 720 } });
    expect(withEvenMovieSizes(fine)).toBe(fine);
  });
});
