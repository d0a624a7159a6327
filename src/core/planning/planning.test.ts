import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TurntableShot } from '../shots/turntable/turntable.js';
import { freeId, newShot, withoutView, withShot, withView } from '../edit/editSet.js';
import { withFrame } from '../frame/frame.js';
import { countFrames, planFrames } from './planFrames.js';
import { canonicalJson } from '../base/hash.js';
import { slugify, fillPattern, patternProblem } from '../plan/fileNames.js';
import { emptySet, parseSet, type SetFile } from '../plan/set.js';

const BOUNDS = { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] };
const CONTEXT = { bounds: BOUNDS, scene: 'abc' };

function planned(shots: unknown[], sheet: object = {}): SetFile {
  return parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    sheet,
    shots,
    views: [
      { id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] },
      { id: 'b', name: 'B', eye: [5, 1, 0], target: [0, 1, 0] },
    ],
  });
}

const spin = (values: Partial<TurntableShot> = {}) => ({
  id: 'spin',
  kind: 'turntable',
  view: 'a',
  ...(values.seconds === undefined && { frames: 72 }),
  ...values,
});

describe('turntable', () => {
  it('of 72 frames steps by 5° and leaves the doubled last frame out', () => {
    const frames = planFrames(planned([spin()]), CONTEXT);
    expect(frames).toHaveLength(72);
    expect(frames.map((f) => f.turn!.angle)).toEqual(Array.from({ length: 72 }, (_, i) => i * 5));
    expect(frames.at(-1)!.time).toBe(71 / 24);
  });

  it('of any other angle has both ends', () => {
    const angles = planFrames(planned([spin({ frames: 10, degrees: 90, start: 15 })]), CONTEXT).map((f) => f.turn!.angle);
    expect([angles[0], angles.at(-1)]).toEqual([15, 105]);
  });

  it('has even steps and no angle twice, whatever its numbers', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 400 }), fc.integer({ min: 1, max: 720 }), fc.integer({ min: -360, max: 360 }), (n, degrees, start) => {
        const angles = planFrames(planned([spin({ frames: n, degrees, start })]), CONTEXT).map((f) => f.turn!.angle);
        const steps = angles.slice(1).map((a, i) => a - angles[i]!);
        expect(angles).toHaveLength(n);
        expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-9);
        const closes = (((angles.at(-1)! + steps[0]! - start) % 360) + 360) % 360;
        if (degrees % 360 === 0) expect(Math.min(closes, 360 - closes)).toBeLessThan(1e-6);
        expect(new Set(planFrames(planned([spin({ frames: Math.min(n, 20), degrees: 360 })]), CONTEXT).map((f) => f.identity)).size).toBe(
          Math.min(n, 20),
        );
      }),
      { numRuns: 30 },
    );
  });

  it('takes a duration at the exact rate', () => {
    expect(countFrames(planned([spin({ seconds: 3 })], { rate: '24' }))).toBe(72);
    expect(countFrames(planned([spin({ seconds: 3 })], { rate: '30000/1001' }))).toBe(90);
  });

  it('there and back is 2N − 2 and every angle of the way stands once but the inner ones', () => {
    const angles = planFrames(planned([spin({ frames: 5, degrees: 80, thereAndBack: true })]), CONTEXT).map((f) => f.turn!.angle);
    expect(angles).toEqual([0, 20, 40, 60, 80, 60, 40, 20]);
  });

  it('turns the camera the other way, so that the subject is seen to turn alike', () => {
    const subject = planFrames(planned([spin({ frames: 4 })]), CONTEXT)[1]!;
    const camera = planFrames(planned([spin({ frames: 4, turns: ['camera'] })]), CONTEXT)[1]!;
    expect(subject.turn!.rotation).toBe(90);
    expect(camera.turn!.rotation).toBe(-90);
    // Counterclockwise seen from above: what was at the right comes to the back.
    expect(camera.camera.eye.map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([-5, 1, 0]);
  });

  it('goes round what it is told to', () => {
    expect(planFrames(planned([spin()]), CONTEXT)[0]!.turn!.pivot).toEqual([0, 1, 0]);
    expect(planFrames(planned([spin({ pivot: [3, 0, 0] })]), CONTEXT)[0]!.turn!.pivot).toEqual([3, 0, 0]);
    expect(planFrames({ ...planned([spin()]), reference: { min: [0, 0, 0], max: [2, 2, 2] } }, CONTEXT)[0]!.turn!.pivot).toEqual([1, 1, 1]);
  });
});

