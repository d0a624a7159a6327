/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  author: 'Author',
  newSet: 'New set',
  newSetFromTemplate: 'New set from template',
  subject: 'Subject',
  wholeModel: 'Whole model',
  close: 'Close',
  shot: (value: number) => `Shot ${value}`,
  firstFrame: 'First frame',
  lastFrame: 'Last frame',
  duration: 'Duration',
  speed: 'Speed',
  fadeIn: 'Fade in',
  moveClipEarlier: (value: number) => `Move clip ${value} earlier`,
  moveClipLater: (value: number) => `Move clip ${value} later`,
  deleteClip: (value: number) => `Delete clip ${value}`,
  reel: 'Reel',
  reelsCount: (value: string) => `Reels${value}`,
  reels: 'Reels',
  reelName: 'Reel name',
  newReel: 'New reel',
  importEdit: 'Import edit',
  editFile: 'Edit file',
  delete: 'Delete',
  addClip: 'Add clip',
  exportOpentimelineio: 'Export OpenTimelineIO',
  exportEditList: 'Export edit list',
  setFile: 'Set file',
  exportSetFile: 'Export set file',
  exportPlanAsGlb: 'Export plan as GLB',
  exportModelAsGlb: 'Export model as GLB',
  importSetFile: 'Import set file',
  importChangedCsv: 'Import changed CSV',
  changedCsv: 'Changed CSV',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  author: 'Who plans this set, for {author} in file names.',
  viewsStageAndShots: (letter: string) => `Views, stage and shots are fitted to revision ${letter}. You can change all of it afterwards.`,
  subject: 'What the views are fitted to. Everything else is context.',
  theShotThatThis: 'The shot that this clip shows.',
  firstFrame: "First frame, by the shot's own numbers. Empty: its first.",
  lastFrame: 'Last frame. Empty: its last.',
  duration: 'Seconds that each still is shown.',
  speed: '2 plays twice as fast, 0.5 half as fast.',
  fadeIn: 'Frames by which this clip overlaps the one before it; 0 is a cut.',
  shotsJoinedIntoOne: 'Shots joined into one movie at the rate of the format sheet. Make it from a batch in step Review.',
  reel: 'The reel to edit.',
  reelName: 'Used for its file as well.',
  makesAReelFrom: 'Makes a reel from an edit of another program: OpenTimelineIO or an edit decision list.',
  readsOrderNamesAnd: 'Reads order, names and on/off from the shot list, dates and times from the sun table.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  itCouldNotBe: (value: string) => `It could not be read as glTF: ${value}`,
  itHasNeitherAn: 'It has neither an animation nor a line. Export the path as an animated camera or as a line.',
  aPathNeedsAt: 'A path needs at least two stations.',
  savedSets: 'Saved sets:',
  viewsFitted: (views: string) => `The set was saved from a subject of another size. Fitted to this one: ${views}.`,
  meantForUpTo: (metres: string) => `For subjects up to ${metres} m.`,
  meantForFrom: (metres: string) => `For subjects of ${metres} m and more.`,
  theSubjectMeasures: (metres: string) => `This one measures ${metres} m.`,
  wasNotImported: (name: string, value: string) => `"${name}" was not imported. ${value}`,
  matchesTheSetNothing: (name: string) => `"${name}" matches the set. Nothing was changed.`,
} satisfies WordTable;
