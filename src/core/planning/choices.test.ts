import { describe, expect, it } from 'vitest';
import { corners } from '../math/bounds.js';
import { projectPoint } from '../camera/view.js';
import { shotIdOfOutput } from '../frame/frame.js';
import { countFrames, planFrames } from './planFrames.js';
import { parseSet, outputName, type SetFile } from '../plan/set.js';
import { overriddenFields } from '../plan/formatSheet.js';

/** What one plan says once and makes many of: choices of a still, sizes of a shot, deviations, further stages and sections. */
const BOUNDS = { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] };
const CONTEXT = { bounds: BOUNDS, scene: 'abc' };

function planned(values: object): SetFile {
  return parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    stage: { site: { latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' } },
    materials: {
      variants: [
        { id: 'brass', name: 'Brass', swaps: [{ from: 'steel', to: 'brass' }] },
        { id: 'black', name: 'Black', swaps: [{ from: 'steel', to: 'soot' }] },
      ],
    },
    views: [
      { id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0] },
      { id: 'b', name: 'B', eye: [9, 1, 0], target: [0, 1, 0], kind: 'parallel', width: 6 },
      { id: 'c', name: 'C', eye: [9, 2, 9], target: [0, 1, 0], overrides: { hiddenParts: ['lamp/shade'] } },
    ],
    ...values,
  });
}

const times = [
  { date: '2026-06-21', time: '09:00' },
  { date: '2026-12-21', time: '12:30' },
];
const square = { id: 'square', width: 1080, height: 1080 };

describe('a still of choices', () => {
  it('makes each view in each variant at each time in each size, under names that say which', () => {
    const set = planned({
      sheet: { sizes: [square] },
      shots: [{ id: 's', kind: 'still', views: ['a', 'b', 'c'], variants: ['brass', 'black'], times }],
    });
    const frames = planFrames(set, CONTEXT);
    expect(frames).toHaveLength(3 * 2 * 2 * 2);
    expect(countFrames(set)).toBe(24);
    expect(new Set(frames.map((f) => f.identity)).size).toBe(24);
    expect(frames[0]!.name).toBe('Set/s/A_brass_2026-06-21_0900_1920x1080_beauty');
    expect(frames[0]!.sun!.altitude).toBeGreaterThan(20);
    expect(frames[1]!.sun!.altitude).toBeLessThan(10);
    expect(frames[0]!.materials!.swaps).toEqual([{ from: 'steel', to: 'brass' }]);
  });

  it('renames no other when a view is added', () => {
    const names = (views: string[]): string[] =>
      planFrames(planned({ shots: [{ id: 's', kind: 'still', views, variants: ['brass', 'black'] }] }), CONTEXT).map((f) => f.name);
    const few = names(['b']);
    expect(names(['a', 'b', 'c'])).toEqual(expect.arrayContaining(few));
  });

  it('leaves out the parts that a view goes without', () => {
    const [frame] = planFrames(planned({ shots: [{ id: 's', kind: 'still', views: ['c'] }] }), CONTEXT);
    expect(frame!.materials!.parts).toEqual([{ path: 'lamp/shade', renderVisible: false }]);
  });

  it('names a variant that is not there', () => {
    expect(() => planned({ shots: [{ id: 's', kind: 'still', views: ['a'], variants: ['gold'] }] })).toThrow('There is no variant "gold"');
  });
});

describe('further sizes', () => {
  const sizes = [
    { id: 'wide', width: 1080, height: 540, framing: 'keepWidth' },
    { id: 'tall', width: 540, height: 1080, framing: 'keepHeight' },
    { ...square, framing: 'fitSubject' },
  ];
  const set = planned({
    sheet: { size: { width: 1920, height: 1080 }, sizes },
    shots: [
      { id: 's', kind: 'still', views: ['a', 'b'] },
      { id: 'spin', kind: 'turntable', view: 'a', frames: 4, sizes: ['square'] },
    ],
  });
  const frames = planFrames(set, CONTEXT);
  const of = (run: string, view: string): (typeof frames)[number] => frames.find((f) => f.shot === run && f.view === view)!;
  /** Halves of the frame that a point lies from its middle, across and up. */
  const at = (f: (typeof frames)[number], p: [number, number, number]): [number, number] => {
    const [x, y] = projectPoint(f.camera, f.size, p)!;
    return [(2 * x) / f.size.width - 1, 1 - (2 * y) / f.size.height];
  };

  it('are runs of their own, with numbers of their own', () => {
    expect([...new Set(frames.map((f) => f.shot))]).toEqual(['s', 's@wide', 's@tall', 's@square', 'spin', 'spin@square']);
    expect(frames.filter((f) => f.shot === 'spin@square').map((f) => [f.index, f.number])).toEqual([0, 1, 2, 3].map((i) => [i, i + 1]));
    expect(shotIdOfOutput('spin@square')).toBe('spin');
    expect(outputName(set, 'spin@square')).toBe('spin 1080x1080');
    expect(frames.at(-1)!.name).toBe('Set/spin/spin_1080x1080_beauty.0004');
  });

  it.each(['a', 'b'])('keep what lies across, or upright, in view %s', (view) => {
    const corner: [number, number, number] = [1, 2, 1];
    const [mx, my] = at(of('s', view), corner);
    expect(at(of('s@wide', view), corner)[0]).toBeCloseTo(mx, 9);
    expect(at(of('s@tall', view), corner)[1]).toBeCloseTo(my, 9);
  });

  it.each(['a', 'b'])('let the subject fill either as much, in view %s', (view) => {
    const reach = (f: (typeof frames)[number]): number => Math.max(...corners(BOUNDS).flatMap((c) => at(f, c).map(Math.abs)));
    expect(reach(of('s@square', view))).toBeCloseTo(reach(of('s', view)), 2);
    // A square about an upright box is no wider than it is high.
    expect(reach(of('s', view))).toBeLessThan(1);
  });

  it('do not breathe while a shot moves', () => {
    const focal = new Set(frames.filter((f) => f.shot === 'spin@square').map((f) => f.camera.focalLength));
    expect(focal.size).toBe(1);
  });
});

