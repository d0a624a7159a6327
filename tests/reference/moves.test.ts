import fc from 'fast-check';
import { CatmullRomCurve3, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { splineSegments, splinePoint } from '../../src/core/math/spline.js';
import { smoothstep, easedTime, sampleAt, pathFrameCount, pathSeconds, pathTimes } from '../../src/core/shots/stationTiming.js';
import { parseRate } from '../../src/core/units/rate.js';

const apart = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, i) => v - b[i]!));

describe('centripetal Catmull-Rom paths', () => {
  it('are those of three.js', () => {
    const points: Vec3[] = [
      [0, 0, 0],
      [1, 0, 2],
      [4, 1, 2],
      [4, 1.5, -1],
      [0, 0.2, -2],
    ];
    const curve = new CatmullRomCurve3(
      points.map((p) => new Vector3(...p)),
      false,
      'centripetal',
    );
    // Inner legs: at its ends three.js goes on otherwise.
    for (const leg of [1, 2])
      for (const u of [0.1, 0.35, 0.5, 0.9]) {
        const own = splinePoint(points[leg - 1]!, points[leg]!, points[leg + 1]!, points[leg + 2]!, u);
        expect(apart(own, curve.getPoint((leg + u) / 4).toArray())).toBeLessThan(1e-9);
      }
  });

  it('pass through their points, and are as long as a line, a circle and a helix in closed form', () => {
    const line = splineSegments([
      [0, 0, 0],
      [1, 0, 0],
      [4, 0, 0],
      [6, 0, 0],
    ]);
    expect(line.map((l) => l.length)).toEqual([1, 3, 2].map((v) => expect.closeTo(v, 6) as number));
    expect(line[1]!.at(0.5)[0]).toBeCloseTo(2.5, 4);
    const round = (n: number, rise: number, turns: number): Vec3[] =>
      Array.from({ length: n + 1 }, (_, i) => {
        const a = (2 * Math.PI * turns * i) / n;
        return [Math.cos(a), (rise * i) / n, Math.sin(a)];
      });
    // A closed circle leaves out its doubled last point. Through 48 points the spline's own error is below 1e-5.
    const circle = splineSegments(round(48, 0, 1).slice(0, 48), true);
    expect(circle.reduce((s, l) => s + l.length, 0) / (2 * Math.PI)).toBeCloseTo(1, 4);
    const helix = splineSegments(round(96, 3, 2)).slice(1, -1);
    const exact = (Math.hypot(2 * Math.PI * 2, 3) * 94) / 96;
    expect(helix.reduce((s, l) => s + l.length, 0) / exact).toBeCloseTo(1, 4);
    for (const leg of circle) for (const share of [0, 0.3, 1]) expect(Math.hypot(...leg.at(share))).toBeCloseTo(1, 4);
  });

  it('go at one speed along a leg, within 0.5 %, however sharp its bends', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(...([0, 1, 2].map(() => fc.integer({ min: -20, max: 20 })) as [fc.Arbitrary<number>, fc.Arbitrary<number>, fc.Arbitrary<number>])),
          { minLength: 3, maxLength: 8 },
        ),
        (points) => {
          fc.pre(points.every((p, i) => i === 0 || apart(p, points[i - 1]!) > 0.5));
          for (const leg of splineSegments(points)) {
            const n = 2000;
            const steps = Array.from({ length: n }, (_, i) => apart(leg.at(i / n), leg.at((i + 1) / n)));
            const mean = leg.length / n;
            // Chords of a sharp bend are shorter than their arcs: nothing is longer.
            expect(Math.max(...steps)).toBeLessThan(mean * 1.005);
            const slow = steps.filter((s) => s < mean * 0.995).length;
            expect(slow / n).toBeLessThan(0.01);
          }
        },
      ),
      { numRuns: 25 },
    );
  });

  it('do not cross themselves within a leg (Yuksel, Schaefer, Keyser 2011)', () => {
    // Points at very unequal distances, where the uniform spline makes a loop.
    const [, leg] = splineSegments([
      [0, 0, 0],
      [10, 0, 0],
      [10.2, 0, 0.2],
      [0, 0, 10],
    ]);
    const way: Vec3 = [0.2, 0, 0.2];
    const along = Array.from({ length: 101 }, (_, i) => leg!.at(i / 100)).map((p) => p[0] * way[0] + p[2] * way[2]);
    for (let i = 1; i < along.length; i++) expect(along[i]!).toBeGreaterThan(along[i - 1]!);
  });

  it('refuse a path of one point', () => expect(() => splineSegments([[0, 0, 0]])).toThrow(/two points/));
});

describe('times of a move', () => {
  const stations = [
    { seconds: 0, hold: 1 },
    { seconds: 4, hold: 0 },
    { seconds: 2, hold: 0.5, out: true },
    { seconds: 3, hold: 0 },
  ];

  it('count legs and holds, but no leg that is left out', () => {
    expect(pathSeconds(stations)).toBe(8.5);
    expect(pathFrameCount(stations, parseRate('24'))).toBe(204);
    expect(
      pathFrameCount(
        [
          { seconds: 0, hold: 0 },
          { seconds: 5, hold: 0 },
        ],
        parseRate('24'),
      ),
    ).toBe(120);
    expect(
      pathFrameCount(
        [
          { seconds: 0, hold: 0 },
          { seconds: 5, hold: 0 },
        ],
        parseRate('30000/1001'),
      ),
    ).toBe(150);
  });

  it('begin on the first station and end on the last; a closed one leaves the doubled frame out', () => {
    const times = pathTimes(stations, parseRate('24'));
    expect([times[0], times.at(-1)]).toEqual([0, 8.5]);
    expect(times[1]! * 203).toBeCloseTo(8.5, 9);
    const closed = pathTimes(stations, parseRate('24'), true);
    expect(closed.at(-1)! + closed[1]!).toBeCloseTo(8.5, 9);
  });

  it('stand still at holds and jump over what is left out', () => {
    expect(sampleAt(stations, 0.5)).toEqual({ leg: 0, share: 0 });
    expect(sampleAt(stations, 3)).toEqual({ leg: 0, share: 0.5 });
    expect(sampleAt(stations, 5.2)).toEqual({ leg: 1, share: 1 });
    expect(sampleAt(stations, 7)).toEqual({ leg: 2, share: expect.closeTo(0.5, 9) as number });
    expect(sampleAt(stations, 99)).toEqual({ leg: 2, share: 1 });
  });

  it('with gentle ends start and stop at rest and cover the same way in the same time', () => {
    expect([smoothstep(0), smoothstep(0.5), smoothstep(1)]).toEqual([0, expect.closeTo(0.5, 12), 1]);
    for (let i = 0; i < 100; i++) expect(smoothstep((i + 1) / 100)).toBeGreaterThan(smoothstep(i / 100));
    expect(smoothstep(0.01)).toBeLessThan(0.001);
    // The run before the hold of the third station is eased as one.
    expect(easedTime(stations, 3)).toBeCloseTo(3, 9);
    expect(easedTime(stations, 1.1)).toBeLessThan(1.1);
    expect(easedTime(stations, 0.4)).toBe(0.4);
    expect(easedTime(stations, 8.5)).toBe(8.5);
  });
});
