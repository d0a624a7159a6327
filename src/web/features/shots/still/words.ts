/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  times: 'Times',
  delete: (date: string, time: string) => `Delete ${date} ${time}`,
  addTime: 'Add time',
  views: 'Views',
  byVariants: (length: number) => ` × ${length} variants`,
  byTimes: (length: number) => ` × ${length} times`,
  bySizes: (sizes: number) => ` × ${sizes} sizes`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  chosenView: 'Renders this view in the shot.',
  addTime: 'Local date and time of the site, as 2026-06-21 09:30. Each view is rendered once per time.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  writeItAs2026: 'Write it as 2026-06-21 09:30.',
  renders: (count: string, value: string, value2: string, value3: string, value4: number) => `${count}${value}${value2}${value3} = ${value4} renders`,
} satisfies WordTable;
