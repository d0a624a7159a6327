import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TurntableShot } from '../shots/turntable/turntable.js';
import { freeId, newShot, withoutView, withShot, withView } from '../edit/editSet.js';
import { withFrame } from '../frame/frame.js';
import { countFrames, planFrames } from './planFrames.js';
import { canonicalJson } from '../base/hash.js';
import { slugify, fillPattern, patternProblem } from '../plan/fileNames.js';
import { everyNth, parseRate } from '../units/rate.js';
import {
  formatRanges,
  formatSelections,
  hasSelectionWords,
  parseSelections,
  selectPlannedFrames,
  selectFrames,
  frameStride,
} from '../plan/selection.js';
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

describe('frame selection', () => {
  const numbers = Array.from({ length: 60 }, (_, i) => i + 1);
  it('reads ranges, single numbers, steps and the last', () => {
    expect(selectFrames('1-3, 35, 40-60 every 5, last', numbers)).toEqual([1, 2, 3, 35, 40, 45, 50, 55, 60]);
    expect(formatRanges([1, 2, 3, 35, 60])).toBe('1-3, 35, 60');
    expect(selectFrames('all', numbers)).toEqual(numbers);
    expect(selectFrames('first every 20', numbers)).toEqual([1, 21, 41]);
    expect(selectFrames('none', numbers)).toEqual([]);
  });
  it('takes words for what became of frames, beside numbers and by shot', () => {
    const words = { missing: [4, 5], failed: [2], stale: [], 'not accepted': [1, 2, 3] };
    expect(selectFrames('failed, 9', numbers, words)).toEqual([2, 9]);
    expect(selectFrames('Not  Accepted, missing', numbers, words)).toEqual([1, 2, 3, 4, 5]);
    expect(selectFrames('stale', numbers, words)).toEqual([]);
    expect(() => selectFrames('failed', numbers)).toThrow('known of the batches of a project alone');
    expect([hasSelectionWords('spin: 1-4; failed'), hasSelectionWords('spin: stale, 2; none'), hasSelectionWords('1-4 every 2')]).toEqual([
      true,
      true,
      false,
    ]);
    const frames = ['a', 'b'].flatMap((shot) => [1, 2, 3, 4, 5].map((number) => ({ shot, number })));
    const chosen = selectPlannedFrames(frames, 'a: missing; 1', new Map([['a', words]]));
    expect(chosen.map((f) => `${f.shot}${f.number}`)).toEqual(['a4', 'a5', 'b1']);
  });
  it('means what is there by numbers that the shot lacks', () => {
    expect(selectFrames('58-99', numbers)).toEqual([58, 59, 60]);
    expect(selectFrames('99, 2', numbers)).toEqual([2]);
    expect(selectFrames('50-last', [1, 2, 3])).toEqual([]);
  });
  it.each([
    ['9-3', 'runs backwards'],
    ['x', 'not a frame selection'],
    ['1-5 every 0', 'every 0'],
  ])('%s is refused', (text, message) => {
    expect(() => selectFrames(text, numbers)).toThrow(message);
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

describe('a selection over a whole plan', () => {
  const row = (shot: string, n: number) => Array.from({ length: n }, (_, i) => ({ shot, number: i + 1 }));
  const frames = [...row('spin', 12), ...row('still', 3)];
  it('goes by each run’s own numbers', () => {
    expect(selectPlannedFrames(frames, 'first every 5, last').map((f) => `${f.shot} ${f.number}`)).toEqual([
      'spin 1',
      'spin 6',
      'spin 11',
      'spin 12',
      'still 1',
      'still 3',
    ]);
    expect(selectPlannedFrames(frames, 'all')).toEqual(frames);
    expect(selectPlannedFrames(frames, '2-5').map((f) => `${f.shot} ${f.number}`)).toEqual([
      'spin 2',
      'spin 3',
      'spin 4',
      'spin 5',
      'still 2',
      'still 3',
    ]);
    expect(() => selectPlannedFrames(frames, '40-50')).toThrow('"40-50" chooses no frame: spin has 1 to 12, still has 1 to 3.');
    expect(() => selectPlannedFrames(frames, '5-2')).toThrow('spin: "5-2" runs backwards; write 2-5.');
  });
  it('has one of its own for a shot, in all its sizes', () => {
    const sized = [...frames, ...row('still@64x64', 3)];
    const names = (text: string) => selectPlannedFrames(sized, text).map((f) => `${f.shot} ${f.number}`);
    expect(names('spin: 3-4; last')).toEqual(['spin 3', 'spin 4', 'still 3', 'still@64x64 3']);
    expect(names('spin: none')).toEqual(['still 1', 'still 2', 'still 3', 'still@64x64 1', 'still@64x64 2', 'still@64x64 3']);
    expect(() => names('spun: 1')).toThrow('There is no shot "spun"; the plan has spin, still.');
    expect(() => names('spin: 1; spin: 2')).toThrow('twice');
    expect(() => names('1; 2')).toThrow('"2" belongs to no shot');
    expect(formatSelections({ others: 'all', shots: new Map([['spin', '1-4']]) })).toBe('spin: 1-4');
    expect(formatSelections({ others: 'first', shots: new Map([['spin', 'first']]) })).toBe('first');
    expect(parseSelections('spin: 1-4; first')).toEqual({ others: 'first', shots: new Map([['spin', '1-4']]) });
  });
  it('tells the step of an even one, and the rate that shows it at its pace', () => {
    expect(frameStride([1, 6, 11])).toBe(5);
    expect([frameStride([1, 2, 4]), frameStride([7]), frameStride([])]).toEqual([1, 1, 1]);
    expect([everyNth('24', 3), everyNth('30000/1001', 2), everyNth('25', 1), everyNth('24', 36)]).toEqual(['24/3', '30000/2002', '25', '1']);
    expect(parseRate('30000/2002').denominator).toBe(2002);
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
