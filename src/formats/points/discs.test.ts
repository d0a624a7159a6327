import { describe, expect, it } from 'vitest';
import { thin } from './cloud.js';
import { discMesh, discsOf, flattestDirection } from './discs.js';
import { Neighbours, roomFor } from './neighbours.js';

/** Numbers from 0 to 1 that are the same each time (Park and Miller 1988). */
function random(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

/** Points of a square grid in the plane across y, a step apart; each may be off by a share of the step. */
function sheet(side: number, step: number, off = 0, next = random(7)): Float32Array {
  return Float32Array.from({ length: side * side * 3 }, (_, i) => {
    const point = Math.floor(i / 3);
    const axis = i % 3;
    return axis === 1 ? 0 : (axis === 0 ? point % side : Math.floor(point / side)) * step + (next() - 0.5) * off * step;
  });
}

describe('the direction in which points spread least', () => {
  it('is across the plane that they lie in, however it is tilted', () => {
    const next = random(3);
    for (let n = 0; n < 50; n++) {
      const [ax, ay, az, bx, by, bz] = Array.from({ length: 6 }, () => next() - 0.5) as [number, number, number, number, number, number];
      const across = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
      const length = Math.hypot(...across);
      const points = Array.from({ length: 12 }, (): [number, number, number] => {
        const [u, v] = [next(), next()];
        return [ax * u + bx * v + 5, ay * u + by * v - 2, az * u + bz * v];
      });
      const found = flattestDirection(Float32Array.from(points.flat()), [...points.keys()])!;
      const cosine = across.reduce((s, v, k) => s + (v / length) * found[k as 0 | 1 | 2], 0);
      expect(Math.abs(cosine)).toBeCloseTo(1, 6);
      expect(Math.hypot(...found)).toBeCloseTo(1, 9);
    }
  });

  it('is none of points on a line, of two, or of the same one', () => {
    const of = (...points: number[][]): unknown => flattestDirection(Float32Array.from(points.flat()), [...points.keys()]);
    expect(of([0, 0, 0], [1, 2, 3], [2, 4, 6], [3, 6, 9])).toBeNull();
    expect(of([0, 0, 0], [1, 0, 0])).toBeNull();
    expect(of([1, 1, 1], [1, 1, 1], [1, 1, 1])).toBeNull();
  });
});

describe('the nearest points', () => {
  it('are those that a search of all finds, on a sheet and in a ball', () => {
    const next = random(11);
    const ball = Float32Array.from({ length: 900 }, () => next() * 2);
    for (const positions of [sheet(18, 0.3, 0.6), ball]) {
      const near = new Neighbours(positions);
      const found = roomFor(4);
      const count = positions.length / 3;
      for (let i = 0; i < count; i++) {
        const all = Array.from({ length: count }, (_, j) => ({
          j,
          square: [0, 1, 2].reduce((s, k) => s + (positions[3 * i + k]! - positions[3 * j + k]!) ** 2, 0),
        }));
        const nearest = all.filter(({ j }) => j !== i).sort((a, b) => a.square - b.square)[0]!;
        near.search(i, found);
        expect(found.squares[0]).toBeCloseTo(nearest.square, 9);
      }
    }
  });
});

describe('a stray point far off', () => {
  it('changes nothing for the others', () => {
    const near = sheet(60, 0.05, 0.5);
    const far = new Float32Array([...near, 9e6, 9e6, -9e6]);
    // Places far from zero are coarse in single precision, but these are not.
    expect(discsOf({ positions: far }).diameter).toBeCloseTo(discsOf({ positions: near }).diameter, 6);
  });
});

describe('discs of a sheet of points', () => {
  const positions = sheet(20, 0.1);
  const discs = discsOf({ positions });
  const all = Uint32Array.from({ length: 400 }, (_, i) => i);

  it('face across it, and are one and a half steps wide', () => {
    expect(discs.diameter).toBeCloseTo(0.15, 6);
    for (let i = 0; i < 400; i++)
      expect([...discs.cloud.normals.subarray(3 * i, 3 * i + 3)].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([0, 1, 0]);
  });

  it('have the area of hexagons, and face as their points do', () => {
    const mesh = discMesh(discs, all);
    expect(mesh.indices.length / 3).toBe(400 * 4);
    let area = 0;
    for (let t = 0; t < mesh.indices.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => mesh.positions.subarray(3 * mesh.indices[t + k]!, 3 * mesh.indices[t + k]! + 3)) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      // Across y: only that part of the product of two edges is not 0, and it is up.
      area += ((b[2]! - a[2]!) * (c[0]! - a[0]!) - (b[0]! - a[0]!) * (c[2]! - a[2]!)) / 2;
    }
    expect(area).toBeCloseTo(400 * ((3 * Math.sqrt(3)) / 2) * 0.075 ** 2, 4);
  });

  it('face as the file says, but where it says nothing', () => {
    const normals = new Float32Array(1200);
    for (let i = 0; i < 200; i++) normals.set([2, 0, 0], 3 * i);
    const { cloud } = discsOf({ positions, normals });
    expect([...cloud.normals.subarray(0, 3)]).toEqual([1, 0, 0]);
    expect(cloud.normals[3 * 300 + 1]).toBeCloseTo(1, 6);
  });

  it('are there for one point alone', () => {
    const one = discsOf({ positions: new Float32Array([1, 2, 3]) });
    expect(discMesh(one, new Uint32Array([0])).positions.every(Number.isFinite)).toBe(true);
    expect(one.diameter).toBe(0.01);
  });
});

describe('what is kept of many points', () => {
  it('is spread evenly: no point is far from one that is kept, and none is kept twice', () => {
    const positions = sheet(300, 0.01, 0.5);
    const { kept, side } = thin(positions, 4000);
    expect(kept.length).toBeLessThanOrEqual(4000);
    expect(kept.length).toBeGreaterThan(3400);
    expect(new Set(kept).size).toBe(kept.length);
    const next = random(5);
    for (let n = 0; n < 300; n++) {
      const i = Math.floor(next() * 90_000);
      const nearest = kept.reduce(
        (m, j) => Math.min(m, Math.hypot(positions[3 * i]! - positions[3 * j]!, positions[3 * i + 2]! - positions[3 * j + 2]!)),
        Infinity,
      );
      expect(nearest).toBeLessThanOrEqual(side * Math.SQRT2 * 1.01);
    }
  });

  it('is all of few', () => {
    expect([...thin(sheet(3, 1), 9).kept]).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
  });
});
