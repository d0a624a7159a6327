/** Findings about what is in the frame, each at its limit from both sides. */
import { describe, expect, test } from 'vitest';
import { answer, findingsOf, planOf, setOf, severities, turntableOf } from '../../../tests/support/preflight.js';
import { applyPatch } from './patch.js';

const still = planOf(setOf());
const spin = planOf(setOf(turntableOf()));

describe('a subject that the frame cuts', () => {
  test.each([
    [0.003, 0, []],
    [0.005, 0, ['doubt']],
    [0, 0.009, []],
    [0, 0.011, ['doubt']],
    [0.24, 0, ['doubt']],
    [0.26, 0, ['note']],
  ])('%f of the outline outside, %f beyond the right: %j', (outside, right, found) => {
    const probe = answer({ subject: { outside, over: { left: 0, top: 0, right, bottom: 0 } } });
    expect(severities('subject-cut', still, () => probe)).toEqual(found);
  });

  test('in some frames of a turntable alone is a fault, told with its frames, its worst and a curve', () => {
    const [found] = findingsOf('subject-cut', spin, ({ index }) =>
      answer(
        index >= 40 && index <= 57
          ? { subject: { outside: 0.03 + (index === 46 ? 0.032 : 0), over: { left: 0, top: 0, right: 0.05, bottom: 0 } } }
          : {},
      ),
    );
    expect(found).toMatchObject({ severity: 'fault', worst: 47, run: 'spin', shotName: 'spin' });
    expect(found!.frames).toEqual(Array.from({ length: 18 }, (_, i) => 41 + i));
    expect(found!.message).toBe('The subject leaves the frame at the right in frames 41-58, by at most 6.2 % of its outline.');
    expect(found!.curve!.values[46]).toBeCloseTo(93.8, 5);
  });

  test('in all frames of a turntable is a doubt: it was framed so', () => {
    expect(severities('subject-cut', spin, () => answer({ subject: { outside: 0.1 } }))).toEqual(['doubt']);
  });

  test('is mended by the lens, so that the box fits with a margin', () => {
    const box: [number, number, number, number] = [0.1, 0.2, 1.1, 0.8];
    const [found] = findingsOf('subject-cut', still, () =>
      answer({ subject: { outside: 0.1, over: { left: 0, top: 0, right: 0.1, bottom: 0 }, box } }),
    );
    // 0.6 from the middle must come to 0.46.
    expect(found!.fix!.label).toBe('Fit: 35 mm to 26 mm');
    expect(applyPatch(still.set, found!.fix!.patch).views[0]).toEqual({ ...still.set.views[0], focalLength: 26 });
  });

  test('has no fix where a view is locked, or some of it lies behind the eye', () => {
    const locked = planOf(setOf({ views: [{ ...still.set.views[0], locked: true }] }));
    expect(findingsOf('subject-cut', locked, () => answer({ subject: { outside: 0.1 } }))[0]!.fix).toBeUndefined();
    expect(findingsOf('subject-cut', still, () => answer({ subject: { outside: 0.1, isBehind: true } }))[0]!.fix).toBeUndefined();
  });
});

test.each([
  [0.49, []],
  [0.5, ['doubt']],
  [0.84, ['doubt']],
  [0.85, ['fault']],
])('a subject hidden by %f: %j', (hidden, found) => {
  expect(severities('subject-hidden', still, () => answer({ subject: { hidden, hiddenBy: 'Tree' } }))).toEqual(found);
});

describe('something that crosses the view', () => {
  const crossed = (from: number, to: number, hidden: number, usual = 0): string[] =>
    severities('crossing', spin, ({ index }) => answer({ subject: { hidden: index >= from && index < to ? hidden : usual, hiddenBy: 'Site/Tree' } }));

  test.each([
    [0.11, []],
    [0.13, ['doubt']],
  ])('for a moment, by %f: %j', (hidden, found) => expect(crossed(10, 20, hidden)).toEqual(found));

  test('is none where it is there in most frames, or where much is hidden anyway', () => {
    expect(crossed(0, 130, 0.2)).toEqual([]);
    expect(crossed(10, 20, 0.6, 0.31)).toEqual([]);
    expect(crossed(10, 20, 0.6, 0.29)).toEqual(['doubt']);
  });

  test('names what crosses, and the frames', () => {
    const [found] = findingsOf('crossing', spin, ({ index }) => answer({ subject: { hidden: index === 5 ? 0.4 : 0, hiddenBy: 'Site/Tree' } }));
    expect(found!.message).toBe('“Tree” passes before the subject in frame 6 and hides up to 40 % of it.');
  });
});

