/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  speedMS: 'Speed, m/s',
  turningS: 'Turning, °/s',
  walkthroughPlan: 'Walkthrough plan',
  station: (value: number) => `Station ${value}`,
  frame: 'Frame',
  comesWithin: 'comes within',
  clearStation: (value: number) => `Clear station ${value}`,
  importPath: 'Import path',
  exportCsv: 'Export CSV',
  pathAsCsvOr: 'Path file',
  look: 'Look',
  ahead: 'Ahead',
  atAPoint: 'At a point',
  byStation: 'By station',
  point: (axis: string) => `Point ${axis}`,
  walkingSpeed: 'Walking speed',
  focalLength: 'Focal length',
  roundTrip: 'Round trip',
  easeInOut: 'Ease in/out',
  keepVerticalsStraight: 'Keep verticals straight',
  position: 'Position',
  free: 'Free',
  at: (name: string) => `At ${name}`,
  eyeHeight: 'Height',
  segmentTime: 'Time',
  hold: 'Hold',
  skipSegment: 'Skip segment',
  renderSegment: 'Render only this segment',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  csvWithXY: 'CSV with x, y, z; or glTF with an animated camera or a line.',
  look: 'Along the path, at one point, or from the target of one station to the next.',
  metresTheCameraLooks: 'Metres. The camera looks at it all the way.',
  walkingSpeed: 'Metres per second, for segments without a time of their own. People walk at 1.2 to 1.4.',
  focalLength: 'Millimetres on a 36 mm wide sensor.',
  roundTrip: 'Returns from the last station to the first. The frame that equals the first is left out.',
  easeInOut: 'Speeds up and slows down smoothly between holds. Off: the speed is constant.',
  keepVerticalsStraight: 'Vertical edges stay vertical, as long as the camera is not tilted more than 45°.',
  position: 'Free, dragged in the plan; or at the eye of a view.',
  eyeHeight: 'Height of the eye in metres. Standing, it is 1.6 to 1.75 m above the floor.',
  segmentTime: 'Seconds of the segment that leads here. Follows the speed until you set it.',
  hold: 'Seconds that the camera rests here.',
  renderSegment: 'Chooses the frames of this segment for the next batch, and none of the other shots.',
  skipSegment: 'The segment stays in the plan and has no frames.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  xMZM: (x: string, z: string, y: string) => `x ${x} m, z ${z} m, height ${y} m`,
  theDashedLineIs: 'The dashed line is the walking speed.',
  belowTheDashedLine: (crossingSeconds: number) => `Below the dashed line, an object takes ${crossingSeconds} s to cross the frame.`,
  ofAnObstacle: 'of an obstacle.',
  wasNotImported: (name: string, value: string) => `"${name}" was not imported. ${value}`,
} satisfies WordTable;
