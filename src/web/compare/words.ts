/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** What happened, and what to do. */
export const MESSAGES = {
  renderNotLoaded: 'A render cannot be loaded. Look whether its file is still there.',
  differenceFailed: 'The difference could not be computed. Close other tabs, then choose the renders again.',
} satisfies WordTable;