describe('deviations of a shot', () => {
  it('go before the sheet, are counted, and are named where they do not fit', () => {
    const set = planned({
      shots: [
        { id: 's', kind: 'still', views: ['a'], overrides: { quality: 'draft', size: { width: 640, height: 360 }, alpha: false } },
        { id: 't', kind: 'turntable', view: 'a', seconds: 1, overrides: { rate: '30' } },
      ],
    });
    const frames = planFrames(set, CONTEXT);
    expect(frames[0]!.size).toEqual({ width: 640, height: 360 });
    expect(frames[0]!.sampling.samples).toBe(16);
    // What repeats the sheet deviates in nothing.
    expect(overriddenFields(set.sheet, set.shots[0]!)).toEqual(['size', 'quality']);
    expect(frames).toHaveLength(1 + 30);
    expect(countFrames(set)).toBe(31);
    const wrong = planned({
      shots: [{ id: 's', name: 'Cover', kind: 'still', views: ['a'], overrides: { alpha: true, files: [{ type: 'jpeg' }] } }],
    });
    expect(() => planFrames(wrong, CONTEXT)).toThrow('Cover: JPEG has no alpha');
  });
});

describe('further stages and sections', () => {
  const set = planned({
    stages: [{ id: 'dark', name: 'Dark', stage: { preset: 'dark sweep' } }],
    sections: [{ id: 'low', name: 'Low', planes: [{ normal: [0, 2, 0], offset: 0.4 }] }],
    section: { planes: [{ normal: [0, 1, 0], offset: 1.5 }] },
    views: [
      { id: 'a', name: 'A', eye: [0, 1, 9], target: [0, 1, 0], overrides: { section: 'low', stage: 'dark' } },
      { id: 'b', name: 'B', eye: [9, 1, 0], target: [0, 1, 0], overrides: { section: false } },
      { id: 'c', name: 'C', eye: [9, 1, 9], target: [0, 1, 0] },
    ],
    shots: [
      { id: 's', kind: 'still', views: ['a', 'b', 'c'] },
      { id: 't', kind: 'still', views: ['c'], stage: 'dark' },
    ],
  });
  it('go by what a view or a shot names', () => {
    const [a, b, c, d] = planFrames(set, CONTEXT);
    expect(a!.section!.planes).toEqual([{ normal: [0, 1, 0], offset: 0.4 }]);
    expect(b!.section).toBeUndefined();
    expect(c!.section!.planes[0]!.offset).toBe(1.5);
    expect(a!.stage.backdrop).toEqual(d!.stage.backdrop);
    expect(c!.stage.backdrop).not.toEqual(d!.stage.backdrop);
  });

  it('are said where they are not there', () => {
    expect(() => parseSet({ ...set, shots: [{ id: 't', kind: 'still', views: ['c'], stage: 'lost' }] })).toThrow(
      'There is no stage "lost" in this set.',
    );
    expect(() => parseSet({ ...set, sections: [] })).toThrow('views[0].overrides.section: There is no section "low" in this set.');
  });
});

describe('the ground of a stage', () => {
  it('takes a library material up to its radius; an unknown one is refused where the set is read', () => {
    const [frame] = planFrames(
      planned({ stage: { ground: { kind: 'plane', material: 'granite', radius: 4 } }, shots: [{ id: 's', kind: 'still', views: ['a'] }] }),
      CONTEXT,
    );
    expect(frame!.stage.base).toMatchObject({ outer: 4, material: { name: 'granite' } });
    expect(frame!.stage.base!.inner).toBeLessThan(4);
    expect(() => planned({ stage: { ground: { kind: 'plane', material: 'moon dust' } } })).toThrow(
      'stage.ground.material: This is not a material of the library',
    );
  });
});