describe('identity', () => {
  it('goes along where a frame is changed, and is given to no plain copy', () => {
    const [frame] = planFrames(planned([spin({ frames: 2 })]), CONTEXT);
    const changed = withFrame(frame!, { size: { width: 8, height: 8 } });
    expect(changed).toMatchObject({ identity: frame!.identity, seed: frame!.seed, size: { width: 8, height: 8 }, name: frame!.name });
    expect(withFrame(frame!, { seed: 3 }).seed).toBe(3);
    // A worker gets copies: what it is sent must have been changed, or made plain, before.
    expect(structuredClone(changed)).toMatchObject({ identity: frame!.identity, seed: frame!.seed });
    expect(Object.keys({ ...frame! })).not.toContain('seed');
  });

  const of = (set: SetFile): string[] => planFrames(set, CONTEXT).map((f) => f.identity);

  it('does not change with id, name, number or order', () => {
    const one = of(planned([spin({ frames: 4 }), { id: 's', kind: 'still', views: ['a', 'b'] }]));
    const other = of(
      planned([{ id: 'x', name: 'Else', kind: 'still', views: ['b', 'a'] }, spin({ id: 'y', name: 'Renamed', frames: 4 })], { firstNumber: 100 }),
    );
    expect([...one].sort()).toEqual([...other].sort());
  });

  it('changes with what makes the pixels', () => {
    const base = of(planned([spin({ frames: 2 })]))[1]!;
    const others = [
      of(planned([spin({ frames: 2 })], { size: { width: 1920, height: 1082 } }))[1],
      of(planned([spin({ frames: 2 })], { quality: 'final' }))[1],
      of(planned([spin({ frames: 2, degrees: 90 })]))[1],
      planFrames(planned([spin({ frames: 2 })]), { ...CONTEXT, scene: 'other' })[1]!.identity,
      of({ ...planned([spin({ frames: 2 })]), stage: { preset: 'open sky', modelLights: false } })[1],
    ];
    expect(new Set([base, ...others]).size).toBe(others.length + 1);
  });

  it('is told by canonical JSON', () => {
    expect(canonicalJson({ b: [1, { d: 2, c: undefined }], a: 'x' })).toBe('{"a":"x","b":[1,{"d":2}]}');
  });
});

describe('names', () => {
  it('pads numbers and keeps words safe', () => {
    expect(fillPattern('{set}/{shot}_{pass}.{frame:4}', { set: 'Board / review', shot: '../up', pass: 'beauty', number: 7 })).toBe(
      'Board-review/up_beauty.0007',
    );
  });

  it.each([
    ['{shot}', true, 'needs {frame}'],
    ['/x/{frame}', true, 'starts nor ends'],
    ['{colour}', false, '{colour} is not a token'],
    ['{view:3}', false, 'Only {frame}'],
    ['{frame:12}', true, '1 to 8'],
    ['../{view}', false, 'dots alone'],
    ['a{', false, 'not closed'],
    ['a\\b', false, 'cannot be in a file name'],
    ['', false, 'Write a pattern'],
  ] as const)('%s is refused', (pattern, moving, message) => {
    expect(patternProblem(pattern, moving)).toContain(message);
  });

  it('never leaves a word that a path could be made of', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const word = slugify(text);
        return word.length > 0 && !/[/\\]/.test(word) && !/^\.+$/.test(word);
      }),
    );
  });

  it('finds two frames of one name before anything renders', () => {
    const set = planned(
      [
        { id: 's', kind: 'still', views: ['a'] },
        { id: 't', kind: 'still', views: ['a'] },
      ],
      { names: { still: '{view}', moving: '{shot}.{frame:4}' } },
    );
    expect(() => planFrames(set, CONTEXT)).toThrow('Two frames would be named "A"');
  });
});

