/** Review pages: what people without an account look at and write notes on, by an address or from a folder. */
import * as z from 'zod';
import { noteShapeSchema } from '../core/review/notes.js';
import { newAnswer, newNote, noteReply } from './notes.js';

/** Renders that one page shows at most. */
export const MAX_SHOWN = 500;
/** Days from today on which a page ends at the latest. */
export const MAX_PAGE_DAYS = 366;

/** A render to be shown: a run of a batch, of a still one frame of it, and what tells it from others of its shot. */
export const shownRender = z.strictObject({
  batch: z.int().positive(),
  run: z.string().min(1).max(200),
  frame: z.int().positive().optional(),
  label: z.string().max(200).default(''),
});
/** What {@link shownRender} reads. */
export type ShownRender = z.infer<typeof shownRender>;

const pageName = z.string().trim().min(1, 'Give the page a name.').max(80, 'A name has at most 80 letters.');
const shown = z.array(shownRender).min(1, 'Choose at least one render.').max(MAX_SHOWN, `A page shows at most ${MAX_SHOWN} renders.`);

/** A review page to be made. */
export const newReviewPage = z.strictObject({
  name: pageName,
  shown,
  /** Last day on which it can be opened, by UTC. */
  ends: z.iso.date('Write the last day as YYYY-MM-DD.'),
  passphrase: z.string().min(8, 'A passphrase has at least 8 characters.').max(200).optional(),
});
/** The same as a folder that opens from disk. */
export const newReviewFolder = z.strictObject({ name: pageName, shown });

/** A review page, as its owner sees it. */
export const reviewPageReply = z.object({
  id: z.int(),
  name: z.string(),
  /** Path below the address of the server. */
  path: z.string(),
  renders: z.int(),
  ends: z.string(),
  /** Whether it can still be opened. */
  open: z.boolean(),
  passphrase: z.boolean(),
  created: z.string(),
  /** How often it was opened, and when last. */
  opened: z.int(),
  lastOpened: z.string().nullable(),
});
/** What {@link reviewPageReply} reads. */
export type ReviewPageReply = z.infer<typeof reviewPageReply>;

const pageFrame = z.object({
  id: z.int(),
  number: z.int(),
  identity: z.string(),
  /** Addresses of the render, up to 1 920 pixels across, and of a small one. */
  picture: z.string(),
  small: z.string(),
});
/** What {@link pageFrame} reads. */
export type PageFrame = z.infer<typeof pageFrame>;

const pageShot = z.object({
  key: z.string(),
  batch: z.int(),
  run: z.string(),
  name: z.string(),
  /** Revision, variant and batch. */
  label: z.string(),
  moving: z.boolean(),
  /** Frames a second of a moving shot. */
  rate: z.number(),
  frames: z.array(pageFrame).min(1),
});
/** What {@link pageShot} reads. */
export type PageShot = z.infer<typeof pageShot>;

/** What a review page shows. */
export const reviewPageContent = z.object({
  name: z.string(),
  project: z.string(),
  set: z.string(),
  /** Last day, where it ends. */
  ends: z.string().nullable(),
  /** When it was made, ISO 8601. */
  made: z.string(),
  shots: z.array(pageShot),
  notes: z.array(noteReply),
});
/** What {@link reviewPageContent} reads. */
export type ReviewPageContent = z.infer<typeof reviewPageContent>;

/** Notes on a page carry the name of who wrote them. */
const named = { author: z.string().trim().min(1, 'Write your name, so that others know who says it.').max(80) };
/** A note of whoever holds the page's address. */
export const newPageNote = newNote.extend(named);
/** An answer of whoever holds the page's address. */
export const newPageAnswer = newAnswer.extend(named);
/** A passphrase that is offered. */
export const pagePassphrase = z.strictObject({ passphrase: z.string().min(1).max(200) });

/** What a file of notes calls itself. */
export const NOTES_FORMAT = 'cold-easel-notes';
/** A name of one note in one file: it comes in once, however often the file does. */
const noteKey = z.string().regex(/^[\w-]{8,64}$/, 'is no key of a note');

/** Notes that were written on a page from disk, as a file. */
export const writtenNotes = z.object({
  format: z.literal(NOTES_FORMAT, 'This is no file of notes from a review folder.'),
  version: z.literal(1, 'These notes are of a later version of Cold Easel.'),
  page: z.string().max(80),
  notes: z
    .array(
      newPageNote.extend({
        key: noteKey,
        /** Of the frame, and its id where the notes go back to where they came from. */
        identity: z.string().max(128),
        frame: z.int(),
        time: z.iso.datetime(),
        shape: noteShapeSchema,
      }),
    )
    .max(5000),
  /** Answers, by the id or the key of the note that they are to. */
  answers: z.array(newPageAnswer.extend({ key: noteKey, to: z.union([z.int(), noteKey]), time: z.iso.datetime() })).max(5000),
});
/** What {@link writtenNotes} reads. */
export type WrittenNotes = z.infer<typeof writtenNotes>;

/** What became of such a file: how many came in, were there before, and found nothing that they belong to. */
export const importedNotes = z.object({ added: z.int(), known: z.int(), lost: z.int() });
/** What {@link importedNotes} reads. */
export type ImportedNotes = z.infer<typeof importedNotes>;
