/** Sets with one planted fault each. */
import {
  DISK,
  LIT,
  SHEET,
  SITE,
  at,
  block,
  glassPane,
  house,
  materials,
  openBox,
  reveal,
  screen,
  spin,
  spot,
  still,
  sun,
  viewAt,
  walk,
  type Make,
  type Point,
} from './preflightScenes.js';

/** One planted fault each, by the id of its finding. Those that hang on metres are made at one scale. */
export const PLANTED: [id: string, make: Make, scales: number[], follows?: string[]][] = [
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
  [
    'idle-light',
    (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { ground: { kind: 'none' }, lights: [spot(s, [0, 3, 0], [0, 9, 0])] } }) }),
    [0.1, 5],
  ],
  ['idle-light', (s) => ({ pieces: house(s), changes: still(s, {}, { stage: { lights: [spot(s, [0, 0.6, 0], [0, 0, 0])] } }) }), [1]],
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
  [
    'near-standard-size',
    (s) => ({ pieces: house(s), changes: { ...spin(s, {}, {}, { size: { width: 1278, height: 720 }, shutter: 180 }) } }),
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
  ['mix-without-pass', (s) => ({ pieces: house(s), changes: still(s, {}, { grade: { mix: { occlusion: 0.5 } } }) }), [1]],
];
