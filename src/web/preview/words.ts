/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  askPixel: 'Ask a pixel',
  across: 'Across, %',
  down: 'Down, %',
  part: 'Part',
  material: 'Material',
  distance: 'Distance',
  position: 'Position',
  radiance: 'Radiance',
  normal: 'Normal',
  view: 'View',
  litBy: 'Lit by',
  passes: 'Passes',
  pixel: 'Pixel',
  close: 'Close',
  none: 'none',
  surroundings: 'Surroundings',
  modelLight: "The model's own light",
  livePreviewOfThe: 'Live preview of view',
  livePreview: 'Live preview',
  coldEasel: (value: string) => `${value} · Cold Easel`,
  resume: 'Resume',
  pause: 'Pause',
  discardKeptPreview: 'Discard kept preview',
  keepPreview: 'Keep preview',
  compare: 'Compare',
  viewport: 'Viewport',
  save: 'Save',
  openInWindow: 'Open in window',
  keptPreview: 'Kept preview',
  paused: ' · paused',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  thisProjectCannotBe: 'This project cannot be opened.',
  thereIsNoModel: 'There is no model yet.',
  keepsThisPreviewTo: 'Keeps this preview to compare later ones with.',
  holdDownToShow: 'Hold down to show the kept preview.',
  rendersTheViewWith: 'Renders the view with the engine, in this browser.',
  askPixelByKey: 'Asks the middle of the render; the fields Across and Down move from there.',
  across: 'Place of the pixel from the left, in percent of the width.',
  down: 'Place of the pixel from the top, in percent of the height.',
  askPixel: 'Click the render to see what a pixel shows and what lights it.',
  savesThePreviewAs: 'Saves the preview as a PNG.',
  opensTheLivePreview: 'Opens the live preview in another window, for a second screen. It follows this window.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  pixelRange: 'Give 0 to 100 %.',
  findingLights: 'Tracing lights …',
  askingPixel: 'Reading the pixel …',
  importOneInStep: 'Import one in step Model.',
  couldNotBeFetched: (url: string, status: number) => `${url} could not be fetched (${status}).`,
  theCompiledModelIs: 'The compiled model is of another version of Cold Easel; import the model again.',
  samplesS: (samples: number, seconds: string) => `${samples} samples · ${seconds} s`,
  rendering: 'Rendering …',
  progress: (samples: number, seconds: string, value: string) => `${samples} samples · ${seconds} s${value}`,
  clickThePreviewTo: 'Click the preview to inspect a pixel. Alt-drag to refine a region.',
} satisfies WordTable;
