import { describe, expect, it } from 'vitest';
import type { PartMap } from './changedParts.js';
import { followPlace, moveShape, partAt, placeOfShape } from './notePlace.js';
import { noteShapeSchema } from './notes.js';

/** A part over a box of pixels in 20 × 10. */
const mapOf = (path: string, x: number, y: number, w: number, h: number): PartMap => {
  const map = new Uint16Array(200);
  for (let v = y; v < y + h; v++) for (let u = x; u < x + w; u++) map[v * 20 + u] = 1;
  return { width: 20, height: 10, parts: [path], map };
};

describe('a note', () => {
  it('is about its pin, the head of its arrow, or its middle', () => {
    expect(placeOfShape({ kind: 'pin', points: [[0.2, 0.3]] })).toEqual([0.2, 0.3]);
    expect(
      placeOfShape({
        kind: 'arrow',
        points: [
          [0, 0],
          [0.5, 0.4],
        ],
      }),
    ).toEqual([0.5, 0.4]);
    expect(
      placeOfShape({
        kind: 'box',
        points: [
          [0.2, 0.2],
          [0.6, 0.4],
        ],
      }),
    ).toEqual([0.4, expect.closeTo(0.3, 9)]);
  });

  it('is moved as a whole, and stays within the render', () => {
    const moved = moveShape(
      {
        kind: 'arrow',
        points: [
          [0.1, 0.1],
          [0.5, 0.5],
        ],
      },
      [0.6, 0.4],
    );
    expect(moved.points.map((p) => p.map((v) => Math.round(v * 100)))).toEqual([
      [20, 0],
      [60, 40],
    ]);
    expect(
      moveShape(
        {
          kind: 'arrow',
          points: [
            [0.9, 0.5],
            [0.1, 0.5],
          ],
        },
        [0.5, 0.5],
      ).points[0],
    ).toEqual([1, 0.5]);
  });

  it('has the points of its shape, within the render', () => {
    expect(noteShapeSchema.safeParse({ kind: 'pin', points: [] }).success).toBe(false);
    expect(noteShapeSchema.safeParse({ kind: 'pin', points: [[0, 1.01]] }).success).toBe(false);
    expect(
      noteShapeSchema.safeParse({
        kind: 'stroke',
        points: [
          [0, 0],
          [1, 1],
        ],
      }).success,
    ).toBe(true);
  });

  it('follows its part to where that is, at the same place of it', () => {
    const [from, to] = [mapOf('Lamp/Shade', 2, 2, 4, 4), mapOf('Lamp/Shade', 10, 1, 8, 8)];
    expect(partAt(from, [0.15, 0.3])).toBe('Lamp/Shade');
    expect(partAt(from, [0.9, 0.9])).toBeNull();
    // A quarter into the part across, and at its lower edge.
    const [x, y] = followPlace(from, to, 'Lamp/Shade', [0.15, 0.6])!;
    expect(x).toBeCloseTo((10 + 2) / 20, 9);
    expect(y).toBeCloseTo(9 / 10, 9);
  });

  it('does not follow a part that is not seen', () => {
    expect(followPlace(mapOf('A', 2, 2, 4, 4), mapOf('B', 2, 2, 4, 4), 'A', [0.15, 0.3])).toBeNull();
  });
});
