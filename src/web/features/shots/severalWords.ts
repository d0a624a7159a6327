/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  several: 'Several batches',
  severalBatches: 'Sets on models',
  set: 'Set',
  model: 'Model',
  revision: (letter: string) => `Revision ${letter}`,
  besideRevision: (letter: string) => `Beside revision ${letter}`,
  variants: 'Variants to render',
  asSet: 'As set',
  start: (set: string, model: string, variant: string) => `${set}, ${model}: ${variant}`,
  furtherModel: 'Further model',
  chooseModel: 'Choose a model',
  cancel: 'Cancel',
  startBatches: (count: string) => `Start ${count}`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  severalBatches: 'Every set of this project on every revision. Each tick is one batch; they are rendered one after another.',
  start: 'Renders this set on this model in this variant, as a batch.',
  furtherModel: 'Adds the newest revision of another project to the table.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  loading: 'Loading …',
  noViews: 'No views yet',
  noShots: 'No shots yet',
  aligned: 'Aligned in every view',
  movesBy: (pixels: string) => `Moves by up to ${pixels} px`,
  scalesBy: (percent: string) => `Scale differs by up to ${percent} %`,
  cropped: (views: string) => `Leaves the frame in ${views}`,
  lost: (parts: string) => `${parts} of the set not there`,
  started: (batches: string) => `${batches} started.`,
  startedBefore: (batches: string, reason: string) => `${batches} started, then: ${reason}`,
} satisfies WordTable;
