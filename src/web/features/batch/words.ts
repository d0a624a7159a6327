/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  openInReview: 'Open in Review',
  copyFileName: 'Copy file name',
  batch: 'Batch',
  planShots: 'Plan shots',
  batchNumber: (number: number) => `Batch ${number}`,
  pause: 'Pause',
  resume: 'Resume',
  approve: 'Approve and continue',
  stopAndChange: 'Stop and change',
  stop: 'Stop',
  review: 'Review',
  done: 'Done',
  state: 'State',
  elapsed: 'Elapsed',
  remaining: 'Remaining',
  measuring: 'measuring',
  fromTo: (low: string, high: string) => `${low}–${high}`,
  finishedAt: 'Finished at',
  lastFrame: 'Last frame',
  failed: 'Failed',
  failedFrames: (numbers: string) => `Failed, frame ${numbers}:`,
  finishedFrameHas: 'finished frame has',
  finishedFramesHave: 'finished frames have',
  renderDamagedFrames: 'Render damaged frames',
  frame: (shotName: string, number: number) => `${shotName}, frame ${number}`,
  frameOfShot: (shot: string, number: number) => `${shot}, frame ${number}`,
  finishNow: 'Finish now',
  workers: 'Workers',
  workerIdleTime: 'Worker idle time',
  folder: 'Folder',
  checkFiles: 'Check files',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  approve: 'Renders the rest: the first frames are as wanted.',
  stopAndChange: 'Stops this batch and opens its shots. Finished frames are kept; start a new batch after the change.',
  nothingHasBeenRendered: 'Nothing has been rendered yet.',
  endsTheSamplingOf: 'Ends the sampling of this still and writes its files. Sampling can continue later.',
  shareOfTheTime: 'Share of the time in which a worker neither traced nor denoised.',
  batch: 'Each batch writes into its own folder.',
  readsEveryFinishedFile: 'Reads every finished file and compares it with its checksum.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  noReasonGiven: 'No reason was recorded. Look into the server log.',
  frame: (number: number, state: string, value: string, value2: string) => `Frame ${number}, ${state}${value}${value2}`,
  secondsPerFrameIn: 'Seconds per frame, in batch order',
  secondsMeasured: 'Seconds per frame, in batch order; dashed: forecast',
  allFilesAreIntact: (files: number) => `${files} files checked: all intact.`,
  ofFilesAreMissing: (files: number, missing: number, changed: number) => `${files} files checked: ${missing} missing, ${changed} changed.`,
  revisionByStarted: (name: string, revision: string, quality: string, samples: number, width: number, height: number, created: string) =>
    `${name} · revision ${revision} · ${quality} ${samples} · ${width} × ${height} · started ${created}`,
  lostAFileOr: (count: string) => `${count} lost a file, or one was changed since it was written.`,
  startedWith: (faults: string) => `Started with ${faults}, accepted before the run.`,
  loading: 'Loading …',
} satisfies WordTable;
