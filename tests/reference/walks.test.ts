/** Walkthroughs and section reveals frame by frame, against closed forms. */
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { withFrame } from '../../src/core/frame/frame.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { walkStats } from '../../src/core/shots/walkthrough/walkthrough.js';

const CONTEXT = { bounds: { min: [-2, 0, -2] as Vec3, max: [2, 3, 2] as Vec3 }, scene: 'abc' };
const apart = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, i) => v - b[i]!));

function planned(shot: object, rate = '24') {
  return planFrames(
    parseSet({
      format: 'cold-easel.set',
      version: 2,
      name: 'Set',
      sheet: { rate },
      shots: [{ id: 'move', ...shot }],
      views: [
        { id: 'a', name: 'A', eye: [0, 1.6, 5], target: [0, 1.6, 0] },
        { id: 'b', name: 'B', eye: [5, 1.6, 0], target: [0, 1.6, 0], focalLength: 70 },
      ],
    }),
    CONTEXT,
  );
}

describe('a walkthrough', () => {
  const walk = {
    kind: 'walkthrough',
    stations: [{ eye: [12, 1.65, 9] }, { eye: [8, 1.65, 3], seconds: 3 }, { eye: [2, 1.65, 3], seconds: 4, hold: 1 }],
  };

  it('has round(T · rate) frames, the ends on the stations, at one speed along each leg within 0.5 %', () => {
    const frames = planned(walk);
    expect(frames).toHaveLength(192);
    expect(frames[0]!.camera.eye).toEqual([12, 1.65, 9]);
    expect(apart(frames.at(-1)!.camera.eye, [2, 1.65, 3])).toBeLessThan(1e-6);
    expect(frames.map((f) => f.time)).toEqual(frames.map((_, i) => i / 24));
    const figures = walkStats(frames);
    const first = figures.slice(0, 70).map((f) => f.speed);
    expect(Math.max(...first) / Math.min(...first)).toBeLessThan(1.005);
    // The last second holds.
    expect(figures.slice(-20).every((f) => f.speed < 1e-9)).toBe(true);
    expect(new Set(frames.map((f) => f.identity)).size).toBeGreaterThan(160);
  });

  it('at a pace takes the seconds that its way asks for', () => {
    const frames = planned({ kind: 'walkthrough', pace: 2, stations: [{ eye: [0, 1.6, 10] }, { eye: [0, 1.6, 0] }] });
    expect(frames).toHaveLength(120);
    expect(walkStats(frames)[50]!.speed).toBeCloseTo((10 / 119) * 24, 6);
  });

  it('looks ahead along the path, at a point, or turns evenly from station to station', () => {
    const straight = [{ eye: [0, 1.6, 10] }, { eye: [0, 1.6, 0], seconds: 2 }];
    for (const f of planned({ kind: 'walkthrough', stations: straight }))
      expect(apart(f.camera.target, [0, 1.6, f.camera.eye[2] - 1])).toBeLessThan(1e-6);
    for (const f of planned({ kind: 'walkthrough', look: 'target', target: [5, 1, 5], stations: straight })) {
      const [to, way] = [[5, 1, 5].map((v, i) => v - f.camera.eye[i]!), f.camera.target.map((v, i) => v - f.camera.eye[i]!)];
      const n = Math.hypot(...to);
      expect(
        apart(
          way,
          to.map((v) => v / n),
        ),
      ).toBeLessThan(1e-6);
    }
    const turning = planned({ kind: 'walkthrough', look: 'stations', stations: [{ view: 'a' }, { view: 'b', seconds: 4 }] });
    const turn = walkStats(turning).map((f) => f.turn);
    // 90° in all; at rest at both ends.
    expect(turn.reduce((s, t) => s + t / 24, 0)).toBeCloseTo(90, 3);
    expect(turn[0]!).toBeLessThan(3);
    expect(turn.at(-1)!).toBeLessThan(3);
  });

  it('goes round and leaves legs out', () => {
    const stations = [
      { eye: [5, 1.6, 0], seconds: 1 },
      { eye: [0, 1.6, 5], seconds: 1 },
      { eye: [-5, 1.6, 0], seconds: 1 },
      { eye: [0, 1.6, -5], seconds: 1 },
    ];
    const round = planned({ kind: 'walkthrough', closed: true, stations });
    expect(round).toHaveLength(96);
    const speed = walkStats([...round, withFrame(round[0]!, { time: 4 })]).map((f) => f.speed);
    expect(Math.max(...speed) / Math.min(...speed)).toBeLessThan(1.005);
    const cut = planned({ kind: 'walkthrough', closed: true, stations: stations.map((s, i) => (i === 2 ? { ...s, out: true } : s)) });
    expect(cut).toHaveLength(72);
  });

  it('has its blur from where the camera is when the shutter closes', () => {
    const set = { kind: 'walkthrough', stations: [{ eye: [0, 1.6, 10] }, { eye: [0, 1.6, 0], seconds: 5 }] };
    const parsed = parseSet({ format: 'cold-easel.set', version: 2, name: 'S', sheet: { shutter: 180 }, shots: [{ id: 'm', ...set }], views: [] });
    const frames = planFrames(parsed, CONTEXT);
    const speed = walkStats(frames)[10]!.speed;
    // Half a frame's time: the clip's own speed lies a 119th over that of its frames.
    expect(frames[10]!.camera.eye[2] - frames[10]!.shutter!.camera.eye[2]).toBeCloseTo((speed * (119 / 120)) / 48, 4);
  });

  it('with gentle ends reaches the pace and never goes beyond it, from hold to hold; seconds that are written stay', () => {
    const stations = [{ eye: [0, 1.6, 12] }, { eye: [0, 1.6, 6], hold: 1 }, { eye: [0, 1.6, -3] }];
    const frames = planned({ kind: 'walkthrough', pace: 1.5, ease: true, stations });
    // A quarter of each run's time to gain the speed and a quarter to lose it: 15 m at a mean of three quarters of the pace.
    expect(frames).toHaveLength(Math.round((15 / (1.5 * 0.75) + 1) * 24));
    const speeds = walkStats(frames).map((f) => f.speed);
    // Frames stand at T i / (n - 1), a step of the clock is T / n.
    const top = (1.5 * frames.length) / (frames.length - 1);
    expect(Math.max(...speeds)).toBeCloseTo(top, 6);
    // Half of either run's time is at the greatest speed.
    expect(speeds.filter((s) => s > top * 0.999).length / (frames.length - 24)).toBeCloseTo(0.5, 1);
    expect(speeds.at(-1)!).toBeLessThan(0.05);
    expect(planned({ kind: 'walkthrough', ease: true, stations: [{ eye: [0, 1.6, 6] }, { eye: [0, 1.6, 0], seconds: 5 }] })).toHaveLength(120);
  });

  it('refuses what it cannot walk, and names the place', () => {
    expect(() => planned({ ...walk, stations: [{ eye: [0, 0, 0] }] })).toThrow(/two stations/);
    expect(() => planned({ ...walk, stations: [{ eye: [0, 0, 0], view: 'a' }, { eye: [1, 0, 0] }] })).toThrow(
      /stations\[0\]\.eye: A station has either/,
    );
    expect(() => planned({ ...walk, stations: [{ view: 'x' }, { eye: [1, 0, 0] }] })).toThrow(/stations\[0\]\.view: There is no view "x"/);
    expect(() => planned({ ...walk, stations: [{ eye: [1, 0, 0] }, { eye: [1, 0, 0] }] })).toThrow(/Stations 1 and 2 are at the same point/);
    expect(() => planned({ ...walk, look: 'target' })).toThrow(/target: Give the point to look at/);
    expect(() => planned({ ...walk, look: 'stations' })).toThrow(/needs a target or a view/);
  });
});

