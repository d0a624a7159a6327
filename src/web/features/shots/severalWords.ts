/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  several: 'Several batches',
  set: 'Set',
  model: 'Model',
  revision: (letter: string) => `Revision ${letter}`,
  comparedWithRevision: (letter: string) => `Compared with revision ${letter}`,
  variants: 'Variants to render',
  asPlanned: 'As planned',
  start: (set: string, model: string, variant: string) => `${set}, ${model}: ${variant}`,
  anotherModel: 'Another model',
  chooseModel: 'Choose a model',
  cancel: 'Cancel',
  startBatches: (count: string) => `Start ${count}`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  severalBatches: 'Every set of this project on every revision. Each tick is one batch; they are rendered one after another.',
  start: 'Renders this set on this model in this variant, as a batch.',
  anotherModel: 'Adds the newest revision of another project to the table.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  faultOf: (set: string, letter: string, fault: string) => `${set}, revision ${letter}. ${fault}`,
  loading: 'Loading …',
  noViews: 'No views yet',
  noShots: 'No shots yet',
  aligned: 'Aligned in every view',
  movesBy: (pixels: string) => `Moves by up to ${pixels} px`,
  scalesBy: (percent: string) => `Scale differs by up to ${percent} %`,
  cropped: (views: string) => `Leaves the frame in ${views}`,
  lost: (parts: string) => `Lacks ${parts} of the set`,
  started: (batches: string) => `${batches} started.`,
  startedBefore: (batches: string, reason: string) => `${batches} started, then: ${reason}`,
} satisfies WordTable;
