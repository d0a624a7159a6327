/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** What happened, and what to do. */
export const MESSAGES = {
  theServerAnsweredTry: (status: number) => `The server answered ${status}. Try again.`,
  stopped: 'Stopped.',
  coldEaselDoesNot: 'Cold Easel does not answer. Start it again; what was saved is kept.',
} satisfies WordTable;
