import { LABELS } from './words.js';

/** What the side of the Model step lists. */
export const LISTS = [
  ['parts', LABELS.parts],
  ['place', LABELS.position],
  ['schedule', LABELS.materialSchedule],
  ['changes', LABELS.changes],
] as const;

/** One of them. */
export type ModelList = (typeof LISTS)[number][0];
