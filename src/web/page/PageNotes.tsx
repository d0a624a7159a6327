/** Notes of a shot: read, written and answered. */
import { type FormEvent, type ReactNode, useState } from 'react';
import type { NoteReply } from '../../contract/notes.js';
import type { PageFrame, PageShot } from '../../contract/reviewPages.js';
import { NOTE_SHAPES } from '../../core/review/notePlace.js';
import type { NoteShape } from '../../core/review/notes.js';
import type { NoteKind } from '../features/review/NoteMarks.js';
import { SHAPE_WORDS } from '../features/review/words.js';
import { PageButton } from './PageButton.js';
import type { PageSource } from './source.js';
import { useReviewerName } from './useReviewerName.js';
import { LABELS, MESSAGES } from './words.js';

const FIELD = 'w-full border-b border-graphite bg-transparent text-base';

/** Words to write; a name must be there. */
function WordsForm({ label, name, send }: { label: string; name: string; send: (text: string) => Promise<void> }): ReactNode {
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const submit = (e: FormEvent): void => {
    e.preventDefault();
    if (name.trim() === '') {
      setProblem(MESSAGES.nameFirst);
      return;
    }
    setBusy(true);
    send(text.trim())
      .then(
        () => {
          setText('');
          setProblem('');
        },
        (why: Error) => setProblem(why.message),
      )
      .finally(() => setBusy(false));
  };
  return (
    <form onSubmit={submit} className="flex flex-col gap-2">
      <textarea
        aria-label={label}
        placeholder={label}
        rows={2}
        maxLength={2000}
        value={text}
        onChange={(e) => setText(e.target.value)}
        className={FIELD}
      />
      {problem && (
        <p role="alert" className="text-sm">
          {problem}
        </p>
      )}
      <PageButton type="submit" primary disabled={busy || text.trim() === ''}>
        {LABELS.send}
      </PageButton>
    </form>
  );
}

interface Props {
  shot: PageShot;
  frame: PageFrame;
  notes: readonly NoteReply[];
  /** Those of the frame that is shown, in the order of their numbers over it. */
  here: readonly NoteReply[];
  source: PageSource;
  chosen: number | null;
  onChoose: (id: number) => void;
  kind: NoteKind | null;
  onKind: (kind: NoteKind | null) => void;
  drawn: NoteShape | null;
  onDrawn: (shape: NoteShape | null) => void;
  onChanged: () => Promise<void>;
}

function NoteItem({
  note,
  mark,
  moving,
  open,
  onOpen,
  children,
}: {
  note: NoteReply;
  mark: number;
  moving: boolean;
  open: boolean;
  onOpen: () => void;
  children: ReactNode;
}): ReactNode {
  return (
    <li className="border-t border-rule px-4 py-3" data-testid="page-note">
      <button type="button" aria-expanded={open} onClick={onOpen} className="block min-h-11 w-full text-left">
        {mark > 0 && <span className="num mr-2 font-semibold">{mark}</span>}
        <span className={note.state === 'done' ? 'text-graphite line-through' : ''}>{note.text}</span>
        <span className="block text-sm text-graphite">
          {[note.author, ...(moving ? [MESSAGES.frames(note.number, note.to)] : [])].filter(Boolean).join(' · ')}
        </span>
      </button>
      {note.answers.map((a) => (
        <p key={a.id} className="mt-2 border-l-2 border-rule pl-3">
          {a.text} <span className="text-sm text-graphite">{a.author}</span>
        </p>
      ))}
      {open && <div className="mt-2">{children}</div>}
    </li>
  );
}

/** Notes of what is shown, and the form for a new one. */
export function PageNotes({ shot, frame, notes, here, source, chosen, onChoose, kind, onKind, drawn, onDrawn, onChanged }: Props): ReactNode {
  const [name, setName] = useReviewerName();
  const [toEnd, setToEnd] = useState(false);
  const last = shot.frames.at(-1)!.number;
  const add = async (text: string): Promise<void> => {
    const more = shot.moving && toEnd ? { to: last } : {};
    const note = await source.addNote({ batch: shot.batch, run: shot.run, frame }, { shape: drawn!, text, author: name.trim(), ...more });
    onDrawn(null);
    onKind(null);
    await onChanged();
    onChoose(note.id);
  };
  const stop = (): void => {
    onDrawn(null);
    onKind(null);
  };
  return (
    <section aria-label={LABELS.notes} className="max-h-[50vh] shrink-0 overflow-auto bg-paper md:max-h-none md:w-80 md:border-l md:border-rule">
      <div className="flex flex-col gap-3 p-4">
        <label className="flex flex-col">
          <span className="text-sm text-graphite">{LABELS.yourName}</span>
          <input value={name} maxLength={80} autoComplete="name" onChange={(e) => setName(e.target.value)} className={`h-9 ${FIELD}`} />
        </label>
        {kind === null ? (
          <PageButton primary onClick={() => onKind('pin')}>
            {LABELS.writeNote}
          </PageButton>
        ) : (
          <>
            <span className="flex flex-wrap gap-1" role="group" aria-label={LABELS.writeNote}>
              {NOTE_SHAPES.map((k) => (
                <PageButton
                  key={k}
                  aria-pressed={k === kind}
                  primary={k === kind}
                  onClick={() => {
                    onDrawn(null);
                    onKind(k);
                  }}
                >
                  {SHAPE_WORDS[k]}
                </PageButton>
              ))}
              <PageButton onClick={stop}>{LABELS.cancel}</PageButton>
            </span>
            {drawn ? (
              <>
                {shot.moving && frame.number < last && (
                  <label className="flex h-11 items-center gap-2">
                    <input type="checkbox" className="size-5 accent-ink" checked={toEnd} onChange={(e) => setToEnd(e.target.checked)} />
                    {LABELS.toLastFrame}
                  </label>
                )}
                <WordsForm label={LABELS.note} name={name} send={add} />
              </>
            ) : (
              <p className="text-sm text-graphite">{kind === 'pin' ? MESSAGES.tapForNote : MESSAGES.dragForNote}</p>
            )}
          </>
        )}
      </div>
      {notes.length === 0 && <p className="px-4 pb-4 text-sm text-graphite">{MESSAGES.noNotes}</p>}
      <ul>
        {notes.map((note) => (
          <NoteItem
            key={note.id}
            note={note}
            mark={here.findIndex((n) => n.id === note.id) + 1}
            moving={shot.moving}
            open={note.id === chosen}
            onOpen={() => onChoose(note.id)}
          >
            <WordsForm
              label={LABELS.answer}
              name={name}
              send={async (text) => {
                await source.answer(note, { text, author: name.trim() });
                await onChanged();
              }}
            />
          </NoteItem>
        ))}
      </ul>
    </section>
  );
}
