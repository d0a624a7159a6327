/** Whole sets that come with the application, made to measure for any model: views and paths follow its bounds. */
import { type Bounds, centreOf, radiusOf, type Vec3, shortestSide } from '../math/bounds.js';
import type { Site } from '../stage/site.js';
import { defaultHatch } from '../frame/sectionCap.js';
import { seasonDates } from '../shots/sunStudy/sunStudy.js';
import { WALKING_PACE } from '../shots/walkthrough/walkthrough.js';
import { angleSet } from '../camera/angleSet.js';
import { fitView, type View } from '../camera/view.js';
import { defaultView } from '../camera/defaultView.js';
import type { SubjectSize } from './subjectSize.js';
import { parseSet, SET_FORMAT, SET_VERSION, type SetFile } from '../plan/set.js';

/** To a tenth of a millimetre, as people write lengths. */
const rounded = (metres: number): number => Number(metres.toFixed(4));

/** A ready-made group of views and shots. */
export interface Template {
  id: string;
  name: string;
  /** One sentence: what it yields. */
  help: string;
  /** Metres of the longest side of the subjects that it is meant for; no limit where absent. */
  subject: SubjectSize;
  /** Shot whose frame stands for it in small pictures, and which. */
  cover: { shot: string; index: number };
  make(bounds: Bounds, place: { site?: Site; year: number; variants?: SetFile['materials'] }): SetFile;
}

const HD = { width: 1920, height: 1080 };
/** Where the sun is looked for until a place is given. */
const ANY_POINT: Site = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };
/** Eye height of a standing person, metres (common practice, no source). */
const EYE = 1.65;
/** Lowest storey that one walks up to, metres (common practice, no source); lower subjects are walked up to at their own scale. */
const STOREY = 2.4;
const BUILDING: SubjectSize = { from: STOREY };
const PRODUCT: SubjectSize = { to: 3 };

function setOf(name: string, bounds: Bounds, values: object): SetFile {
  return parseSet({ format: SET_FORMAT, version: SET_VERSION, name, reference: bounds, ...values });
}

/** Where one stands: a design that reaches below height 0 has its foundations there. */
function groundOf({ min, max }: Bounds): number {
  return min[1] < 0 && max[1] > 0 ? 0 : min[1];
}

/** Three-quarter view of a building as one walks up to it: from eye height, uprights kept. */
function groundView(bounds: Bounds, id: string, name: string, azimuth: number): View {
  const middle = centreOf(bounds);
  const r = radiusOf(bounds);
  const a = (azimuth * Math.PI) / 180;
  const ground = groundOf(bounds);
  const height = ground + Math.min(EYE, 0.6 * (bounds.max[1] - ground) + 0.02 * r);
  const view: View = { id, name, kind: 'perspective', eye: [0, 0, 0], target: [middle[0], height, middle[2]], focalLength: 30, keepVerticals: false };
  // As far off as the whole fits, at the height of an eye.
  const fitted = fitView({ ...view, eye: [middle[0] + Math.sin(a), middle[1], middle[2] + Math.cos(a)] }, bounds, HD, 1);
  const far = Math.hypot(fitted.eye[0] - middle[0], fitted.eye[2] - middle[2]);
  return { ...view, eye: [middle[0] + far * Math.sin(a), height, middle[2] + far * Math.cos(a)], keepVerticals: true };
}

const EIGHT = ['front', 'front-right', 'right', 'back-right', 'back', 'back-left', 'left', 'front-left'];

