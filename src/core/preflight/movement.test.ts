/** Findings about movement, each at its limit from both sides. */
import { describe, expect, test } from 'vitest';
import { answer, findingsOf, planOf, setOf, severities, turntableOf } from '../../../tests/support/preflight.js';
import { withFrame } from '../frame/frame.js';
import { applyPatch } from './patch.js';

const walk = (stations: object[], more: object = {}): Record<string, unknown> => ({
  shots: [{ id: 'walk', kind: 'walkthrough', look: 'target', target: [0, 1, -100], stations, ...more }],
});
const straight = (metres: number, seconds: number): Record<string, unknown> =>
  walk([{ eye: [0, 1.6, 50] }, { eye: [0, 1.6, 50 - metres], seconds }], { ease: false });

describe('a camera that goes too fast', () => {
  test.each([
    [2.95, []],
    [3.05, ['doubt']],
  ])('at %f m/s: %j', (speed, found) => expect(severities('too-fast', planOf(setOf(straight(speed * 4, 4))))).toEqual(found));

  test('turns so that things cross the frame in less than two seconds', () => {
    const turning = (seconds: number): string[] =>
      severities(
        'too-fast',
        planOf(
          setOf({
            views: [
              { id: 'front', name: 'Front', eye: [0, 1.6, 6], target: [0, 1.6, 0], focalLength: 35 },
              { id: 'side', name: 'Side', eye: [0.01, 1.6, 6], target: [6, 1.6, 6], focalLength: 35 },
            ],
            shots: [{ id: 'walk', kind: 'walkthrough', look: 'stations', stations: [{ view: 'front' }, { view: 'side', seconds }] }],
          }),
        ),
      );
    // 54° lie across 35 mm, so 90° may take 3.3 s at an even speed.
    expect(turning(12)).toEqual([]);
    expect(turning(1.5)).toEqual(['doubt']);
  });
});

test('a jump of the camera between two frames is a fault', () => {
  const path = (eyes: number[]): string[] => {
    const plan = planOf(setOf(straight(4, 4)));
    const [output] = plan.outputs;
    const frames = output!.frames.map((f, i) => ({
      ...f,
      number: f.number,
      camera: { ...f.camera, eye: [0, 1.6, eyes[i] ?? 0] as [number, number, number] },
    }));
    return severities('jump', { ...plan, outputs: [{ ...output!, frames }] });
  };
  const even = Array.from({ length: 96 }, (_, i) => i * 0.04);
  expect(path(even)).toEqual([]);
  expect(path(even.map((z, i) => (i > 50 ? z + 0.4 : z)))).toEqual([]);
  expect(path(even.map((z, i) => (i > 50 ? z + 0.5 : z)))).toEqual(['fault']);
});

describe('a path with little room', () => {
  const plan = planOf(setOf(straight(4, 4)), { bounds: { min: [-3, 0, -3], max: [3, 3, 3] } });

  test.each([
    [0.31, []],
    [0.29, ['doubt']],
  ])('of %f m: %j', (nearest, found) => expect(severities('clearance', plan, () => answer({ nearest }))).toEqual(found));

  test('says nothing of a model of the size of a lamp', () => {
    expect(severities('clearance', planOf(setOf(straight(0.4, 4))), () => answer({ nearest: 0.1 }))).toEqual([]);
  });
});

describe('a turntable that strobes', () => {
  const spin = (frames: number, more: object = {}): ReturnType<typeof findingsOf> =>
    findingsOf('strobing', planOf(setOf({ ...turntableOf({ frames }), ...more })));

  test('is mended by as many frames as it takes, and no fewer', () => {
    const [found] = spin(24);
    expect(found!.severity).toBe('doubt');
    const { frames } = applyPatch(setOf(turntableOf({ frames: 24 })), found!.fix!.patch).shots[0] as { frames?: number };
    expect(spin(frames!)).toEqual([]);
    expect(spin(frames! - 3)).toHaveLength(1);
  });

  test('does not where the shutter is open', () => {
    expect(spin(24, { sheet: { shutter: 180 } })).toEqual([]);
  });
});

describe('frames that are alike', () => {
  test('all of them: a fault; some: a doubt; in a hold: nothing', () => {
    const plan = planOf(setOf(turntableOf()));
    const [output] = plan.outputs;
    const same = (isSame: (i: number) => boolean): string[] =>
      severities('same-frames', {
        ...plan,
        outputs: [{ ...output!, frames: output!.frames.map((f, i) => withFrame(f, { identity: isSame(i) ? 'one' : f.identity })) }],
      });
    expect(same(() => true)).toEqual(['fault']);
    expect(same((i) => i === 7 || i === 8)).toEqual(['doubt']);
    expect(same((i) => i === 7 || i === 9)).toEqual([]);
    const held = setOf(
      walk([
        { eye: [0, 1, 5], hold: 1 },
        { eye: [0, 1, 3], seconds: 2 },
      ]),
    );
    const [first, second] = planOf(held).outputs[0]!.frames;
    expect(second!.identity).toBe(first!.identity);
    expect(severities('same-frames', planOf(held))).toEqual([]);
  });

  test('the first and the last, which a loop shows twice', () => {
    const there = { eye: [0, 1, 5] };
    const back = walk([there, { eye: [0, 1, 3], seconds: 1 }, { ...there, seconds: 1 }]);
    expect(severities('loop-ends', planOf(setOf(back)))).toEqual(['doubt']);
    expect(severities('loop-ends', planOf(setOf(walk([there, { eye: [0, 1, 3], seconds: 1 }]))))).toEqual([]);
    // A full turn leaves out its closing frame; half a turn ends elsewhere.
    expect(severities('loop-ends', planOf(setOf(turntableOf({ frames: 72, degrees: 360 }))))).toEqual([]);
    expect(severities('loop-ends', planOf(setOf(turntableOf({ frames: 72, degrees: 180 }))))).toEqual([]);
  });
});
