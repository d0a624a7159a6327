/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  startBatch: 'Start batch',
  checking: 'Checking …',
  startHeading: 'Start with open faults?',
  startAnyway: 'Start anyway',
  showFindings: 'Show findings',
  cancel: 'Cancel',
  startDraft: 'Start draft',
  startOptions: 'Start options',
  draft: 'Draft',
  draftSize: 'Size, %',
  draftSamples: 'Samples, %',
  spread: 'Every n-th frame first',
  anew: 'Render everything again',
  missing: 'Missing',
  failed: 'Failed',
  stale: 'Stale',
  notAccepted: 'Not accepted',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  startOptions: 'Draft, order of the frames, priority and start time of the next batch.',
  draft: 'Renders the same plan smaller and with fewer samples. Drafts are marked and never mixed with finals.',
  draftSize: 'Share of the width and the height, 5 to 100 %. Half the size costs a quarter.',
  draftSamples: 'Share of the samples, 5 to 100 %. Half of them cost half.',
  spread: 'Renders every n-th frame of each moving shot first, then those between. 1 keeps the order of the plan.',
  anew: 'Renders every frame, also where an equal render can be reused.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  shareRange: 'Give 5 to 100 %.',
  spreadRange: 'Give a whole number, 1 to 1000.',
  allRendered: (frames: string) => `${frames} to render.`,
  /** Of frames that need not be rendered, 0 for none. */
  someThere: (frames: string, developed: number, takenOver: number) =>
    `${[`${frames} to render`, ...(developed > 0 ? [`${developed} developed from masters`] : []), ...(takenOver > 0 ? [`${takenOver} reused`] : [])].join(', ')}.`,
  stale: (frames: string, grounds: string) => `${frames} stale: ${grounds}.`,
  staleUnknown: (frames: string) => `${frames} stale: rendered by an earlier version.`,
  startWith: (faults: string) => `The set has ${faults}. If you start anyway, that is kept with the batch.`,
  notChecked: (why: string) => `The set could not be checked: ${why}`,
  fault: (shot: string, message: string) => `${shot}: ${message}`,
} satisfies WordTable;
