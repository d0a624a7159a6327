/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  frames: 'Frames',
  length: 'Length',
  totalAngle: 'Total angle',
  startAngle: 'Start angle',
  direction: 'Direction',
  counterclockwise: 'counterclockwise',
  clockwise: 'clockwise',
  axis: 'Axis',
  upright: 'Upright',
  throughTwoPoints: 'Through two points',
  axisFrom: 'Axis from',
  axisTo: 'Axis to',
  rotates: 'Rotates',
  pivot: 'Pivot',
  centreOfTheSubject: 'Centre of the subject',
  targetOfTheView: 'Target of the view',
  ownPoint: 'Point',
  pivotAtPart: 'Pivot at part',
  choosePart: 'Choose a part',
  easeInOut: 'Ease in/out',
  thereAndBack: 'There and back',
  turntableDial: (length: number) => `Turntable dial: ${length} frames`,
  perFrame: (step: number) => `${step}° per frame`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  frames: 'Frames of one turn: 72 give 5° per frame. The closing frame equals the first and is left out.',
  length: 'Seconds at the rate of the set. 3 s and 1/2 min work too.',
  totalAngle: 'Degrees from first to last frame. 360 and its multiples loop without a doubled frame.',
  startAngle: 'Degrees at the first frame.',
  direction: 'How the subject appears to turn, seen from above, or from the second point of its axis.',
  axis: 'Upright through the pivot, or a line through two points, about which the subject alone turns.',
  axisFrom: 'Metres. The first point of the line; it stays where it is.',
  axisTo: 'Metres. The second point; the direction of the turn is seen from it.',
  everythingTickedRotatesBy: 'Everything ticked rotates by the same angle about the pivot. Ground and context stay.',
  pivot: "The centre of the subject's bounds, the view's target, or a point.",
  pivotAxis: 'Metres. The turn is about the vertical through this point.',
  pivotAtPart: 'Moves the point into the middle of a part and all below it.',
  easeInOut: 'Speeds up and slows down smoothly. Off: turns evenly, which loops without a jerk.',
  thereAndBack: 'Returns through the same frames: 2N − 2 frames, none doubled.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  aboveStepsBecomeVisible: (most: string) => `: above ${most}, steps become visible; use more frames or motion blur`,
  theRimMovesPx: (pixels: string, value: string) => `The rim moves ${pixels} px per frame${value}.`,
} satisfies WordTable;
