/** A review page that lies in a folder: what is written there is kept by the browser, and saved as a file. */
import type { NoteReply } from '../../contract/notes.js';
import type { ReviewPageContent, WrittenNotes } from '../../contract/reviewPages.js';
import { saveText } from '../ui/saveText.js';
import type { PageSource } from './source.js';

/** Notes and answers with what the page shows of them beside it. */
interface Kept {
  notes: (WrittenNotes['notes'][number] & { shown: NoteReply })[];
  answers: (WrittenNotes['answers'][number] & { note: number })[];
  /** How many of both were saved. */
  saved: number;
}

function newKey(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0')).join('');
}

/** @param content what the folder holds. */
export function diskSource(content: ReviewPageContent): PageSource {
  const place = `review ${content.made} ${content.name}`;
  let keeps = true;
  const read = (): Kept => {
    try {
      return { notes: [], answers: [], saved: 0, ...(JSON.parse(localStorage.getItem(place) ?? '{}') as Partial<Kept>) };
    } catch {
      keeps = false;
      return { notes: [], answers: [], saved: 0 };
    }
  };
  const kept = read();
  const keep = (): void => {
    try {
      localStorage.setItem(place, JSON.stringify(kept));
    } catch {
      // It holds until the page is closed; the page says so.
      keeps = false;
    }
  };
  /** A note with the answers that were written here. */
  const shown = (note: NoteReply): NoteReply => ({
    ...note,
    answers: [
      ...note.answers,
      ...kept.answers.filter((a) => a.note === note.id).map(({ text, author, time }, i) => ({ id: -1 - i, text, author, time })),
    ],
  });
  const now = (): string => new Date().toISOString();
  return {
    load: () => Promise.resolve({ ...content, notes: [...content.notes, ...kept.notes.map((n) => n.shown)].map(shown) }),
    unlock: () => Promise.resolve(),
    addNote: ({ batch, run, frame: { id, number, identity } }, { to, ...note }) => {
      const time = now();
      const made: NoteReply = {
        id: -1 - kept.notes.length,
        batch,
        run,
        frame: id,
        number,
        to: to ?? number,
        revision: '',
        ...note,
        state: 'open',
        part: null,
        time,
        answers: [],
      };
      kept.notes.push({ key: newKey(), identity, frame: id, time, ...note, ...(to !== undefined && { to }), shown: made });
      keep();
      return Promise.resolve(made);
    },
    answer: (to, { text, author }) => {
      const own = kept.notes[-1 - to.id];
      kept.answers.push({ key: newKey(), to: to.id < 0 && own ? own.key : to.id, text, author, time: now(), note: to.id });
      keep();
      const note = own?.shown ?? content.notes.find((n) => n.id === to.id) ?? to;
      return Promise.resolve(shown(note));
    },
    file: {
      waiting: () => kept.notes.length + kept.answers.length - kept.saved,
      get kept() {
        return keeps;
      },
      save: () => {
        const file: WrittenNotes = {
          format: 'cold-easel-notes',
          version: 1,
          page: content.name,
          notes: kept.notes.map(({ shown: _shown, ...n }) => n),
          answers: kept.answers.map(({ note: _note, ...a }) => a),
        };
        const name = `${content.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}-notes.json`;
        saveText(name, JSON.stringify(file, null, 2));
        kept.saved = kept.notes.length + kept.answers.length;
        keep();
        return name;
      },
    },
  };
}