/** All templates, in the order in which they are offered. */
export const TEMPLATES: readonly Template[] = [
  {
    id: 'eight-angles',
    name: 'Product review, eight angles',
    help: 'Stills from eight sides at one scale, on a bright backdrop.',
    subject: PRODUCT,
    cover: { shot: 'angles', index: 1 },
    make: (bounds, { variants }) =>
      setOf('Product review, eight angles', bounds, {
        sheet: { size: { width: 1600, height: 1200 }, quality: 'review' },
        stage: { preset: 'bright sweep' },
        ...(variants && { materials: variants }),
        views: angleSet(bounds, { width: 1600, height: 1200 }, 1, { kind: 'perspective', angles: EIGHT, focalLength: 70, margin: 0.12 }),
        shots: [{ id: 'angles', name: 'Eight angles', kind: 'still', views: EIGHT }],
      }),
  },
  {
    id: 'turntable-sizes',
    name: 'Turntable in three sizes',
    help: 'One turn of 72 frames in landscape, square and portrait, with the subject at the same size.',
    subject: {},
    cover: { shot: 'turn', index: 0 },
    make: (bounds) =>
      setOf('Turntable in three sizes', bounds, {
        sheet: {
          size: HD,
          quality: 'review',
          sizes: [
            { id: 'square', width: 1080, height: 1080, framing: 'fitSubject' },
            { id: 'upright', width: 1080, height: 1920, framing: 'fitSubject' },
          ],
        },
        stage: { preset: 'dark sweep' },
        views: [{ ...defaultView(rotatedView(bounds), HD, 1), id: 'three-quarter', name: 'Three-quarter' }],
        shots: [{ id: 'turn', name: 'Turntable', kind: 'turntable', view: 'three-quarter', frames: 72 }],
      }),
  },
  {
    id: 'daylight-four',
    name: 'Daylight study, four dates',
    help: 'Sunrise to sunset on equinoxes and solstices, one frame per hour.',
    subject: BUILDING,
    cover: { shot: 'seasons', index: 4 },
    make: (bounds, { site = ANY_POINT, year }) =>
      setOf('Daylight study, four dates', bounds, {
        sheet: { size: HD, quality: 'draft' },
        stage: { preset: 'open sky', site, daylight: { date: `${year}-06-21`, time: '12:00' } },
        views: [groundView(bounds, 'approach', 'Approach', 40)],
        shots: [
          {
            id: 'seasons',
            name: 'Four dates',
            kind: 'sunStudy',
            view: 'approach',
            dates: seasonDates(year, site.timeZone),
            stepMinutes: 60,
            legend: 'bottom left',
          },
        ],
      }),
  },
  {
    id: 'entrance-walk',
    name: 'Entrance walk',
    help: 'Walks towards the front at eye level, looking at the centre of the subject. Scaled down for a low subject.',
    subject: BUILDING,
    cover: { shot: 'walk', index: 0 },
    make: (bounds, { site }) => {
      const middle = centreOf(bounds);
      const depth = bounds.max[2] - bounds.min[2];
      const ground = groundOf(bounds);
      const tall = bounds.max[1] - ground;
      // One walks up to a lamp as something of its own size would, and stops where it is seen whole; to a building, before its door.
      const scale = Math.min(1, tall / STOREY);
      const far = scale < 1 ? Math.max(5 * tall, 1.6 * depth) : Math.max(8, 1.6 * depth);
      const near = scale < 1 ? 2.2 * tall : Math.max(2, 0.2 * far);
      const height = ground + EYE * scale;
      const at = (z: number, x: number): { eye: Vec3 } => ({ eye: [x, height, z] });
      const half = (bounds.max[0] - bounds.min[0]) / 2;
      const z = bounds.max[2];
      return setOf('Entrance walk', bounds, {
        sheet: { size: HD, quality: 'draft' },
        stage: { preset: 'open sky', ...(site && { site }) },
        views: [groundView(bounds, 'approach', 'Approach', 20)],
        shots: [
          {
            id: 'walk',
            name: 'Towards the entrance',
            kind: 'walkthrough',
            stations: [at(z + far, middle[0] + half), at(z + 0.55 * far, middle[0] + 0.35 * half), { ...at(z + near, middle[0]), hold: 1 }],
            look: 'target',
            target: [middle[0], ground + Math.min(EYE, (bounds.max[1] - ground) / 2), middle[2]],
            pace: Math.max(0.05, rounded(WALKING_PACE * scale)),
            ease: true,
          },
        ],
      });
    },
  },
  {
    id: 'section-reveal',
    name: 'Section reveal',
    help: 'A level plane opens the subject from top to bottom in five seconds.',
    subject: {},
    cover: { shot: 'reveal', index: 70 },
    make: (bounds) => {
      const [low, high] = [bounds.min[1], bounds.max[1]];
      const tall = high - low;
      return setOf('Section reveal', bounds, {
        sheet: { size: HD, quality: 'draft' },
        stage: { preset: 'clay room' },
        section: undefined,
        views: [
          { ...fitView({ ...defaultView(bounds, HD, 1), eye: [0.8, 1.0, 1], target: [0, 0, 0] }, bounds, HD, 1), id: 'above', name: 'From above' },
        ],
        shots: [
          {
            id: 'reveal',
            name: 'Opened from above',
            kind: 'sectionReveal',
            view: 'above',
            // It begins clear of the top and does not end in a sliver.
            stations: [{ height: rounded(high + 0.02 * tall) }, { height: rounded(low + 0.12 * tall), seconds: 5, hold: 0.5 }],
            ease: true,
            cap: '#e8e2d6',
            hatch: defaultHatch(shortestSide(bounds)),
          },
        ],
      });
    },
  },
  {
    id: 'material-board',
    name: 'Material board',
    help: 'Each variant from the front and close up, square, with part and material mattes.',
    subject: PRODUCT,
    cover: { shot: 'board', index: 0 },
    make: (bounds, { variants }) => {
      const size = { width: 1500, height: 1500 };
      const front = {
        ...fitView({ ...defaultView(bounds, size, 1), eye: [0.5, 0.3, 1], target: [0, 0, 0], focalLength: 85 }, bounds, size, 1, 0.12),
      };
      const close = fitView(front, bounds, size, 1, 0.12);
      const near = close.eye.map((v, i) => close.target[i]! + 0.55 * (v - close.target[i]!)) as Vec3;
      const ids = variants?.variants.map((v) => v.id) ?? [];
      return setOf('Material board', bounds, {
        sheet: {
          size,
          quality: 'review',
          files: [{ type: 'png', bits: 16 }],
          passes: ['beauty', 'materials'],
          names: { still: '{set}/{shot}/{view}_{pass}', moving: '{set}/{shot}/{shot}_{pass}.{frame:4}' },
        },
        stage: { preset: 'bright sweep' },
        ...(variants && { materials: variants }),
        views: [
          { ...front, id: 'whole', name: 'Whole' },
          { ...front, id: 'close', name: 'Close up', eye: near },
        ],
        shots: [{ id: 'board', name: 'Material board', kind: 'still', views: ['whole', 'close'], ...(ids.length > 0 && { variants: ids }) }],
      });
    },
  },
];

/** What the bounds sweep when they turn about the vertical through their middle. */
export function rotatedView(bounds: Bounds): Bounds {
  const [x, , z] = centreOf(bounds);
  const r = Math.hypot(bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]) / 2;
  return { min: [x - r, bounds.min[1], z - r], max: [x + r, bounds.max[1], z + r] };
}
