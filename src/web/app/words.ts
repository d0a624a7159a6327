/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  commands: 'Commands',
  searchCommands: 'Search commands',
  kb: (value: number) => `${value} KB`,
  mb: (value: string) => `${value} MB`,
  changeShortcuts: 'Change shortcuts',
  keyboardShortcuts: 'Keyboard shortcuts',
  shortcutOf: (name: string) => `Shortcut of ${name}`,
  pressAKey: 'press a key',
  reset: 'Reset',
  close: 'Close',
  appName: 'Cold Easel',
  frames: (done: number, total: number) => `${done} / ${total} frames`,
  goTo: (label: string) => `Go to ${label}`,
  goToProjects: 'Go to projects',
  undo: 'Undo',
  redo: 'Redo',
  nightTheme: 'Night theme',
  dayTheme: 'Day theme',
  switchSingleKeyShortcuts: (value: string) => `Switch single-key shortcuts ${value}`,
  exportAsItIs: 'Export as it is',
  allProjects: 'All projects',
  placeMenu: (label: string, name: string) => `${label}: ${name}`,
  rename: 'Rename',
  duplicate: 'Duplicate',
  delete: 'Delete',
  noneYet: 'none yet',
  frameCount: (count: number) => `${count} frames`,
  project: 'Project',
  set: 'Set',
  revision: 'Revision',
  variant: 'Variant',
  activeVariant: 'Active variant',
  asPlanned: 'As planned',
  steps: 'Steps',
  commandsCtrlK: 'Commands (Ctrl+K)',
  model: 'Model',
  stage: 'Stage',
  views: 'Views',
  shots: 'Shots',
  batch: 'Batch',
  review: 'Review',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  shortcutsOfThisStep: 'Shortcuts of this step and of the whole application. Escape cancels a change.',
  thisProjectCannotBe: 'This project cannot be opened.',
  rename: 'One to 80 characters. Escape keeps the name.',
  thisSetCannotBe: 'This set cannot be read.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  noCommandOfThat: 'No command of that name.',
  theServerDoesNot: 'The server does not answer. Your edits are kept in this window and saved when it is back. If you stopped it, start it again.',
  isAlreadyTheShortcut: (next: string, name: string) => `${next} is already the shortcut of "${name}".`,
  loading: 'Loading …',
  saving: 'Saving …',
  saved: 'Saved',
  offline: 'Offline',
  giveAName: 'Give it a name.',
  stepOutsideShell: 'A step is outside the shell.',
} satisfies WordTable;
