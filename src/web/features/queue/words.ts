/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  queue: 'Queue',
  history: 'History',
  projects: 'Projects',
  startBatches: 'Start batches',
  startCount: (count: string) => `Start ${count}`,
  cancel: 'Cancel',
  drag: (number: number) => `Move batch ${number}`,
  priority: 'Priority',
  ahead: 'Ahead of others',
  inTurn: 'In turn',
  last: 'After all others',
  startAt: 'Start at',
  atOnce: 'at once',
  startAtOnce: 'Start at: at once',
  pause: 'Pause',
  resume: 'Resume',
  stop: 'Stop',
  retry: 'Try failed again',
  planAgain: 'Plan as then',
  renderAgain: 'Render again',
  report: 'Report',
  differences: 'Differences from today',
  delete: 'Delete',
  restore: 'Restore',
  actions: (number: number) => `Actions of batch ${number}`,
  restoreOne: (number: number) => `Restore batch ${number}`,
  openBatch: (number: number) => `Batch ${number}`,
  revision: 'Revision',
  choose: (set: string) => `Start ${set}`,
  deletedBatches: (count: number) => `Deleted batches (${count})`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  priority: 'Batches of a higher level come first; a running one lets them pass and goes on later.',
  startAt: 'The batch waits until this time. Clear it to start in turn.',
  queueIsEmpty: 'Nothing waits.',
  noHistory: 'No batch is over yet.',
  startBatches: 'Choose sets of any project. Each choice becomes a batch with its own frozen plan.',
  planAgain: 'Makes a new set of the plan as this batch had it.',
  renderAgain: 'Renders all frames of the same plan again.',
  choose: 'Starts a batch of this set.',
  revision: 'Revision of the model that is rendered.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  revisionOf: (project: string, revision: string) => `${project}, revision ${revision}`,
  framesOf: (done: number, total: number) => `${done} of ${total}`,
  takenOver: (count: number) => `${count} reused`,
  developed: (count: number) => `${count} developed`,
  masters: (used: string, budget: string, accepted: string) =>
    `Masters for developing again: ${used} of ${budget}${accepted === '' ? '' : `, ${accepted} of them of accepted renders, which stay`}. The longest unused go first.`,
  noMasters: 'No masters are kept (COLD_EASEL_MASTERS_GB is 0): every change of grade or file type renders again.',
  failed: (count: number) => `${count} failed`,
  sizeAndQuality: (width: number, height: number, quality: string, samples: number) => `${width} × ${height}, ${quality} ${samples}`,
  toGo: (time: string) => `${time} to go`,
  doneAt: (facts: string, hour: string) => `${facts}, done ${hour}`,
  started: (count: string) => `${count} queued.`,
  startedBefore: (count: string, problem: string) => `${count} queued, then: ${problem}`,
  badTime: 'Write a date and a time that is to come.',
  deleteAsk: (number: number) => `Delete batch ${number}?`,
  deleteContents: (frames: string, files: string, movies: string, size: string) => `${frames}, ${files} and ${movies}, ${size} in all.`,
  deleteAccepted: (accepted: string) => `${accepted} of them was accepted in Review.`,
  deleteAcceptedSome: (accepted: string) => `${accepted} of them were accepted in Review.`,
  deleteDays: (days: number) => `It can be restored for ${days} days; then its files go to the trash.`,
  deletedName: (number: number) => `Batch ${number}`,
  planned: (name: string) => `The plan is now the set "${name}".`,
  noDifference: 'The set is today as it was then.',
  loading: 'Loading …',
} satisfies WordTable;
