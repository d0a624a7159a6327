import { describe, expect, it } from 'vitest';
import { edgesOfFaces } from './edges.js';

/** A tube around y as a modeller triangulates it: one face whose first and last columns lie on the same places. */
function tube(columns: number): { positions: number[]; indices: number[]; faces: { first: number; last: number }[] } {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i <= columns; i++) {
    // The last column is the first one's very numbers.
    const t = (2 * Math.PI * (i % columns)) / columns;
    for (const y of [0, 5]) positions.push(Math.cos(t), y, Math.sin(t));
  }
  for (let i = 0; i < columns; i++) {
    const a = i * 2;
    indices.push(a, a + 1, a + 2, a + 2, a + 1, a + 3);
  }
  return { positions, indices, faces: [{ first: 0, last: 2 * columns - 1 }] };
}

const length = (points: number[]): number => {
  let sum = 0;
  for (let i = 0; i < points.length; i += 6) sum += Math.hypot(...[0, 1, 2].map((k) => points[i + k]! - points[i + 3 + k]!));
  return sum;
};

describe('edges of faces', () => {
  it('a tube has two circles, and no line where it closes', () => {
    expect(length(edgesOfFaces(tube(24)))).toBeCloseTo(2 * 48 * Math.sin(Math.PI / 24), 9);
  });

  it('what two faces share is drawn once', () => {
    const halves = {
      ...tube(24),
      faces: [
        { first: 0, last: 23 },
        { first: 24, last: 47 },
      ],
    };
    expect(length(edgesOfFaces(halves))).toBeCloseTo(2 * 48 * Math.sin(Math.PI / 24) + 2 * 5, 9);
  });

  it('triangles without area add nothing', () => {
    expect(edgesOfFaces({ positions: [0, 0, 0, 1, 0, 0], indices: [0, 1, 1], faces: [{ first: 0, last: 0 }] }).length).toBe(0);
  });
});
