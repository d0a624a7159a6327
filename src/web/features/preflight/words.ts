/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  preflight: 'Preflight',
  shot: 'Shot',
  wholeSet: 'Whole set',
  image: 'Image',
  movement: 'Movement',
  light: 'Light',
  section: 'Section',
  model: 'Model',
  format: 'Format',
  fault: 'Fault',
  doubt: 'Doubt',
  note: 'Note',
  faults: 'Faults',
  doubts: 'Doubts',
  notes: 'Notes',
  findings: 'Findings',
  findingsByShot: 'Findings by shot',
  show: 'Show',
  waived: 'Waived',
  waivers: 'Waivers',
  ended: 'Ended',
  nextFinding: 'Next finding',
  applyFixes: (count: number) => `Apply ${count} ${count === 1 ? 'fix' : 'fixes'}`,
  cancel: 'Cancel',
  ctrlEnter: 'Ctrl Enter',
  waive: 'Waive',
  waiveFinding: 'Waive this finding',
  reason: 'Reason',
  waiveFor: 'Waive for',
  thisFrame: (number: number) => `Frame ${number}`,
  thisShot: 'This shot',
  withdraw: 'Withdraw waiver',
  frameOf: (number: number, last: number) => `frame ${number} of ${last}`,
  framePreview: (shot: string, number: number) => `${shot}, frame ${number}`,
  previousFrame: 'Previous frame',
  nextFrame: 'Next frame',
  firstFrames: 'First frames',
  firstFramesPerShot: 'First frames per shot',
  holdAfterFirst: 'Hold after first frames',
  cell: (findings: string, shot: string, area: string) => `${shot}, ${area}: ${findings}`,
  goToShots: 'Plan shots',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  clickPicture: 'Click to see what a pixel shows and what lights it.',
  firstFramesPerShot: 'Frames of each moving shot that a batch renders before the rest and checks; of a still every view. 0 to 100.',
  holdAfterFirst: 'The batch waits until it is resumed once its first frames are done. Otherwise it goes on if they are as planned.',
  reason: 'Why this is accepted. It is kept in the set file and in the list of waivers. Up to 300 characters.',
  waiveFor: 'What the waiver covers. It ends when what it is about changes.',
  nothingToCheck: 'There is nothing to check yet.',
  addShotsFirst: 'Import a model and add a shot. Every frame is then checked before it renders.',
  noFindings: 'No findings. All frames are as planned.',
  appliesFixes: 'Applies the fix of each open fault and doubt. Each can be undone.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  checked: (frames: string, seconds: string) => `${frames} checked in ${seconds} s`,
  counts: (faults: string, doubts: string, waived: number) => `${faults} · ${doubts}${waived > 0 ? ` · ${waived} waived` : ''}`,
  checking: 'Checking …',
  checkingFrames: (done: number, total: number) => `Checking frame ${done} of ${total} …`,
  fixApplied: (label: string) => `${label}: applied.`,
  firstFramesRange: 'Write a whole number from 0 to 100.',
  waiverOf: (title: string, scope: string) => `${title}, ${scope}`,
} satisfies WordTable;
