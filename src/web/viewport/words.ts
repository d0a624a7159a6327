/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  dragToResize: 'Drag to resize',
  trueNorth: 'True north',
  theSun: 'The sun',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  noGl: 'There is no quick view here: WebGL is off or missing in this browser. Switch it on; renders and Live preview work without it.',
  loadingTheModel: 'Loading the model …',
  theViewportCannotShow: (message: string) => `The viewport cannot show this model (${message}). Rendering is not affected.`,
} satisfies WordTable;