test.each([
  [0.016, []],
  [0.014, ['doubt']],
  [0.0021, ['doubt']],
  [0.0019, ['fault']],
])('a subject that takes %f of the frame: %j', (area, found) => {
  expect(severities('subject-small', still, () => answer({ subject: { area } }))).toEqual(found);
});

test('what a reveal has cut away is not small', () => {
  const reveal = planOf(
    setOf({ shots: [{ id: 'rise', kind: 'sectionReveal', view: 'front', stations: [{ height: 1.9 }, { height: 0.1, seconds: 1 }] }] }),
  );
  expect(severities('subject-small', reveal, () => answer({ subject: { area: 0.001 } }))).toEqual([]);
});

test('a subject mostly outside the frame is cut, not small', () => {
  expect(severities('subject-small', still, () => answer({ subject: { area: 0.001, outside: 0.9 } }))).toEqual([]);
});

describe('an empty view', () => {
  test('is a fault, unless a thin thing is between the rays', () => {
    expect(severities('empty-view', still, () => answer({ covered: 0, subject: { area: 0 } }))).toEqual(['fault']);
    expect(severities('empty-view', still, () => answer({ covered: 0, subject: { area: 0.001 } }))).toEqual([]);
    expect(severities('empty-view', still, () => answer({ covered: 0.01, subject: { area: 0 } }))).toEqual([]);
  });

  test('is mended by aiming at the subject from the same side', () => {
    const away = planOf(setOf({ views: [{ id: 'front', name: 'Front', eye: [0, 1, 6], target: [0, 1, 12] }] }));
    const [found] = findingsOf('empty-view', away, () => answer({ covered: 0, subject: { area: 0 } }));
    const [view] = applyPatch(away.set, found!.fix!.patch).views;
    expect(view!.target).toEqual([0, 1, 0]);
    expect(view!.eye[2]).toBeLessThan(0);
  });
});

test.each([
  [0.49, []],
  [0.5, ['fault']],
])('a camera that sees %f of its surroundings from behind: %j', (enclosed, found) => {
  expect(severities('camera-inside', still, () => answer({ enclosed, enclosedBy: 'House/Wall' }))).toEqual(found);
});

test('a parallel view has no eye to be inside', () => {
  const parallel = planOf(setOf({ views: [{ id: 'front', name: 'Front', kind: 'parallel', eye: [0, 1, 6], target: [0, 1, 0], width: 4 }] }));
  expect(severities('camera-inside', parallel, () => answer({ enclosed: 1, enclosedBy: 'House' }))).toEqual([]);
});

test.each([
  [0.018, []],
  [0.017, ['doubt']],
])('a surface %f m from the camera, of a model of 1.73 m radius: %j', (nearest, found) => {
  expect(severities('too-near', still, () => answer({ nearest }))).toEqual(found);
});

describe('a camera below the ground', () => {
  const at = (y: number, kind = 'plane'): string[] =>
    severities(
      'below-ground',
      planOf(setOf({ views: [{ id: 'front', name: 'Front', eye: [0, y, 6], target: [0, 1, 0] }], stage: { ground: { kind, height: 0 } } })),
    );

  test('is a fault', () => {
    expect(at(0.01)).toEqual([]);
    expect(at(-0.01)).toEqual(['fault']);
  });

  test('is none where there is no ground, or one that shows shadows alone', () => {
    expect(at(-0.01, 'none')).toEqual([]);
    expect(at(-0.01, 'shadow')).toEqual([]);
  });
});
