import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LAMP_SHOTS, LANDING } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { modelBounds } from '../../src/core/model/model.js';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { subjectBounds, countFrames, planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet, type SetFile } from '../../src/core/plan/set.js';
import { shotPoses } from '../../src/core/shots/kinds.js';
import { parseRate } from '../../src/core/units/rate.js';
import { cameraOf, projectPoint } from '../../src/core/camera/view.js';

const CONTEXT = { bounds: { min: [-2, 0, -2] as Vec3, max: [2, 3, 2] as Vec3 }, scene: 'abc' };
const SITE = { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' };

const point = fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: 1, max: 3 }), fc.integer({ min: -9, max: 9 }));
const seconds = fc.integer({ min: 1, max: 8 }).map((v) => v / 2);

/** Shots of every kind, with whatever numbers. */
const shot = fc.oneof(
  fc.subarray(['a', 'b'], { minLength: 1 }).map((views) => ({ kind: 'still', views })),
  fc.record({
    kind: fc.constant('turntable'),
    view: fc.constant('a'),
    frames: fc.integer({ min: 1, max: 60 }),
    degrees: fc.constantFrom(90, 180, 360, 720),
    thereAndBack: fc.boolean(),
    ease: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('sunStudy'),
    view: fc.constant('b'),
    dates: fc.constantFrom(['2026-06-21'], ['2026-03-20', '2026-12-21']),
    stepMinutes: fc.constantFrom(15, 30, 60),
    from: fc.constantFrom('sunrise', '10:00'),
    to: fc.constantFrom('sunset', '14:00'),
  }),
  fc
    .record({
      kind: fc.constant('walkthrough'),
      points: fc.uniqueArray(point, { minLength: 2, maxLength: 5, selector: (p) => p.join() }),
      take: seconds,
      hold: fc.constantFrom(0, 0.5),
      closed: fc.boolean(),
      ease: fc.boolean(),
    })
    .map(({ points, take, hold, ...rest }) => ({
      ...rest,
      stations: points.map((eye, i) => ({ eye, hold, ...((i > 0 || rest.closed) && { seconds: take }) })),
    })),
  fc
    .record({
      kind: fc.constant('sectionReveal'),
      view: fc.constant('a'),
      heights: fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 2, maxLength: 4 }),
      take: seconds,
    })
    .map(({ heights, take, ...rest }) => ({ ...rest, stations: heights.map((h, i) => ({ height: h / 10, ...(i > 0 && { seconds: take }) })) })),
);

const sets = fc
  .record({
    shots: fc.array(shot, { minLength: 1, maxLength: 6 }),
    rate: fc.constantFrom('24', '25', '30000/1001'),
    first: fc.integer({ min: 0, max: 1001 }),
  })
  .map(({ shots, rate, first }): SetFile =>
    parseSet({
      format: 'cold-easel.set',
      version: 2,
      name: 'Any',
      sheet: { rate, firstNumber: first },
      stage: { site: SITE },
      views: [
        { id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] },
        { id: 'b', name: 'B', eye: [5, 2, 1], target: [0, 1, 0], focalLength: 28, keepVerticals: true },
      ],
      shots: shots.map((s, i) => ({ id: `s${i}`, ...s })),
    }),
  );

