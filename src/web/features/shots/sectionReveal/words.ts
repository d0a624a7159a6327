/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  planeAtM: (now: string) => `plane at ${now} m`,
  cuttingPlane: 'Cutting plane',
  planeAtStation: (value: number) => `Plane at station ${value}`,
  above: 'Above',
  rightX: 'Right (+X)',
  frontZ: 'Front (+Z)',
  cutAway: 'Cut away',
  appliesTo: 'Applies to',
  wholeSubject: 'Whole subject',
  easeInOut: 'Ease in/out',
  planePosition: 'Plane position',
  moveTime: 'Move time',
  hold: 'Hold',
  view: 'View',
  viewOfTheShot: 'View of the shot',
  unchanged: 'Unchanged',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  cutAway: 'The side of the plane that is cut away. Another side resets the stations to run across the whole subject.',
  appliesTo: 'The whole subject, or one part with everything below it in the tree.',
  easeInOut: 'The plane speeds up and slows down smoothly; otherwise it moves evenly.',
  planePosition: 'Metres along the axis of the cut.',
  moveTime: 'Seconds that the plane takes to reach this station.',
  hold: 'Seconds that the plane rests here.',
  view: 'The camera moves to this view meanwhile, or stays.',
} satisfies WordTable;
