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
  reels: 'Reels',
  decision: 'Decision',
  accept: 'Accept',
  acceptRender: 'Accept this render',
  accepted: 'Accepted',
  redo: 'Ask for redo',
  redoAsked: 'Redo asked',
  files: 'Files',
  shot: 'Shot',
  wall: 'Results by shot',
  columns: 'Columns',
  filter: 'Filter',
  all: 'all',
  cellSize: 'Cell size',
  revisionColumn: (letter: string) => `Revision ${letter}`,
  revisionShort: (letter: string) => `rev ${letter}`,
  batchColumn: (number: number) => `Batch ${number}`,
  batchShort: (number: number) => `batch ${number}`,
  setsOwn: 'as set',
  framesOf: (frames: number) => `${frames} frames`,
  notPlanned: 'no longer planned',
  mount: 'Render',
  mountOf: (letter: string) => `Render ${letter}`,
  compareBy: 'Compare by',
  wipePlace: 'Place of the wipe',
  wipeAcross: 'Across',
  wipeUpright: 'Up and down',
  blinkRate: 'Rate',
  perSecond: (rate: number) => `${rate} per s`,
  overlayShare: 'Share',
  threshold: 'Threshold',
  areas: (count: number) => (count === 1 ? '1 area' : `${count} areas`),
  areaOf: (place: number, count: number) => `${place} / ${count}`,
  previousArea: 'Previous change',
  nextArea: 'Next change',
  differenceMap: 'Difference map',
  fit: 'Fit',
  actualPixels: 'Actual pixels',
  swap: 'Swap A and B',
  removeFromEasel: (letter: string) => `Remove ${letter}`,
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
  movieBackdrop: 'Colour behind the subject in the movie, which cannot be clear, as #rrggbb. The stills stay clear.',
  files: 'Copies or downloads this render, or all of the shot.',
  columns: 'What the columns of the wall are.',
  filter: 'Shows only shots that have a render in this state.',
  cellSize: 'Width of the renders on the wall.',
  wallCell: 'Click to show it; Ctrl and click, or C, to compare with it.',
  wipe: 'Drag the line, or move it by the arrow keys.',
  turnWipe: 'Turns the line of the wipe.',
  blinkRate: 'Changes per second; up to 3, since faster flashes can harm.',
  overlayShare: 'Share of the second render, 0 to 100 %.',
  threshold: 'CIEDE2000 above which a pixel counts as changed, beyond noise; 0.5 to 20, about 1 is just noticeable.',
  previousArea: 'Goes to the changed area before this one.',
  nextArea: 'Goes to the next changed area, the largest first. Key N.',
  actualPixels: 'One pixel of the render for one of the screen; the wheel zooms. Key Z, and F fits.',
  removeLast: 'Takes the last render off the easel.',
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
  reviewFacts: (done: number, accepted: number, redo: number) => `${done} renders · ${accepted} accepted · ${redo} to redo`,
  cell: (state: string, grounds: string, done: number, total: number, moving: boolean) =>
    `${state}${grounds ? `: ${grounds}` : ''}${moving && done < total ? ` ${done} / ${total}` : ''}`,
  cellLabel: (place: string, state: string, letter: string) => `${place}: ${state}${letter ? `, ${letter} on the easel` : ''}`,
  easelIsFull: (most: number) => `${most} renders are compared at once; remove one first.`,
  differenceFigures: (changed: string, ssim: string, largest: string) => `changed ${changed} % · SSIM ${ssim} · largest ΔE ${largest}`,
  comparing: 'Comparing …',
  comparedAt: (width: number, height: number) => `Compared at ${width} × ${height}, since the sizes differ.`,
  shareRange: 'The share is 0 to 100 %.',
  thresholdRange: 'The threshold is 0.5 to 20.',
} satisfies WordTable;

/** What columns of the wall can be. */
export const COLUMN_WORDS = { revision: 'revisions', variant: 'variants', batch: 'batches', date: 'dates', size: 'sizes' } satisfies WordTable;

/** Sizes of cells. */
export const SIZE_WORDS = { small: 'small', medium: 'medium', large: 'large', largest: 'largest' } satisfies WordTable;

/** What is said of a cell. */
export const STATE_WORDS = {
  redo: 'redo asked',
  stale: 'stale',
  draft: 'draft',
  partial: 'incomplete',
  done: 'done',
  accepted: 'accepted',
  planned: 'planned',
  none: 'none',
} satisfies WordTable;

/** How renders are compared. */
export const MODE_WORDS = {
  one: 'First',
  side: 'Side by side',
  wipe: 'Wipe',
  blink: 'Blink',
  overlay: 'Overlay',
  difference: 'Difference',
} satisfies WordTable;