describe('plans with every kind of shot', () => {
  it('count as many frames as they make, number them in a row, and name none twice', () => {
    fc.assert(
      fc.property(sets, (set) => {
        const frames = planFrames(set, CONTEXT);
        expect(frames).toHaveLength(countFrames(set));
        expect(new Set(frames.map((f) => f.name.toLowerCase())).size).toBe(frames.length);
        for (const { id } of set.shots) {
          const own = frames.filter((f) => f.shot === id);
          expect(own.map((f) => f.number)).toEqual(own.map((_, i) => set.sheet.firstNumber + i));
        }
      }),
      { numRuns: 60 },
    );
  });

  it('have movie times that are i ÷ rate, with the exact rational', () => {
    fc.assert(
      fc.property(sets, (set) => {
        const { numerator, denominator } = parseRate(set.sheet.rate);
        for (const f of planFrames(set, CONTEXT)) expect(f.time).toBe(f.kind === 'still' ? 0 : (f.index * denominator) / numerator);
      }),
      { numRuns: 30 },
    );
  });

  it('keep the identity of every frame when shots are renamed, put in another order, numbered otherwise or switched off beside it', () => {
    fc.assert(
      fc.property(sets, (set) => {
        const ids = (s: SetFile): Map<string, string> => new Map(planFrames(s, CONTEXT).map((f) => [`${f.shot} ${f.index}`, f.identity]));
        const before = ids(set);
        const moved = {
          ...set,
          name: 'Other',
          sheet: { ...set.sheet, firstNumber: 7 },
          shots: set.shots.map((s, i) => ({ ...s, name: `Shot ${i}` })).reverse(),
        };
        expect(new Map([...ids(moved)].sort())).toEqual(new Map([...before].sort()));
        const [first, ...rest] = set.shots;
        for (const [key, identity] of ids({ ...set, shots: [{ ...first!, off: true }, ...rest] })) expect(before.get(key)).toBe(identity);
      }),
      { numRuns: 25 },
    );
  });

  it('are pure: planned twice they are the same to the last digit', () => {
    fc.assert(
      fc.property(sets, (set) => {
        expect(JSON.stringify(planFrames(set, CONTEXT))).toBe(JSON.stringify(planFrames(structuredClone(set), CONTEXT)));
      }),
      { numRuns: 15 },
    );
  });

  it('have poses as many as frames, each seen from a camera with finite numbers', () => {
    fc.assert(
      fc.property(sets, (set) => {
        for (const s of set.shots) {
          const poses = shotPoses(s, {
            views: set.views,
            rate: parseRate(set.sheet.rate),
            cameraOf: (view) => cameraOf(view, set.sheet.size, 1),
            shutter: 0.5,
            bounds: CONTEXT.bounds,
            site: set.stage.site,
          });
          for (const { camera } of poses) expect([...camera.viewMatrix, ...camera.projectionMatrix].every(Number.isFinite)).toBe(true);
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('one plan, two revisions', () => {
  it('of Tern: points of parts that did not change land on the same pixel within 0.01 px in every frame', () => {
    const [a, b] = [tern(), tern({ revision: 'B' })].map(modelBounds);
    // Frozen when the set was first laid on revision A.
    const set = parseSet({ ...LAMP_SHOTS, reference: a });
    const [before, after] = [a, b].map((bounds, i) => planFrames(set, { bounds: bounds!, scene: String(i) }));
    const base: Vec3[] = [
      [0, 0.02, 0],
      [0.05, 0.01, 0.05],
      [-0.08, 0.02, 0.02],
    ];
    expect(before).toHaveLength(after!.length);
    before!.forEach((f, i) => {
      const g = after![i]!;
      expect(g.turn).toEqual(f.turn);
      for (const p of base) {
        const [from, to] = [projectPoint(f.camera, f.size, p)!, projectPoint(g.camera, g.size, p)!];
        expect(Math.hypot(from[0] - to[0], from[1] - to[1])).toBeLessThan(0.01);
      }
    });
    // Without frozen bounds the lamps of the stage and the pivot would follow the larger revision.
    expect(subjectBounds({ ...set, reference: undefined }, b!)).not.toEqual(subjectBounds(set, b!));
  });
});

describe('the demo’s sets', () => {
  it('carry every kind of shot between them and plan without a word', () => {
    const kinds = [LANDING, LAMP_SHOTS].flatMap((s) => planFrames(parseSet(s), CONTEXT).map((f) => f.kind));
    expect([...new Set(kinds)].sort()).toEqual(['sectionReveal', 'still', 'sunStudy', 'turntable', 'walkthrough']);
  });
});
