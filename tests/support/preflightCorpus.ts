/** Sets made by code for the checks before a run: with one planted fault each, and clean ones, some of them near the limits. */
import { sphere } from '../../src/core/model/meshMaker.js';
import type { OutputPlace } from '../../src/core/preflight/finding.js';
import { box, type Piece } from './checkModel.js';

export interface CorpusSet {
  name: string;
  pieces: Piece[];
  changes: Record<string, unknown>;
  missingFiles?: string[];
  output?: OutputPlace;
  /** Id of the finding that was planted; absent of a clean set. */
  planted?: string;
  /** Findings that follow from what was planted, as they would in a studio. */
  follows?: string[];
}

type Point = [number, number, number];
/** What a case is made of at a scale: 1 is a subject about two metres across. */
type Make = (s: number) => Omit<CorpusSet, 'name'>;

const scaled = (p: Point, s: number): Point => p.map((c) => c * s) as Point;
const block = (name: string, min: Point, max: Point, s: number, more: Partial<Piece> = {}): Piece => ({
  name,
  mesh: box(scaled(min, s), scaled(max, s)),
  ...more,
});

/** A house with a chimney, so that it looks otherwise from each side. */
export const house = (s: number): Piece[] => [block('House', [-1, 0, -0.8], [1, 1.2, 0.8], s), block('Chimney', [0.3, 1.2, -0.2], [0.5, 1.7, 0], s)];
const glassPane = { material: { transmission: 1, ior: 1.5, roughness: 0 } };
/** A box without its last face. */
const openBox = (min: number[], max: number[]): Piece['mesh'] => {
  const mesh = box(min, max);
  return { ...mesh, indices: mesh.indices.slice(0, -6) };
};
/** A screen across the line of sight of the view from the front. */
const screen = (s: number, from: number, to: number): Piece => block('Screen', [from, -1, 2.4], [to, 4, 2.5], s, { isContext: true });

const VIEW = { id: 'v', name: 'Front', eye: [0, 1.2, 7] as Point, target: [0, 0.85, 0] as Point, focalLength: 45 };
type ViewChanges = Partial<typeof VIEW> & { kind?: string; width?: number };
const viewAt = (s: number, more: ViewChanges = {}): object => {
  const v = { ...VIEW, ...more };
  return { ...v, eye: scaled(v.eye, s), target: scaled(v.target, s) };
};
const DISK: OutputPlace = { folder: '/data/pictures', writable: true, free: 1e9, needed: null };
const SHEET = { size: { width: 640, height: 360 }, quality: { samples: 16 } };
const still = (s: number, view: ViewChanges = {}, more: object = {}): Record<string, unknown> => ({
  sheet: SHEET,
  views: [viewAt(s, view)],
  shots: [{ id: 's', name: 'Still', kind: 'still', views: ['v'] }],
  ...more,
});
/** An open shutter, so that few frames do not strobe. */
const spin = (s: number, view: ViewChanges = {}, shot: object = {}, sheet: object = { shutter: 180 }): Record<string, unknown> => ({
  sheet: { ...SHEET, ...sheet },
  views: [viewAt(s, view)],
  shots: [{ id: 's', name: 'Spin', kind: 'turntable', view: 'v', frames: 12, ...shot }],
});
const walk = (stations: object[], shot: object = {}): Record<string, unknown> => ({
  sheet: { ...SHEET, rate: '8' },
  views: [viewAt(1)],
  shots: [{ id: 's', name: 'Walk', kind: 'walkthrough', look: 'ahead', ease: false, stations, ...shot }],
});
const reveal = (s: number, from: number, to: number): Record<string, unknown> => ({
  ...still(s),
  sheet: { ...SHEET, rate: '8' },
  shots: [{ id: 's', name: 'Reveal', kind: 'sectionReveal', view: 'v', stations: [{ height: from * s }, { height: to * s, seconds: 1 }] }],
});
const SITE = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };
const sun = (s: number, from: string, to: string, stage: object = {}): Record<string, unknown> => ({
  ...still(s),
  stage: { preset: 'open sky', site: SITE, ...stage },
  shots: [{ id: 's', name: 'Sun', kind: 'sunStudy', view: 'v', dates: ['2026-06-21'], from, to, stepMinutes: 60 }],
});
const materials = (parts: object[]): object => ({ materials: { parts, rules: [], materials: [], swaps: [], variants: [] } });
const NO_GROUND = { stage: { ground: { kind: 'none' } } };
const LIT = { lights: [{ id: 'key', name: 'Key', kind: 'point', at: [0, 6, 0], target: [0, 0, 0], lumens: 800 }] };
const at = (p: Point, s = 5): Point => scaled(p, s);

