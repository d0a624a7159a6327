import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import { emptySet, parseSet } from '../plan/set.js';
import { planFrames } from '../planning/planFrames.js';
import { boundsOfSubject, type SubjectPart, withContext } from './subjectParts.js';

const part = (path: string, min: number, max: number, more: Partial<SubjectPart> = {}): SubjectPart => ({
  path,
  bounds: { min: [min, 0, 0], max: [max, 1, 1] },
  triangles: 12,
  renderVisible: true,
  isContext: false,
  ...more,
});
const PARTS = [
  part('Lamp', 0, 1),
  part('Table', -4, 4),
  part('Table/Leg', -4, -3),
  part('Helper', 0, 90, { renderVisible: false }),
  part('Wall', 0, 50, { isContext: true }),
];
const MODEL: Bounds = { min: [-4, 0, 0], max: [4, 1, 1] };

describe('subject and context', () => {
  it('what is made context moves the box that the set refers to, with all below it', () => {
    const set = emptySet('s');
    expect(boundsOfSubject(set, PARTS, MODEL)).toEqual(MODEL);
    const alone = withContext(set, ['Table'], true, PARTS, MODEL);
    expect(alone.reference).toEqual({ min: [0, 0, 0], max: [1, 1, 1] });
    // And back: as the file has it.
    const back = withContext(alone, ['Table'], undefined, PARTS, MODEL);
    expect(back.reference).toEqual(MODEL);
    expect(back.materials!.parts).toEqual([]);
    // What the file has as context can be subject.
    expect(withContext(set, ['Wall'], false, PARTS, MODEL).reference!.max[0]).toBe(50);
  });

  it('refuses to leave no subject', () => {
    expect(() => withContext(emptySet('s'), ['Lamp', 'Table'], true, PARTS, MODEL)).toThrow('Nothing would be left as the subject');
  });

  it('is part of what a frame is known by, and turns the pivot to the subject', () => {
    const set = parseSet({
      ...emptySet('s'),
      views: [{ id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0] }],
      shots: [{ id: 't', kind: 'turntable', view: 'a', frames: 4 }],
    });
    const context = { bounds: MODEL, scene: 's' };
    const [before, after] = [set, withContext(set, ['Table'], true, PARTS, MODEL)].map((s) => planFrames(s, context)[1]!);
    expect([before!.turn!.pivot[0], after!.turn!.pivot[0]]).toEqual([0, 0.5]);
    expect(after!.materials!.parts).toEqual([{ path: 'Table', isContext: true }]);
    expect(after!.identity).not.toBe(before!.identity);
  });
});