describe('set file', () => {
  it('fills in the stated defaults', () => {
    const set = emptySet('x');
    expect(set.sheet).toMatchObject({
      size: { width: 1920, height: 1080 },
      rate: '24',
      files: [{ type: 'png', bits: 8 }],
      quality: 'review',
      firstNumber: 1,
    });
  });

  it.each([
    [{ sheet: { sise: {} } }, 'sheet.sise: this key is not known here'],
    [{ sheet: { size: { width: 8, height: 9 } } }, 'sheet.size.width'],
    [{ sheet: { rate: 'fast' } }, 'sheet.rate: "fast" is not a frame rate'],
    [{ shots: [{ id: 's', kind: 'still', views: ['nowhere'] }] }, 'shots[0].views[0]: There is no view "nowhere"'],
    [{ shots: [{ id: 's', kind: 'flipbook' }] }, 'shots[0].kind: this kind is not known here'],
    [{ shots: [{ id: 's', kind: 'turntable', view: 'v' }] }, 'shots[0].frames: Give either frames or seconds.'],
    [
      { views: [{ id: 'v', name: 'V', eye: [0, 9, 1], target: [0, 0, 0], keepVerticals: true }] },
      'Verticals cannot be kept straight: the line of sight is 84° steep',
    ],
    [{ views: [{ id: 'v', name: 'V', eye: [1, 1, 1], target: [1, 1, 1] }] }, 'Eye and target are the same point'],
    [{ version: 3 }, 'version'],
  ])('says where %j is wrong', (values, message) => {
    expect(() => parseSet({ format: 'cold-easel.set', version: 2, name: 'x', ...values })).toThrow(message);
  });

  it('bounds the number of frames', () => {
    const set = planned([spin({ frames: 60_000 }), spin({ id: 'again', frames: 60_000 })]);
    expect(() => planFrames(set, CONTEXT)).toThrow('The set has 120000 frames; 100000 is the most.');
  });
});

describe('edits', () => {
  it('give free ids and names, and keep views that are used', () => {
    const set = planned([spin()]);
    expect(freeId('Überblick Nord!', [])).toBe('uberblick-nord');
    expect(freeId('a', ['a', 'a-2'])).toBe('a-3');
    expect(newShot(set, 'still', 'b', BOUNDS)).toMatchObject({ id: 'still', name: 'Still', views: ['b'] });
    expect(() => withoutView(set, 'a')).toThrow('used by the shot "spin"');
    expect(withoutView(set, 'b').views.map((v) => v.id)).toEqual(['a']);
    expect(withView(set, { ...set.views[0]!, name: 'New' }).views[0]!.name).toBe('New');
    expect(withShot(set, { ...set.shots[0]!, name: 'New' }).shots).toHaveLength(1);
  });
});

it('refuses a name that no common system takes, naming shot, frame and remedy', () => {
  const set = parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    views: [{ id: 'v', name: 'V', eye: [0, 1, 5], target: [0, 0, 0] }],
    shots: [{ id: 'spin', kind: 'turntable', name: 'aux', view: 'v', frames: 2 }],
  });
  expect(() => planFrames(set, { bounds: { min: [0, 0, 0], max: [1, 1, 1] }, scene: 'x' })).toThrow(
    /Shot spin, frame 1 would be named "Set\/aux\/.*": "aux" is a name that some systems keep for themselves\. Change the name/,
  );
});
