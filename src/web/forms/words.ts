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
  ev: 'EV',
  exposureEv: 'Exposure (EV)',
  whiteBalance: 'White balance',
  toneCurve: 'Tone curve',
  glare: 'Glare',
  glareStrength: 'Glare strength',
  glareRadius: 'Glare radius',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  plainCapColour: 'Off: a cap has the material of the part that is cut.',
  capColour: 'As #rrggbb.',
  hatchedCaps: 'Draws hatching over cut faces. It stays in place while the subject turns.',
  hatchSpacing: 'Metres from line to line.',
  hatchLineWidth: 'Metres. Lines finer than a pixel become a tint.',
  hatchAngle: 'Degrees from horizontal, counterclockwise.',
  exposureEv: 'Each EV doubles the brightness. One value for the whole set; nothing is rendered again.',
  whiteBalance: 'Kelvin that comes out neutral: lower for lamplight; 6500 changes nothing.',
  toneCurve: 'How scene light is mapped to display values. Named after its publication.',
  glare: 'A veil around highlights, as in an eye or a lens. Shown in the live preview and in renders.',
  glareStrength: 'Share of bright light that is spread, 0 to 1.',
  glareRadius: 'As a share of the long side of the render, up to 0.2.',
} satisfies WordTable;