/** One planted fault each, by the id of its finding. Those that hang on metres are made at one scale. */
const PLANTED: [id: string, make: Make, scales: number[], follows?: string[]][] = [
  [
    'camera-inside',
    (s) => ({ pieces: house(s), changes: still(s, { eye: [0.2, 0.6, 0.3], target: [0, 0.6, 0] }) }),
    [0.1, 1],
    ['dark', 'exposure-off', 'too-near', 'flat'],
  ],
  ['empty-view', (s) => ({ pieces: house(s), changes: still(s, { target: [0, 0.85, 14] }) }), [0.1, 5]],
  ['subject-cut', (s) => ({ pieces: house(s), changes: spin(s, { focalLength: 72 }) }), [0.1, 1, 5]],
  ['subject-cut', (s) => ({ pieces: house(s), changes: still(s, { target: [1.1, 0.85, 0], focalLength: 62 }) }), [0.1, 5]],
  ['subject-hidden', (s) => ({ pieces: [...house(s), screen(s, -3, 3)], changes: still(s) }), [0.1, 5]],
  ['subject-hidden', (s) => ({ pieces: [...house(s), screen(s, -3, 0.3)], changes: still(s) }), [1]],
  [
    'crossing',
    (s) => ({
      pieces: [...house(s), block('Post', [-0.2, 0, 3], [0.15, 3, 3.2], s, { isContext: true })],
      changes: spin(s, {}, { turns: ['camera'], pivot: 'target' }),
    }),
    [0.1, 1],
  ],
  ['subject-small', (s) => ({ pieces: house(s), changes: still(s, { eye: [0, 4, 90], focalLength: 35 }) }), [0.1, 1]],
  [
    'too-near',
    (s) => ({ pieces: [...house(s), block('Wire', [-0.002, 1.19, 6.985], [0.002, 1.21, 6.99], s, { isContext: true })], changes: still(s) }),
    [0.1, 5],
    ['subject-hidden'],
  ],
  [
    'below-ground',
    (s) => ({ pieces: house(s), changes: still(s, { eye: [0, -0.4, 7] }, { stage: { ground: { kind: 'plane', height: 0 } } }) }),
    [0.1, 5],
    ['dark', 'exposure-off'],
  ],
  ['too-fast', () => ({ pieces: house(5), changes: walk([{ eye: at([0, 0.3, 9]) }, { eye: at([0, 0.3, 3]), seconds: 6 }]) }), [1]],
  [
    'jump',
    () => ({
      pieces: house(5),
      changes: walk(
        [
          { eye: at([-3, 0.3, 5]) },
          { eye: at([-3, 0.3, 4]), seconds: 8 },
          { eye: at([3, 0.3, 4]), seconds: 0.25 },
          { eye: at([3, 0.3, 3]), seconds: 8 },
        ],
        { look: 'target', target: [0, 2, 0] },
      ),
    }),
    [1],
    ['too-fast'],
  ],
  [
    'clearance',
    () => ({
      pieces: [...house(5), block('Wall', [1.1, 0, -2], [1.2, 2, 3], 5, { isContext: true })],
      changes: walk([{ eye: at([1.06, 0.3, 2]) }, { eye: at([1.06, 0.3, 1]), seconds: 5 }]),
    }),
    [1],
  ],
  ['strobing', (s) => ({ pieces: house(s), changes: spin(s, {}, {}, { shutter: 0 }) }), [0.1, 5]],
  ['same-frames', (s) => ({ pieces: house(s), changes: { ...still(s), ...spin(s, {}, { degrees: 1440, frames: 4 }) } }), [1, 5], ['loop-ends']],
  [
    'loop-ends',
    () => ({
      pieces: house(5),
      changes: walk([{ eye: at([0, 0.3, 6]) }, { eye: at([0, 0.3, 5]), seconds: 4 }, { eye: at([0, 0.3, 6]), seconds: 4 }], {
        look: 'target',
        target: [0, 1, 0],
      }),
    }),
    [1],
    ['same-frames'],
  ],
  ['no-room', (s) => ({ pieces: house(s), changes: still(s), output: { ...DISK, needed: 2e9 } }), [1]],
  ['no-room', (s) => ({ pieces: house(s), changes: still(s), output: { ...DISK, needed: 0.9e9 } }), [1]],
  ['not-writable', (s) => ({ pieces: house(s), changes: still(s), output: { ...DISK, writable: false } }), [1]],
  ['dark', (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { exposure: -12 } }) }), [0.1, 5], ['exposure-off', 'flat']],
  [
    'burnt',
    (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { exposure: 3.5, curve: 'straight' } }) }),
    [0.1, 5],
    ['flat', 'exposure-off'],
  ],
  ['exposure-off', (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { exposure: 5.5 } }) }), [0.1, 5], ['burnt', 'flat']],
  [
    'flat',
    (s) => ({
      pieces: house(s).map((p) => ({ ...p, material: { base: [1, 1, 1] as Point } })),
      changes: still(s, {}, { stage: { backdrop: '#ffffff' }, grade: { exposure: 9, curve: 'straight' } }),
    }),
    [0.1, 1],
    ['burnt', 'exposure-off'],
  ],
  ['sun-down', (s) => ({ pieces: house(s), changes: sun(s, '00:00', '12:00') }), [1, 5], ['dark', 'exposure-off', 'flat']],
  [
    'sky-stays',
    (s) => ({ pieces: house(s), changes: sun(s, '09:00', '14:00', { backdropImage: { file: 'sky.png' } }), missingFiles: ['sky.png'] }),
    [1, 5],
    ['missing-files'],
  ],
  [
    'glass-depth',
    (s) => ({
      pieces: [
        ...house(s),
        ...Array.from({ length: 4 }, (_, i) => block(`Pane ${i}`, [-0.6, 0.2, 1 + i * 0.2], [0.6, 1, 1.02 + i * 0.2], s, glassPane)),
      ],
      changes: { ...still(s), sheet: { ...SHEET, quality: { samples: 16, depth: { bounces: 6, refractionDepth: 4 } } } },
    }),
    [0.1, 5],
  ],
  ['cuts-nothing', (s) => ({ pieces: house(s), changes: still(s, {}, { section: { planes: [{ normal: [0, 1, 0], offset: 2 * s }] } }) }), [0.1, 5]],
  [
    'cuts-nothing',
    (s) => ({ pieces: house(s), changes: still(s, {}, { section: { planes: [{ normal: [0, 1, 0], offset: -0.1 * s }] } }) }),
    [1],
    ['empty-view'],
  ],
  [
    'open-cap',
    (s) => ({
      pieces: [
        ...house(s),
        {
          name: 'Awning',
          mesh: openBox(
            [-1.2, 0.9, 0.8].map((v) => v * s),
            [1.2, 1, 1.3].map((v) => v * s),
          ),
        },
      ],
      changes: still(s, {}, { section: { planes: [{ normal: [1, 0, 0], offset: 0.3 * s }] } }),
    }),
    [0.1, 5],
  ],
  ['reveal-ends', (s) => ({ pieces: house(s), changes: reveal(s, 1.68, 0.4) }), [0.1, 5]],
  ['reveal-ends', (s) => ({ pieces: house(s), changes: reveal(s, 1.8, 0.02) }), [0.1, 5]],
  [
    'lost-parts',
    (s) => ({ pieces: house(s), changes: still(s, {}, { section: { planes: [{ normal: [0, 1, 0], offset: s, part: 'Roof' }] } }) }),
    [0.1, 5],
    ['cuts-nothing'],
  ],
  ['lost-parts', (s) => ({ pieces: house(s), changes: still(s, {}, materials([{ path: 'Roof', material: 'Concrete' }])) }), [1]],
  [
    'missing-files',
    (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { backdropImage: { file: 'lost.png' } } }), missingFiles: ['lost.png'] }),
    [0.1, 5],
  ],
  ['hidden-rendered', (s) => ({ pieces: house(s), changes: still(s, {}, materials([{ path: 'Chimney', viewportVisible: false }])) }), [0.1, 5]],
  ['floating', (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { ground: { kind: 'plane', height: -0.1 * s } } }) }), [0.1, 5]],
  ['floating', (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { ground: { kind: 'plane', height: 0.1 * s } } }) }), [1]],
  [
    'doubled-floor',
    (s) => ({
      pieces: [...house(s), block('Slab', [-1.2, -0.02, -1], [1.2, 0, 1], s)],
      changes: still(s, {}, { stage: { ground: { kind: 'plane', height: 0 } } }),
    }),
    [1, 5],
    ['floating'],
  ],
  ['unit-suspect', (s) => ({ pieces: house(s), changes: still(s) }), [400, 0.002]],
  ['renders-nothing', (s) => ({ pieces: house(s), changes: { ...still(s), shots: [] } }), [1]],
  [
    'client-delivery',
    (s) => ({ pieces: house(s), changes: still(s, {}, { delivery: { name: 'Board', sizes: [{ width: 1920, height: 1080 }] } }) }),
    [0.1, 5],
  ],
  ['odd-size', (s) => ({ pieces: house(s), changes: spin(s, {}, {}, { size: { width: 641, height: 360 }, shutter: 180 }) }), [0.1, 5]],
  [
    'mixed-projection',
    (s) => ({
      pieces: house(s),
      changes: {
        ...still(s),
        views: [viewAt(s), viewAt(s, { id: 'p', name: 'Parallel', kind: 'parallel', width: 4.5 * s })],
        shots: [{ id: 's', kind: 'still', views: ['v', 'p'] }],
      },
    }),
    [0.1, 5],
  ],
  [
    'light-drowned',
    (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { ...LIT, site: SITE, daylight: { date: '2026-06-21', time: '13:00' } } }) }),
    [1, 5],
  ],
  ['lights-off', (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { lights: LIT.lights.map((l) => ({ ...l, on: false })) } }) }), [0.1]],
  ['no-effect', (s) => ({ pieces: house(s), changes: { ...still(s), sheet: { ...SHEET, shutter: 180 } } }), [1]],
];

