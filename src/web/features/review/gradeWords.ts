/** What is said of whose grade a render has: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** What a grade is of. */
export const GRADE_SCOPE_LABELS = { set: 'The set', shot: 'This shot', view: 'This view' } satisfies WordTable;

/** Whose grade a render has. */
export const GRADE_OWNERS = {
  set: 'the grade of the set',
  shot: 'a separate grade of this shot',
  view: 'a separate grade of this view',
} satisfies WordTable;
