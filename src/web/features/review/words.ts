/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  copyRender: 'Copy render',
  openInNewTab: 'Open in new tab',
  planThisShot: 'Go to this shot',
  parts: (name: string, length: number) => `${name} · ${length} parts`,
  downloadReel: 'Download reel',
  makeReel: 'Make reel',
  h264Bt709: (bytes: string) => `${bytes}, H.264, BT.709`,
  downloadMovie: 'Download movie',
  renderTime: 'render time',
  frame: (shotName: string, number: number) => `${shotName}, frame ${number}`,
  continueSampling: 'Continue sampling',
  loading: (loaded: number, length: number) => `loading ${loaded} / ${length}`,
  copy: 'Copy',
  thisFile: 'This file',
  allAsZip: (length: number) => `All ${length} as ZIP`,
  datesByHours: 'Dates × hours',
  moviePerDate: 'Movie per date',
  makeMovie: 'Make movie',
  movieBackdrop: 'Movie backdrop',
  review: 'Review',
  goToBatch: 'Go to batch',
  planShots: 'Plan shots',
  batch: 'Batch',
  revision: (number: number, name: string, revision: string) => `${number} ${name}, revision ${revision}`,
  reels: 'Reels',
  decision: 'Decision',
  accept: 'Accept',
  acceptRender: 'Accept this render',
  accepted: 'Accepted',
  redo: 'Ask for redo',
  redoAsked: 'Redo asked',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  clickPicture: 'Click to see what a pixel shows and what lights it.',
  copy: 'Copies this render to the clipboard, as PNG.',
  continuesFromWhereSampling: 'Continues from where sampling stopped; this render is replaced when it is done.',
  datesDownAndHours: 'Dates down and hours across, in one file that any browser opens.',
  noRenderIsFinished: 'No render is finished yet.',
  accept: 'Accepts this render: the choice “not accepted” leaves it out of the next batch. Key A.',
  redo: 'Marks this render to be done again. Key D.',
  batch: 'The batch whose renders are shown.',
  movieBackdrop: 'Colour behind the subject in the movie, which cannot be clear, as #rrggbb. The stills stay clear.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  copied: (name: string) => `${name} is on the clipboard.`,
  writeAColour: 'Write a colour as #rrggbb.',
  makingTheReel: 'Making the reel …',
  notMadeFromThis: 'Not made from this batch yet.',
  makingTheMovie: 'Making the movie …',
  continuesFromSamples: (name: string, samples: number) => `${name} continues from ${samples} samples.`,
  endedByBeforeIts: (ended: string, samples: number) => `, ended by ${ended} before its ${samples} samples`,
  samplesS: (samples: number, value: string, value2: string) => `${samples} samples · ${value} s${value2}`,
  batchRevisionOfRenders: (number: number, revision: string, done: number, total: number) =>
    `batch ${number} · revision ${revision} · ${done} of ${total} renders`,
} satisfies WordTable;
