/** Which notes stand on what. */
import type { NoteReply } from '../../contract/notes.js';
import type { PageFrame, PageShot } from '../../contract/reviewPages.js';

/** Notes on any frame of a shot. */
export function notesOn(shot: PageShot, notes: readonly NoteReply[]): NoteReply[] {
  const frames = new Set(shot.frames.map((f) => f.id));
  return notes.filter((n) => frames.has(n.frame));
}

/** Whether a note of the shot stands on one of its frames: a moving shot's may be about a range. */
export function isOn(note: NoteReply, frame: PageFrame, moving: boolean): boolean {
  return note.frame === frame.id || (moving && note.number <= frame.number && frame.number <= note.to);
}
