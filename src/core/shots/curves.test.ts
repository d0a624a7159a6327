/** What the ruler draws of each kind, beside what the frames themselves say. */
import { describe, expect, it } from 'vitest';
import { planFrames } from '../planning/planFrames.js';
import { parseSet } from '../plan/set.js';
import { parseRate } from '../units/rate.js';
import { kindOf } from './kinds.js';

const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };

function curveOf(shot: object) {
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    stage: { site: { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' } },
    views: [{ id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] }],
    shots: [{ id: 's', ...shot }],
  });
  const frames = planFrames(set, CONTEXT);
  const [own] = set.shots;
  return { curve: kindOf(own!).curve?.(own!, frames, parseRate('24')) ?? null, frames };
}

describe('the curve over a shot', () => {
  it('of a sun study is the altitude of each frame’s sun', () => {
    const { curve, frames } = curveOf({ kind: 'sunStudy', view: 'a', dates: ['2026-06-21'], from: '10:00', to: '15:00', stepMinutes: 60 });
    expect(curve!.values).toEqual(frames.map((f) => f.sun!.altitude));
    expect(curve!.unit).toBe('°');
  });

  it('of a walk is its pace, as long as the shot', () => {
    const stations = [{ eye: [0, 1.6, 9] }, { eye: [0, 1.6, 5], seconds: 4 }];
    const { curve, frames } = curveOf({ kind: 'walkthrough', stations });
    expect(curve!.values).toHaveLength(frames.length);
    // Four metres in four seconds, at one speed.
    for (const v of curve!.values) expect(v).toBeCloseTo(4 / (95 / 24), 1);
  });

  it('of a reveal is where its plane stands', () => {
    const { curve } = curveOf({ kind: 'sectionReveal', view: 'a', stations: [{ height: 0.1 }, { height: 1.9, seconds: 2 }] });
    expect(curve!.values[0]).toBeCloseTo(0.1, 9);
    expect(curve!.values.at(-1)!).toBeGreaterThan(1.85);
    curve!.values.slice(1).forEach((v, i) => expect(v).toBeGreaterThan(curve!.values[i]!));
  });

  it('of a turntable is drawn where it says something: an even turn is a straight line', () => {
    expect(curveOf({ kind: 'turntable', view: 'a', frames: 12 }).curve).toBeNull();
    const eased = curveOf({ kind: 'turntable', view: 'a', frames: 24, ease: true });
    expect(eased.curve!.values).toEqual(eased.frames.map((f) => f.turn!.angle));
  });

  it('of stills there is none', () => expect(curveOf({ kind: 'still', views: ['a'] }).curve).toBeNull());
});
