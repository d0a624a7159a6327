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
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  startWith: (faults: string) => `The set has ${faults}. If you start anyway, that is kept with the batch.`,
  notChecked: (why: string) => `The set could not be checked: ${why}`,
  fault: (shot: string, message: string) => `${shot}: ${message}`,
} satisfies WordTable;
