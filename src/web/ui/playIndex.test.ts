import { describe, expect, it } from 'vitest';
import { playIndex } from './playIndex.js';

describe('frames that play', () => {
  it('go round, from wherever they begin', () => {
    expect([0, 1, 2, 3, 4].map((n) => playIndex(1, n, 3, false))).toEqual([1, 2, 0, 1, 2]);
  });
  it('go there and back, without the ends twice', () => {
    expect([0, 1, 2, 3, 4, 5, 6].map((n) => playIndex(0, n, 4, true))).toEqual([0, 1, 2, 3, 2, 1, 0]);
    expect([0, 1, 2, 3].map((n) => playIndex(2, n, 4, true))).toEqual([2, 3, 2, 1]);
  });
  it('are one where there is one', () => expect(playIndex(0, 7, 1, true)).toBe(0));
});
