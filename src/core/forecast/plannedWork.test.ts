import { describe, expect, it } from 'vitest';
import { parseSet } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';
import type { FrameProbe } from '../preflight/probe.js';
import { framesToLookAt, plannedWork } from './plannedWork.js';

/** Two runs, A of nine frames and B of three. */
const RUNS = [...Array.from({ length: 9 }, (_, i) => ({ shot: 'A', i })), ...Array.from({ length: 3 }, (_, i) => ({ shot: 'B', i }))];

describe('frames that a forecast looks at', () => {
  const chosen = (most: number): string[] => [...framesToLookAt(RUNS, most)].map(({ shot, i }) => `${shot}${i}`);

  it('are all of a short plan', () => {
    expect(chosen(12)).toHaveLength(12);
  });

  it('are at equal steps in a longer one, with the first and the last of each run', () => {
    expect(chosen(6)).toEqual(['A0', 'A2', 'A4', 'A6', 'A8', 'B0', 'B2']);
    expect(chosen(4)).toEqual(['A0', 'A3', 'A6', 'A8', 'B0', 'B2']);
  });

  it('are bounded by the plan, not by its length', () => {
    const long = Array.from({ length: 100_000 }, (_, i) => ({ shot: `run ${i % 25}` }));
    expect(framesToLookAt(long).size).toBeLessThan(700);
  });
});

describe('a frame that was not looked at', () => {
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
    shots: [
      { id: 'one', name: 'One', kind: 'turntable', view: 'v', frames: 6 },
      { id: 'two', name: 'Two', kind: 'turntable', view: 'v', frames: 2 },
    ],
  });
  const frames = planFrames(set, { bounds: { min: [-1, 0, -1], max: [1, 1, 1] }, scene: 'abc' });
  const probe = (covered: number): FrameProbe => ({ covered, glass: 0, closed: 0, subject: null }) as Partial<FrameProbe> as FrameProbe;

  it('is as the nearest of its run that was, and as none of another', () => {
    const known = new Map<unknown, FrameProbe>([
      [frames[0], probe(0.1)],
      [frames[3], probe(0.4)],
    ]);
    const { frames: planned } = plannedWork(frames, (f) => known.get(f));
    expect(planned.map((f) => f.seen?.covered)).toEqual([0.1, 0.1, 0.4, 0.4, 0.4, 0.4, undefined, undefined]);
  });
});
