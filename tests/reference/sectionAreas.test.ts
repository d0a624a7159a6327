/** Areas of sections against closed forms (mensuration, any handbook), and what is said of them. */
import { describe, expect, it } from 'vitest';
import { displacedSphere } from '../../bench/scenes.js';
import { MeshMaker } from '../../src/core/model/meshMaker.js';
import { revealWarnings } from '../../src/core/shots/sectionReveal/revealWarnings.js';
import { isClosedMesh, sectionAreas, type SolidMesh } from '../../src/core/math/sectionArea.js';

/** A ball of radius 1, of n rings and 2 n columns. */
function ball(n: number, at = [0, 0, 0], inside = false): SolidMesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= 2 * n; i++) {
      const [v, u] = [(Math.PI * j) / n, (Math.PI * i) / n];
      positions.push(at[0]! + Math.sin(v) * Math.cos(u), at[1]! + Math.cos(v), at[2]! + Math.sin(v) * Math.sin(u));
    }
  for (let j = 0; j < n; j++)
    for (let i = 0; i < 2 * n; i++) {
      const a = j * (2 * n + 1) + i;
      const b = a + 2 * n + 1;
      indices.push(...(inside ? [a, b, a + 1, a + 1, b, b + 1] : [a, a + 1, b, a + 1, b + 1, b]));
    }
  return { positions, indices };
}

describe('areas of sections', () => {
  it('a ball: π (r² − d²), however far it stands from the origin', () => {
    for (const at of [
      [0, 0, 0],
      [400, -30, 7],
    ]) {
      const n = [0.6, 0.64, 0.48] as [number, number, number];
      const middle = n.reduce((s, c, k) => s + c * at[k]!, 0);
      const distances = [-0.9, -0.5, 0, 0.3, 0.8];
      const areas = sectionAreas(
        ball(240, at),
        n,
        distances.map((d) => middle + d),
      );
      areas.forEach((a, i) => expect(a / (Math.PI * (1 - distances[i]! ** 2))).toBeCloseTo(1, 3));
      expect(sectionAreas(ball(40, at), n, [middle + 1.1, middle - 1.1])).toEqual([0, 0]);
    }
  });

  it('a box is cut at any height alike; what lies in a solid turned about is a hole', () => {
    const box = new MeshMaker().box([-1, 0, -2], [1, 3, 2]).mesh();
    sectionAreas(box, [0, 1, 0], [0.1, 1, 2.9]).forEach((a) => expect(a).toBeCloseTo(8, 6));
    expect(sectionAreas(box, [1, 0, 0], [0.3])[0]).toBeCloseTo(12, 6);
    const hollow = new MeshMaker().box([-1, 0, -2], [1, 3, 2]).box([-0.5, 1, -0.5], [0.5, 2, 0.5], 1, true).mesh();
    expect(sectionAreas(hollow, [0, 1, 0], [0.5, 1.5]).map((a) => Number(a.toFixed(6)))).toEqual([8, 7]);
  });

  it('tells solids from sheets', () => {
    expect(isClosedMesh(ball(20))).toBe(true);
    expect(isClosedMesh(displacedSphere(40).meshes[0]!)).toBe(true);
    expect(isClosedMesh(new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh())).toBe(true);
    expect(isClosedMesh(new MeshMaker().quad([0, 0, 0], [1, 0, 0], [0, 1, 0]).mesh())).toBe(false);
  });
});

describe('what is said of a reveal', () => {
  it('is nothing where every frame cuts well', () => expect(revealWarnings([1, 2, 3, 2])).toEqual([]));

  it('names the frames at the start, at the end, between parts, and slivers', () => {
    expect(revealWarnings([0, 0, 0.01, 5, 0, 4, 0.05, 0])).toEqual([
      'Nothing is cut yet in frames 1 to 2: move the first station to where the solid begins.',
      'Nothing is cut in frame 5: the plane passes between parts.',
      'Nothing is cut in frame 8: the last station is beyond the solid.',
      'Slivers in frame 3: less than 2 % of the largest cut, 5 m².',
      'Slivers in frame 7: less than 2 % of the largest cut, 5 m².',
    ]);
    expect(revealWarnings([0, 0, 3, 3, 3], 10)[0]).toMatch(/in frames 1 to 20:/);
    // Held on purpose where it cuts nothing.
    const held = [0, 0, 0, 0, 0, 0, 1, 2, 3, 4].map((o) => o / 10);
    expect(revealWarnings([0, 0, 0, 0, 0, 0, 2, 2, 2, 2], 1, held)).toEqual([]);
    // A few frames at the end show the whole, as a reveal does.
    expect(revealWarnings([...new Array<number>(95).fill(2), 0.01, 0.01, 0, 0, 0])).toEqual([]);
    // An end is looked at for long: one frame of a sliver there is remarked, at either.
    const middle = new Array<number>(40).fill(5);
    expect(revealWarnings([0.01, ...middle])).toEqual([expect.stringMatching(/^The first frame cuts a sliver/)]);
    expect(revealWarnings([...middle, 0.01])).toEqual([expect.stringMatching(/^The last frame cuts a sliver/)]);
    expect(revealWarnings([0, ...middle, 0])).toEqual([]);
    expect(revealWarnings([0, 0])).toEqual([expect.stringMatching(/^The plane cuts nothing solid/)]);
  });
});
