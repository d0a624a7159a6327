/** What is said on a review page: read as a whole by `npm run words`. */
import type { WordTable } from '../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  renders: 'Renders',
  back: 'All renders',
  previous: 'Previous',
  next: 'Next',
  passphrase: 'Passphrase',
  open: 'Open',
  yourName: 'Your name',
  notes: 'Notes',
  writeNote: 'Write a note',
  cancel: 'Cancel',
  send: 'Send',
  note: 'Note',
  answer: 'Answer',
  toLastFrame: 'To the last frame',
  saveNotes: 'Save notes',
  frame: 'Frame',
  play: 'Play',
  pause: 'Pause',
  render: 'Render',
  noteCount: (count: number) => (count === 1 ? '1 note' : `${count} notes`),
  frameCount: (count: number) => (count === 1 ? '1 render' : `${count} frames`),
  place: (at: number, of: number) => `${at} / ${of}`,
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  loading: 'Loading …',
  until: (day: string) => `Open until ${day}.`,
  madeOn: (day: string) => `As it stood on ${day}.`,
  locked: 'This page asks for a passphrase. It was agreed on with whoever sent you the address.',
  noServer: 'The page cannot reach its server. Check the connection, then try again.',
  refused: (status: number) => `The server answered ${status}. Try again in a moment.`,
  tapForNote: 'Tap the render where the note belongs.',
  dragForNote: 'Drag over what the note is about.',
  nameFirst: 'Write your name first, so that others know who says it.',
  noNotes: 'No note on this render yet.',
  unsaved: (count: number) =>
    `${count === 1 ? '1 note is' : `${count} notes are`} only in this browser. Save them, and send the file to whoever sent you this folder.`,
  saved: (file: string) => `${file} is saved. Send it to whoever sent you this folder.`,
  notKept: 'This browser keeps nothing of this page: save your notes before you close it.',
  frames: (from: number, to: number) => (from === to ? `frame ${from}` : `frames ${from} to ${to}`),
} satisfies WordTable;
