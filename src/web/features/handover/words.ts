/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** What a file of a sheet is called, by its name without page and ending. */
const SHEET_NAMES: Readonly<Record<string, string>> = {
  'contact-sheet': 'Contact sheet',
  'sun-study': 'Sun study page',
  'moving-shots': 'Moving shots',
  'view-list': 'View list',
  'variant-board': 'Variant board',
};

/** Names of things and actions: one to four words. */
export const LABELS = {
  handover: 'Hand-over',
  what: 'What',
  type: 'Type',
  size: 'Size',
  files: 'Files',
  state: 'State',
  asked: 'Asked for',
  asAsked: 'as asked',
  notAskedFor: 'nothing recorded',
  movieOf: (name: string) => `${name}, movie`,
  makeMovie: 'Make movie …',
  downloadMovie: 'Download',
  making: 'being made',
  movieWaits: 'waits',
  movieStale: 'frames changed since',
  stopMovie: 'Stop',
  makeAgain: 'Make again',
  made: 'made',
  packShot: (name: string) => `Pack ${name}`,
  package: 'Package',
  name: 'Name',
  acceptedOnly: 'Accepted renders only',
  movies: 'Movies',
  renders: 'Renders',
  /** `contact-sheet.pdf` as Contact sheet. */
  sheetFile: (name: string) => SHEET_NAMES[name.replace(/(-\d+)?\.\w+$/, '')] ?? name,
  sheets: 'Sheets',
  withRenders: 'With the renders',
  contact: 'Contact sheet',
  sun: 'Sun study page',
  strips: 'Moving shots',
  views: 'View list',
  variants: 'Variant board',
  pdf: 'PDF',
  png: 'PNG',
  html: 'HTML',
  paper: 'Paper',
  columns: 'Columns',
  across: 'Landscape',
  plans: 'Set files',
  models: 'Models',
  reports: 'Reports and decisions',
  onlyChanged: 'Only what changed',
  makePackage: 'Make package',
  packages: 'Packages',
  download: 'Download ZIP',
  auditAgain: 'Audit again',
  auditPage: 'Audit page',
  delete: 'Delete',
  audit: 'Audit',
  file: 'File',
  expected: 'Expected',
  found: 'Found',
  waive: 'Waive …',
  waived: 'Waived',
  reason: 'Reason',
  cancel: 'Cancel',
  goToReview: 'Go to Review',
  deliver: 'Deliver …',
  to: 'To',
  address: 'Address',
  folder: 'Folder',
  send: 'Send',
  stop: 'Stop',
  deliveries: 'Deliveries',
  frames: (done: number, total: number) => (done < total ? `${done} of ${total}` : String(total)),
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  makeAgain: 'Makes it of the frames as they are now, with the same options and under the same name.',
  name: 'Name of the package and of its archive, up to 80 letters.',
  acceptedOnly: 'Leaves out renders that are not accepted in Review.',
  movies: 'Includes movies made of these shots, and reels that show nothing else.',
  contact: 'Every still and up to 12 frames of each moving shot, in a grid.',
  sun: 'Renders of sun studies by date and hour, with the height and bearing of the sun.',
  strips: 'Each moving shot as a strip of frames from first to last, with their timecodes.',
  views: 'The plan with every view’s cone of sight, and beside it lens, eye and target.',
  variants: 'Views down, variants across. Needs renders in at least two variants.',
  pdf: 'One file per sheet, with searchable text.',
  png: 'One image per page at 150 dpi.',
  html: 'One file per sheet that opens in any browser, renders included.',
  paper: 'Size of the pages by ISO 216, or the proportions of a screen.',
  columns: 'Renders side by side, 1 to 12.',
  across: 'Turns the pages to landscape.',
  plans: 'The set of each batch as it was rendered.',
  models: 'The models as GLB.',
  reports: 'Batch reports, the decision log and the notes.',
  onlyChanged: 'Includes only files that are new or differ from earlier packages that were ready.',
  makePackage: 'Collects the files, then reads every one of them and compares it with the plan and the client’s request. Ctrl+Enter.',
  makeMovie: 'Makes a movie of this shot: codec, rate, length, fades, a line over it.',
  auditAgain: 'Reads all files of the package again.',
  auditPage: 'The audit as a page that can be sent.',
  waive: 'Accepts this fault with a reason, so that the package is ready.',
  deliver: 'Sends the package, and goes on where it stopped if the line breaks or the server restarts.',
  kind: 'A drop-off that takes files by HTTP, or a folder of the server’s machine.',
  address: 'Where the drop-off is. To try it: easel drop-off FOLDER.',
  folder: 'The whole path of a folder on the machine of the server.',
  reason: 'Why the fault is accepted; up to 500 characters.',
  asked: 'Compared with the client’s request in Shots.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  movieShare: (percent: number) => `being made, ${percent} %`,
  facts: (files: number, packages: number) => `${files} renders · ${packages === 1 ? '1 package' : `${packages} packages`}`,
  nothing: 'Nothing of this revision is rendered yet.',
  noPackage: 'No package yet. Choose what goes in, then make one.',
  collecting: (done: number, of: number) => `collecting files, ${done} of ${of}`,
  auditing: (done: number, of: number) => `auditing, ${done} of ${of} files`,
  filesAndSize: (files: number, size: string) => `${files} files · ${size}`,
  asPlanned: (files: number, when: string) => `${files} files read at ${when}; all are as planned and as asked.`,
  faults: (open: number, files: number, when: string) => `${files} files read at ${when}; ${open === 1 ? '1 fault is' : `${open} faults are`} open.`,
  sizeNot: (sizes: string) => `${sizes} asked`,
  rateNot: (rates: string) => `${rates} fps asked`,
  reasonNeeded: 'Say why it is accepted.',
  deleted: 'The package is deleted; its files are in the trash.',
  sent: (done: string, total: string) => `${done} of ${total}`,
  columnsRange: 'Columns are 1 to 12.',
  nameNeeded: 'Give the package a name.',
} satisfies WordTable;

/** States of a run. */
export const ROW_STATE_WORDS = { redo: 'redo asked', incomplete: 'incomplete', accepted: 'accepted', done: 'done' } satisfies WordTable;
/** States of a package. */
export const PACKAGE_STATE_WORDS = { making: 'being made', faults: 'has faults', ready: 'ready', failed: 'not made' } satisfies WordTable;

/** Ways to deliver, and how a delivery went. */
export const KIND_WORDS = { dropOff: 'drop-off', folder: 'folder' } satisfies WordTable;
/** States of a delivery. */
export const DELIVERY_STATE_WORDS = { done: 'delivered', stopped: 'stopped', failed: 'failed' } satisfies WordTable;
