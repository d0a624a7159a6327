/** Where a review page has its renders from and puts its notes: a server, or the folder it lies in. */
import type { NoteReply } from '../../contract/notes.js';
import type { PageFrame, ReviewPageContent } from '../../contract/reviewPages.js';
import type { NoteShape } from '../../core/review/notes.js';

/** A note as it is written. */
export interface WrittenNote {
  shape: NoteShape;
  text: string;
  author: string;
  to?: number;
}
/** An answer as it is written. */
export interface WrittenAnswer {
  text: string;
  author: string;
}

/** The page asks for a passphrase. */
export class Locked extends Error {}

/** Where a page reads from and writes to: a server, or the file that it is. */
export interface PageSource {
  /** Rejects with Locked, or with a sentence. */
  load(): Promise<ReviewPageContent>;
  /** Rejects with a sentence where the passphrase is wrong. */
  unlock(passphrase: string): Promise<void>;
  /** Asks for notes of others from time to time; absent where there are none to come. */
  again?(): Promise<ReviewPageContent>;
  addNote(on: { batch: number; run: string; frame: PageFrame }, note: WrittenNote): Promise<NoteReply>;
  answer(to: NoteReply, answer: WrittenAnswer): Promise<NoteReply>;
  /** Notes that wait to be saved to a file; absent where they are kept by a server. */
  file?: { waiting(): number; kept: boolean; save(): string };
}