describe('a section reveal', () => {
  const reveal = { kind: 'sectionReveal', view: 'a', stations: [{ height: 0.05 }, { height: 6, seconds: 5 }] };

  it('moves its plane evenly from the first height to the last: 5 s at 24 are 120 frames', () => {
    const frames = planned(reveal);
    expect(frames).toHaveLength(120);
    frames.forEach((f, i) =>
      expect(f.section!.planes).toEqual([{ normal: [0, 1, 0], offset: expect.closeTo(0.05 + (5.95 * i) / 119, 9) as number }]),
    );
  });

  it('cuts beside what the set cuts, one part alone where it is told to, and takes the camera along', () => {
    const set = parseSet({
      format: 'cold-easel.set',
      version: 2,
      name: 'S',
      section: { planes: [{ normal: [1, 0, 0], offset: 0.5 }], cap: '#ff0000' },
      shots: [{ id: 'm', ...reveal, part: 'House/Roof', stations: [{ height: 0 }, { height: 3, seconds: 1, hold: 1, view: 'b' }] }],
      views: [
        { id: 'a', name: 'A', eye: [0, 1.6, 5], target: [0, 1.6, 0] },
        { id: 'b', name: 'B', eye: [5, 1.6, 0], target: [0, 1.6, 0], focalLength: 70 },
      ],
    });
    const frames = planFrames(set, CONTEXT);
    expect(frames).toHaveLength(48);
    expect(frames[20]!.section!.planes).toHaveLength(2);
    expect(frames[20]!.section!.planes[1]).toMatchObject({ part: 'House/Roof' });
    expect(frames[20]!.section!.cap).toEqual([1, 0, 0]);
    expect(frames[0]!.camera).toMatchObject({ eye: [0, 1.6, 5], focalLength: 50 });
    expect(frames.at(-1)!.camera).toMatchObject({ eye: [5, 1.6, 0], focalLength: 70 });
    expect(frames.at(-1)!.section!.planes[1]!.offset).toBe(3);
  });

  it('is refused where its numbers do not go together', () => {
    expect(() => planned({ ...reveal, stations: [{ height: 0 }, { height: 1 }] })).toThrow(/stations\[1\]\.seconds: Give the seconds/);
    expect(() => planned({ ...reveal, normal: [0, 0, 0] })).toThrow(/cannot be 0 0 0/);
    expect(() =>
      planned({
        ...reveal,
        stations: [
          { height: 0, seconds: 1 },
          { height: 1, seconds: 1 },
        ],
      }),
    ).toThrow(/No movement leads to the first/);
  });
});
