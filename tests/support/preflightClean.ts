/** Sets without a fault, some of them near the limits. */
import { sphere } from '../../src/core/model/meshMaker.js';
import {
  NO_GROUND,
  SHEET,
  at,
  block,
  glassPane,
  house,
  materials,
  reveal,
  screen,
  spin,
  spot,
  still,
  sun,
  walk,
  type Make,
} from './preflightScenes.js';

/** Clean plans, some of them near a limit. */
export const CLEAN: [name: string, make: Make, scales: number[]][] = [
  [
    'a spot that grazes the chimney, and one that lights the ground alone',
    (s) => ({
      pieces: house(s),
      changes: still(
        s,
        {},
        { stage: { lights: [spot(s, [0.4, 4, 0], [0.4, 1, 0]), { ...spot(s, [3, 2, 3], [3, 0, 3]), id: 'ground', name: 'Ground' }] } },
      ),
    }),
    [1],
  ],
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
  ['an odd still', (s) => ({ pieces: house(s), changes: { ...still(s), sheet: { ...SHEET, size: { width: 655, height: 371 } } } }), [0.1, 5]],
  ['a parallel view', (s) => ({ pieces: house(s), changes: still(s, { kind: 'parallel', width: 4.5 * s }) }), [0.1, 1, 5]],
  [
    'a panorama',
    (s) => ({ pieces: [block('Floor', [-3, -0.1, -3], [3, 0, 8], s), ...house(s)], changes: { ...still(s, { kind: 'panorama' }, NO_GROUND) } }),
    [1],
  ],
];
