/** Notes on renders: what is asked and answered. */
import * as z from 'zod';
import { NOTE_STATES, noteShapeSchema } from '../core/review/notes.js';

const words = z.string().trim().min(1, 'Write what is to be said.').max(2000);
const author = z.string().trim().max(80).default('');

/** A note to be pinned. */
export const newNote = z.strictObject({
  shape: noteShapeSchema,
  text: words,
  author,
  /** Last frame number that it is about, of a moving shot; its own frame alone where absent. */
  to: z.int().min(0).optional(),
});
/** What changes of a note. */
export const noteChange = z.strictObject({ text: words.optional(), state: z.enum(NOTE_STATES).optional(), shape: noteShapeSchema.optional() });
/** An answer to a note. */
export const newAnswer = z.strictObject({ text: words, author });

/** A note with its answers. */
export const noteReply = z.object({
  id: z.int(),
  batch: z.int(),
  /** Of the frame that it was pinned to. */
  frame: z.int(),
  run: z.string(),
  /** Frame numbers that it is about. */
  number: z.int(),
  to: z.int(),
  revision: z.string(),
  shape: noteShapeSchema,
  text: z.string(),
  author: z.string(),
  state: z.enum(NOTE_STATES),
  /** Part that it is about; null where none is at its place. */
  part: z.string().nullable(),
  time: z.string(),
  /** Review page that it was written on, where it was. */
  via: z.string().optional(),
  answers: z.array(z.object({ id: z.int(), text: z.string(), author: z.string(), time: z.string(), via: z.string().optional() })),
});
/** What {@link noteReply} reads. */
export type NoteReply = z.infer<typeof noteReply>;

/** A note as it stands in a frame: its own, or one that it was carried to. */
export const placedNote = noteReply.extend({
  /** How it came here: it was pinned to this frame, or carried here, by its part where it has one; or it could not be, and stands where it was. */
  how: z.enum(['own', 'carried', 'lost']),
});
/** What {@link placedNote} reads. */
export type PlacedNote = z.infer<typeof placedNote>;
