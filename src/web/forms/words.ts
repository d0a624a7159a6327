/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  plainCapColour: 'Plain cap colour',
  capColour: 'Cap colour',
  hatchedCaps: 'Hatched caps',
  hatchSpacing: 'Hatch spacing',
  hatchLineWidth: 'Hatch line width',
  hatchAngle: 'Hatch angle',
  hatchColour: 'Hatch colour',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  plainCapColour: 'Off: a cap has the material of the part that is cut.',
  capColour: 'As #rrggbb.',
  hatchedCaps: 'Draws hatching over cut faces. It stays in place while the subject turns.',
  hatchSpacing: 'Metres from line to line.',
  hatchLineWidth: 'Metres. Lines finer than a pixel become a tint.',
  hatchAngle: 'Degrees from horizontal, counterclockwise.',
} satisfies WordTable;
