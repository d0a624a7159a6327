/** What is said of review pages and of what leaves Review: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  share: 'Share',
  reviewPages: 'Review pages',
  reviewPagesMore: 'Review pages …',
  decisionLog: 'Decision log, CSV',
  printWall: 'Print wall …',
  pageName: 'Name',
  shown: 'Renders shown',
  lastDay: 'Last day',
  passphrase: 'Passphrase',
  makePage: 'Make page',
  saveFolder: 'Save as folder',
  importNotes: 'Import notes …',
  renders: 'Renders',
  timesOpened: 'Times opened',
  actions: 'Actions',
  copyAddress: 'Copy address',
  revoke: 'Revoke',
  revokeForGood: 'Revoke for good',
  over: 'over',
  withPassphrase: 'with passphrase',
  close: 'Close',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  pageName: 'Title of the page, up to 80 letters.',
  shown: 'The render of each cell of the wall as it is filtered, or what is on the easel.',
  lastDay: 'Day on which the page opens for the last time, as YYYY-MM-DD, up to a year ahead.',
  passphrase: 'Asked before the page opens, at least 8 characters; empty asks for none.',
  saveFolder: 'Saves the page as a ZIP archive: unpacked, it opens from disk without a server.',
  importNotes: 'Imports notes that were written in a folder. Each note is added once, even if its file is imported twice.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  whatPagesAre:
    'Whoever has the address of a page sees its renders and writes notes on them, and nothing else of this server. It can be revoked at any time.',
  nameNeeded: 'Give the page a name.',
  dayNeeded: 'Write a day as YYYY-MM-DD.',
  passphraseShort: 'A passphrase has at least 8 characters.',
  working: 'Working …',
  addressCopied: 'The address is on the clipboard.',
  folderSaved: 'The folder is saved. Unpack it and open index.html.',
  onlyHere:
    'Only this machine can open these addresses, since the server listens to it alone. Save a folder for others, or see “Reaching it from elsewhere” in the README.',
  openedAsLocalhost: 'Open Cold Easel by its address in the network first: addresses copied here begin with localhost, which others cannot reach.',
  noJson: (file: string) => `${file} is no file of notes.`,
  imported: (added: number, known: number, lost: number) =>
    [
      `${added === 1 ? '1 note was' : `${added} notes were`} added.`,
      ...(known > 0 ? [`${known} were there already.`] : []),
      ...(lost > 0 ? [`${lost} belong to no render of this set.`] : []),
    ].join(' '),
} satisfies WordTable;

/** What a page shows. */
export const SHOWN_WORDS = { wall: 'Wall', easel: 'Easel' } satisfies WordTable;
