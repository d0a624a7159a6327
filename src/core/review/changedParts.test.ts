import { describe, expect, it } from 'vitest';
import { changedParts, type PartMap } from './changedParts.js';

/** Half the size of the difference: columns of five pixels by path. */
const mapOf = (...columns: (string | null)[]): PartMap => {
  const parts = [...new Set(columns.filter((c) => c !== null))];
  const width = columns.length * 5;
  const row = Array.from({ length: width }, (_, x) => parts.indexOf(columns[Math.floor(x / 5)] ?? '') + 1);
  return { width, height: 10, parts, map: Uint16Array.from(Array.from({ length: 10 }, () => row).flat()) };
};
/** 40 × 20 pixels, changed where the columns (of ten pixels) say so. */
const changed = (...columns: boolean[]): { width: number; height: number; mask: Uint8Array } => ({
  width: 40,
  height: 20,
  mask: Uint8Array.from({ length: 800 }, (_, i) => (columns[Math.floor((i % 40) / 10)] ? 1 : 0)),
});

describe('changed parts', () => {
  it('are those in the changed pixels, most first, with their share of the picture', () => {
    const map = mapOf('Base', 'Base', 'Shade', null);
    expect(changedParts(changed(true, true, true, true), map, map)).toEqual([
      { path: 'Base', share: 0.5, presence: 'both' },
      { path: 'Shade', share: 0.25, presence: 'both' },
    ]);
    expect(changedParts(changed(false, false, false, false), map, map)).toEqual([]);
  });

  it('say what is gone and what is new', () => {
    expect(changedParts(changed(false, false, true, false), mapOf('Base', null, 'Knob', null), mapOf('Base', null, 'Dial', null))).toEqual([
      { path: 'Knob', share: 0.25, presence: 'first' },
      { path: 'Dial', share: 0.25, presence: 'second' },
    ]);
  });

  it('leave out a part of which only the outline changed', () => {
    const map = mapOf('Wall', 'Wall', 'Wall', 'Wall');
    const { width, height, mask } = changed(false, false, false, false);
    // 12 of 800 pixels: enough for an area, 1.5 % of the part.
    mask.fill(1, 0, 12);
    expect(changedParts({ width, height, mask }, map, map)).toEqual([]);
    mask.fill(1, 0, 48);
    expect(changedParts({ width, height, mask }, map, map)).toHaveLength(1);
  });
});
