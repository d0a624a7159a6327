/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of actions. */
export const STATE_LABELS = {
  undo: 'Undo',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  theServerAnsweredTry: (status: number) => `The server answered ${status}. Try again.`,
  stopped: 'Stopped.',
  revision: (letter: string) => `Revision ${letter}`,
  deleted: (name: string) => `“${name}” was deleted.`,
  copyOf: (name: string) => `${name} copy`,
  setOfAnotherProject: 'This set belongs to another project.',
  noSuchSet: 'There is no set of that number.',
  fieldNotTaken: (label: string, problem: string) => `${label}: ${problem} Correct it first.`,
  changedElsewhere: 'This set was changed elsewhere too. Both changes are kept.',
  restored: 'A change that had not been saved was restored.',
  coldEaselDoesNot: 'Cold Easel does not answer. Start it again; what was saved is kept.',
} satisfies WordTable;
