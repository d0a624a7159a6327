import { describe, expect, it } from 'vitest';
import { remainingTime, type TimedFrame } from './remaining.js';

/** Frames of a run: what was foreseen of each, and what those took that are done. */
const frames = (run: string, foreseen: (number | null)[], measured: number[], glass: (i: number) => number = () => 0): TimedFrame[] =>
  foreseen.map((f, i) => ({
    traits: { run, place: foreseen.length > 1 ? i / (foreseen.length - 1) : 0, seen: { covered: 0.4, glass: glass(i), closed: 0.5, subject: 0.3 } },
    foreseen: f,
    measured: measured[i] ?? null,
    left: measured[i] === undefined ? 1 : 0,
  }));
const times = (n: number, value: number): number[] => Array.from({ length: n }, () => value);

describe('remaining time', () => {
  it('is unknown where nothing was foreseen or measured, and nothing after the last frame', () => {
    expect(remainingTime(frames('a', [null, null], []))).toBeNull();
    expect(remainingTime(frames('a', [1, 2], [1, 2]))).toEqual({ low: 0, likely: 0, high: 0 });
    expect(remainingTime([])).toEqual({ low: 0, likely: 0, high: 0 });
  });

  it('is what was foreseen before any frame is done', () => {
    expect(remainingTime(frames('a', [1, 2, 3], []))!.likely).toBeCloseTo(6, 9);
  });

  it('goes by the frames so far where nobody foresaw any', () => {
    expect(remainingTime(frames('a', [null, null, null, null], [3, 3]))!.likely).toBeCloseTo(6, 9);
    // The last one is nearer to those that come.
    const likely = remainingTime(frames('a', [null, null, null, null], [2, 4]))!.likely;
    expect(likely).toBeGreaterThan(6);
    expect(likely).toBeLessThan(8);
  });

  it('is put right by what is measured', () => {
    const early = remainingTime(frames('a', times(20, 1), [2]))!;
    const later = remainingTime(frames('a', times(20, 1), times(10, 2)))!;
    // 19 and 10 frames of 2 seconds.
    expect(early.likely).toBeGreaterThan(24);
    expect(later.likely).toBeCloseTo(20, 0);
    expect(later.high / later.low).toBeLessThan(early.high / early.low);
  });

  it('knows that the second half is heavier', () => {
    const heavier = [...times(10, 1), ...times(10, 5)];
    expect(remainingTime(frames('a', heavier, times(5, 1.2)))!.likely).toBeCloseTo(1.2 * 55, -1);
  });

  it('goes by frames that are alike, not by their order', () => {
    // Every second frame looks through glass, and takes twice as long as foreseen; the others take what was foreseen.
    const glass = (i: number): number => (i % 2 ? 2 : 0);
    const done = Array.from({ length: 10 }, (_, i) => (i % 2 ? 2 : 1));
    const rest = frames('a', times(20, 1), done, glass).map((f, i) => (f.left > 0 && i % 2 === 0 ? { ...f, left: 0 } : f));
    // Five frames of glass are left.
    expect(remainingTime(rest)!.likely).toBeGreaterThan(8.5);
  });

  it('takes runs apart', () => {
    const two = [...frames('a', times(10, 1), times(9, 3)), ...frames('b', times(10, 1), times(9, 1))];
    const likely = remainingTime(two)!.likely;
    expect(likely).toBeGreaterThan(3.4);
    expect(likely).toBeLessThan(4.6);
  });

  it('counts what is done of frames in work, and the pace of the machine', () => {
    const half = frames('a', times(4, 2), times(3, 2)).map((f) => (f.left > 0 ? { ...f, left: 0.5 } : f));
    expect(remainingTime(half)!.likely).toBeCloseTo(1, 2);
    expect(remainingTime(half, 1.5)!.likely).toBeCloseTo(1.5, 2);
  });

  it('of very many frames is as of few', () => {
    const count = 20_000;
    const many = frames(
      'a',
      Array.from({ length: count }, (_, i) => 1 + i / count),
      Array.from({ length: count / 2 }, (_, i) => 1.5 * (1 + i / count)),
    );
    const exact = 1.5 * Array.from({ length: count / 2 }, (_, i) => 1.5 + i / count).reduce((a, b) => a + b, 0);
    expect(remainingTime(many)!.likely / exact).toBeCloseTo(1, 2);
  });
});
