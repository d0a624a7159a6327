/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  forecast: 'Forecast',
  doneBy: 'Be done by',
  apply: 'Apply',
  undo: 'Undo',
  files: 'Files',
  inTime: 'In time',
  tooLate: 'Too late',
  asPlanned: 'As planned',
  asChosen: 'With this change',
  freeOnDisk: 'Free on disk',
  forecastDetails: 'Forecast in detail',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  forecast: 'Rendering time and file sizes expected from test renders of some frames. Click for details.',
  doneBy: 'Hour of the day, such as 17:30. Changes that make it possible are listed with their effect.',
  shot: 'Expected rendering time of this shot on this machine.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  working: (done: number, total: number) => `Forecast: test render ${done} of ${total} …`,
  begins: 'Forecast …',
  line: (likely: string, low: string, high: string, size: string) => `${likely} (${low} to ${high}) · ${size}`,
  toRender: (time: string) => `${time} to render now`,
  range: (low: string, high: string) => `${low} to ${high} with 80 % probability.`,
  basis: (tried: number, frames: number, learnt: number) =>
    `From test renders of ${tried} of ${frames} frames${learnt > 0 ? `, corrected by ${learnt} earlier ${learnt === 1 ? 'batch' : 'batches'}` : ''}.`,
  noTime: 'Enter an hour of the day, such as 17:30.',
  inTime: (hour: string) => `Done at about ${hour}, in time as planned.`,
  late: (hour: string) => `Done at about ${hour} as planned. To be done earlier:`,
  nothingHelps: 'No single change is enough. Apply one, then look again.',
  done: (likely: string, hour: string) => `${likely}, done at ${hour}`,
  applied: (label: string) => `Changed: ${label}.`,
  twiceSamples: (more: string) => `Twice the samples: ${more} more.`,
  twiceSize: (more: string) => `Twice the width and height: ${more} more.`,
  twiceFrames: (more: string) => `Twice the frames: ${more} more.`,
  shot: (likely: string, low: string, high: string) => `Forecast ${likely} (${low} to ${high}).`,
} satisfies WordTable;
