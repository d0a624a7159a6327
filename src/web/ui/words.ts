/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  choose: (label: string) => `Choose: ${label}`,
  manage: 'Manage',
  savedOf: (what: string) => `Saved: ${what}`,
  saveAs: (what: string) => `Save ${what} as`,
  save: 'Save',
  newProjectsUse: (name: string) => `New projects use ${name}`,
  useForNewProjects: 'Use for new projects',
  export: (name: string) => `Export ${name}`,
  delete: (name: string) => `Delete ${name}`,
  importPresetFile: 'Import preset file',
  presetFile: (what: string) => `Preset file: ${what}`,
  pause: 'Pause',
  playOrPause: 'Play or pause',
  previousFrame: 'Previous frame',
  nextFrame: 'Next frame',
  tenFramesBack: 'Ten frames back',
  tenFramesOn: 'Ten frames on',
  play: 'Play',
  frame: 'Frame',
  dropped: (dropped: number) => `${dropped} dropped`,
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  anExistingPresetOf: 'An existing preset of that name is replaced.',
  moveByKeyboard: 'Press Space, then the arrow keys to move it. Space drops it there; Escape leaves it where it was.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  noEffect: (reason: string) => `No effect: ${reason}.`,
  isANotA: (name: string, kind: string, what: string) => `"${name}" is a ${kind}, not a ${what}.`,
  moving: (name: string) => `Moving ${name}.`,
  atPlace: (name: string, place: number, count: number) => `${name}: place ${place} of ${count}.`,
  movedTo: (name: string, place: number, count: number) => `${name} dropped at place ${place} of ${count}.`,
  notMoved: (name: string, place: number, count: number) => `${name} stays at place ${place} of ${count}.`,
  noneSavedYet: 'None saved yet.',
  reading: 'Reading …',
} satisfies WordTable;