/** Clean plans, some of them near a limit. */
const CLEAN: [name: string, make: Make, scales: number[]][] = [
  ['a still', (s) => ({ pieces: house(s), changes: still(s) }), [0.1, 1, 5]],
  ['a turntable', (s) => ({ pieces: house(s), changes: spin(s) }), [0.1, 1, 5]],
  ['a turntable of the camera', (s) => ({ pieces: house(s), changes: spin(s, {}, { turns: ['camera'], pivot: 'target' }) }), [0.1, 1, 5]],
  ['a subject that just fits', (s) => ({ pieces: house(s), changes: still(s, { focalLength: 70 }) }), [0.1, 1, 5]],
  [
    'a ball that just fits',
    (s) => ({
      pieces: [{ name: 'Ball', mesh: { ...sphere(32), positions: sphere(32).positions.map((c, i) => (c + (i % 3 === 1 ? 1 : 0)) * 0.85 * s) } }],
      changes: spin(s, { focalLength: 78 }),
    }),
    [0.1, 5],
  ],
  ['a subject behind a low screen', (s) => ({ pieces: [...house(s), screen(s, -3, -0.15)], changes: still(s) }), [0.1, 1, 5]],
  [
    'glass before the subject',
    (s) => ({ pieces: [...house(s), block('Pane', [-3, -1, 2], [3, 4, 2.02], s, { ...glassPane, isContext: true })], changes: spin(s) }),
    [0.1, 5],
  ],
  [
    'a thing beside the way of the camera',
    (s) => ({
      pieces: [...house(s), block('Post', [-0.06, 0, 3], [0.06, 0.9, 3.1], s, { isContext: true })],
      changes: spin(s, {}, { turns: ['camera'], pivot: 'target' }),
    }),
    [0.1, 5],
  ],
  ['a small subject', (s) => ({ pieces: house(s), changes: still(s, { eye: [0, 2, 26], focalLength: 50 }) }), [0.1, 1]],
  ['a camera near the ground', (s) => ({ pieces: house(s), changes: still(s, { eye: [0, 0.05, 7] }) }), [0.1, 5]],
  [
    'a camera in a room',
    (s) => ({
      pieces: [block('Left', [-3, 0, -3], [-2.9, 3, 8], s), block('Right', [2.9, 0, -3], [3, 3, 8], s), block('Back', [-3, 0, -3], [3, 3, -2.9], s)],
      changes: { ...still(s), shots: [{ id: 's', kind: 'still', views: ['v'], subject: 'none' }] },
    }),
    [1, 5],
  ],
  ['a walk at a good pace', () => ({ pieces: house(5), changes: walk([{ eye: at([0, 0.3, 9]) }, { eye: at([0, 0.3, 5]), seconds: 8 }]) }), [1]],
  [
    'a walk round a bend',
    () => ({
      pieces: house(5),
      changes: walk([{ eye: at([-4, 0.3, 6]) }, { eye: at([0, 0.3, 6]), seconds: 12 }, { eye: at([3, 0.3, 3]), seconds: 12 }], {
        look: 'target',
        target: [0, 2, 0],
      }),
    }),
    [1],
  ],
  [
    'a walk past a wall',
    () => ({
      pieces: [...house(5), block('Wall', [1.1, 0, -2], [1.2, 2, 3], 5, { isContext: true })],
      changes: walk([{ eye: at([1.02, 0.3, 2.4]) }, { eye: at([1.02, 0.3, 1.2]), seconds: 6 }]),
    }),
    [1],
  ],
  [
    'a walk with a hold',
    () => ({
      pieces: house(5),
      changes: walk([
        { eye: at([0, 0.3, 9]), hold: 1 },
        { eye: at([0, 0.3, 6]), seconds: 8 },
      ]),
    }),
    [1],
  ],
  ['a turntable with frames enough', (s) => ({ pieces: house(s), changes: spin(s, {}, { frames: 160 }, { shutter: 0 }) }), [1]],
  ['a turn there and back', (s) => ({ pieces: house(s), changes: spin(s, {}, { degrees: 90, frames: 8, thereAndBack: true }) }), [0.1, 5]],
  ['a dim picture', (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { exposure: -2.5 } }) }), [0.1, 1]],
  ['a bright picture', (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { exposure: 1 } }) }), [0.1, 1]],
  ['a long summer day', (s) => ({ pieces: house(s), changes: sun(s, 'sunrise', 'sunset') }), [1, 5]],
  [
    'two panes within the depth',
    (s) => ({
      pieces: [...house(s), ...[0, 1].map((i) => block(`Pane ${i}`, [-0.6, 0.2, 1 + i * 0.2], [0.6, 1, 1.02 + i * 0.2], s, glassPane))],
      changes: { ...still(s), sheet: { ...SHEET, quality: { samples: 16, depth: { bounces: 6, refractionDepth: 4 } } } },
    }),
    [0.1, 5],
  ],
  [
    'a section through the middle',
    (s) => ({ pieces: house(s), changes: still(s, {}, { section: { planes: [{ normal: [0, 1, 0], offset: 0.6 * s }] } }) }),
    [0.1, 1, 5],
  ],
  ['a reveal from the whole to half', (s) => ({ pieces: house(s), changes: reveal(s, 1.7, 0.6) }), [0.1, 5]],
  ['a reveal that begins well inside', (s) => ({ pieces: house(s), changes: reveal(s, 1.62, 0.4) }), [0.1, 5]],
  [
    'a part that is left out of both',
    (s) => ({ pieces: house(s), changes: still(s, {}, materials([{ path: 'Chimney', renderVisible: false, viewportVisible: false }])) }),
    [0.1, 5],
  ],
  ['a subject that hangs on purpose', (s) => ({ pieces: house(s), changes: still(s, {}, NO_GROUND) }), [0.1, 5]],
  [
    'feet on the ground',
    (s) => ({ pieces: [block('Top', [-1, 0.8, -0.8], [1, 0.9, 0.8], s), block('Foot', [-0.3, 0, -0.3], [0.3, 0.8, 0.3], s)], changes: still(s) }),
    [0.1, 5],
  ],
  [
    'what the client asked for',
    (s) => ({ pieces: house(s), changes: still(s, {}, { delivery: { name: 'Board', sizes: [{ width: 640, height: 360 }] } }) }),
    [0.1, 5],
  ],
  ['an odd still', (s) => ({ pieces: house(s), changes: { ...still(s), sheet: { ...SHEET, size: { width: 641, height: 361 } } } }), [0.1, 5]],
  ['a parallel view', (s) => ({ pieces: house(s), changes: still(s, { kind: 'parallel', width: 4.5 * s }) }), [0.1, 1, 5]],
  [
    'a panorama',
    (s) => ({ pieces: [block('Floor', [-3, -0.1, -3], [3, 0, 8], s), ...house(s)], changes: { ...still(s, { kind: 'panorama' }, NO_GROUND) } }),
    [1],
  ],
];

export function corpus(): CorpusSet[] {
  const named = (name: string, s: number): string => `${name}, at ${s}`;
  return [
    ...PLANTED.flatMap(([id, make, scales, follows]) =>
      scales.map((s): CorpusSet => ({ name: named(id, s), planted: id, ...(follows && { follows }), ...make(s) })),
    ),
    ...CLEAN.flatMap(([name, make, scales]) => scales.map((s): CorpusSet => ({ name: named(name, s), ...make(s) }))),
  ];
}
