/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  number: 'number',
  up: (value: string, azimuth: string, altitude: string) => `${value}${azimuth}° · ${altitude}° up`,
  dates: 'Dates',
  delete: (date: string) => `Delete ${date}`,
  addDate: 'Add date',
  solsticesEquinoxes: 'Solstices, equinoxes',
  everyMonth: 'Every month',
  from: 'From',
  to: 'To',
  interval: 'Interval',
  minutes: 'minutes',
  step: 'Step',
  framesPerDate: 'Frames per date',
  minimumAltitude: 'Minimum altitude',
  frames: 'Frames',
  manualSunPath: 'Manual sun path',
  legend: 'Legend',
  none: 'none',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  addDate: 'Local date of the site, as 2026-12-21. Each date adds its frames after the one before.',
  from: 'A clock time as 09:00, or sunrise: the first step with the sun high enough.',
  to: 'A clock time as 17:00, or sunset: the last step with the sun high enough.',
  interval: 'A fixed number of minutes on the clock, or a fixed number of frames per date.',
  step: 'Minutes between frames. Frames fall on whole multiples on the clock.',
  framesPerDate: 'Evenly spaced, both ends included.',
  minimumAltitude: 'Degrees above the horizon at sunrise and sunset. Clock times are not affected.',
  degreesClockwiseFromTrue: 'Degrees clockwise from true north.',
  degreesAboveTheHorizon: 'Degrees above the horizon.',
  frames: 'Evenly spaced by angle, both ends included.',
  manualSunPath: 'A path of the sun for effect, instead of dates and times.',
  legend: 'Burns date, time and sun altitude into a corner of PNG, JPEG and movies. OpenEXR files stay clean.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  drawnPathOfThe: 'drawn path of the sun',
  writeATimeAs: 'Write a time as 09:00, or sunrise.',
  writeATimeAs17: 'Write a time as 17:00, or sunset.',
  forEffectTheSun: 'For effect: the sun moves evenly through these positions, whatever the site.',
} satisfies WordTable;
