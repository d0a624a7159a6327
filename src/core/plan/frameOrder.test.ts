import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renderOrder, roundOf } from './frameOrder.js';

const run = (shot: string, count: number): { shot: string }[] => Array.from({ length: count }, () => ({ shot }));

describe('the order in which frames are rendered', () => {
  it('is the plan’s where nothing is spread', () => {
    expect(renderOrder([...run('a', 3), ...run('b', 2)], 1)).toEqual([0, 1, 2, 3, 4]);
  });

  it('has every n-th frame of every shot first, and halves the gaps round by round', () => {
    const order = renderOrder([...run('a', 9), ...run('b', 3)], 4);
    const rendered = order.map((place, position) => ({ place, position })).sort((x, y) => x.place - y.place);
    // Frames 0, 4 and 8 of a and 0 of b; then 2 and 6, and 2; then all others.
    expect(rendered.map((r) => r.position)).toEqual([0, 4, 8, 9, 2, 6, 11, 1, 3, 5, 7, 10]);
  });

  it('takes steps that do not halve evenly', () => {
    expect(Array.from({ length: 11 }, (_, i) => roundOf(i, 10))).toEqual([0, 3, 2, 3, 2, 1, 2, 3, 2, 3, 0]);
  });

  it('has every frame once, whatever is asked', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 60 }), fc.integer({ min: 1, max: 50 }), (shots, spread) => {
        const order = renderOrder(
          shots.map((shot) => ({ shot })),
          spread,
        );
        expect([...order].sort((a, b) => a - b)).toEqual(shots.map((_, i) => i));
      }),
    );
  });
});
