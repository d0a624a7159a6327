/** Notes on the render that is shown: written, answered, done, deleted with undo. */
import { type FormEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import type { PlacedNote } from '../../../contract/notes.js';
import { NOTE_SHAPES } from '../../../core/review/notePlace.js';
import type { NoteShape } from '../../../core/review/notes.js';
import { usePreferences } from '../../app/preferences.js';
import { send } from '../../state/api.js';
import { refreshNotes } from '../../state/notes.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import type { NoteKind } from './NoteMarks.js';
import { HELP, HOW_WORDS, LABELS, MESSAGES, SHAPE_WORDS } from './words.js';

/** A line to write in; Enter sends it. */
function WordsForm({ label, send: take, focused }: { label: string; send: (text: string) => Promise<void>; focused: boolean }): ReactNode {
  const [text, setText] = useState('');
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (focused) input.current?.focus();
  }, [focused]);
  const submit = (e: FormEvent): void => {
    e.preventDefault();
    if (text.trim() === '' || busy) return;
    setBusy(true);
    take(text.trim())
      .then(
        () => setText(''),
        (problem: Error) => toastProblem(problem.message),
      )
      .finally(() => setBusy(false));
  };
  return (
    <form onSubmit={submit} className="flex items-end gap-2">
      <input
        ref={input}
        aria-label={label}
        placeholder={label}
        value={text}
        maxLength={2000}
        onChange={(e) => setText(e.target.value)}
        className="h-7 min-w-0 flex-1 border-b border-graphite bg-transparent"
      />
      <Button type="submit" disabled={text.trim() === '' || busy}>
        {LABELS.send}
      </Button>
    </form>
  );
}

interface Props {
  setId: number;
  batch: number;
  frame: number;
  /** Last frame number of the shot, where a note may be about several. */
  lastNumber: number | null;
  notes: readonly PlacedNote[];
  chosen: number | null;
  onChoose: (id: number | null) => void;
  /** What is drawn next; null where nothing is. */
  kind: NoteKind | null;
  onKind: (kind: NoteKind | null) => void;
  /** A shape that waits for its words. */
  drawn: NoteShape | null;
  onDrawn: (shape: NoteShape | null) => void;
}

function NoteItem({
  note,
  place,
  chosen,
  act,
  onChoose,
}: {
  note: PlacedNote;
  place: number;
  chosen: boolean;
  act: (act: () => Promise<unknown>) => void;
  onChoose: () => void;
}): ReactNode {
  const { author } = usePreferences();
  const remove = async (): Promise<void> => {
    await send('DELETE', `/notes/${note.id}`);
    toast(MESSAGES.noteDeleted, { action: { label: LABELS.undo, onClick: () => act(() => send('POST', `/notes/${note.id}/restore`)) } });
  };
  return (
    <li className={`border-b border-rule px-3 py-2 ${chosen ? 'bg-paper' : ''}`} data-testid="note">
      <button type="button" className="block w-full text-left" aria-expanded={chosen} onClick={onChoose}>
        <span className="num mr-2 font-medium">{place}</span>
        <span className={note.state === 'done' ? 'text-graphite line-through' : ''}>{note.text}</span>
        <span className="mt-0.5 block text-xs text-graphite">
          {MESSAGES.noteFacts(note.author, note.via ?? '', note.part?.split('/').at(-1) ?? '', HOW_WORDS[note.how], note.revision)}
        </span>
      </button>
      {chosen && (
        <div className="mt-2 flex flex-col gap-2">
          {note.answers.map((a) => (
            <p key={a.id} className="border-l-2 border-rule pl-2 text-sm">
              {a.text} {a.author && <span className="text-xs text-graphite">{a.author}</span>}
            </p>
          ))}
          <WordsForm
            label={LABELS.answer}
            focused={false}
            send={(text) => send('POST', `/notes/${note.id}/answers`, { text, author }).then(() => act(async () => {}))}
          />
          <span className="flex gap-2">
            <Button onClick={() => act(() => send('PUT', `/notes/${note.id}`, { state: note.state === 'open' ? 'done' : 'open' }))}>
              {note.state === 'open' ? LABELS.markDone : LABELS.reopen}
            </Button>
            <Button onClick={() => act(remove)}>{LABELS.deleteNote}</Button>
          </span>
        </div>
      )}
    </li>
  );
}

/** Notes of the render, with their answers, and the form for a new one. */
export function NotesPanel({ setId, batch, frame, lastNumber, notes, chosen, onChoose, kind, onKind, drawn, onDrawn }: Props): ReactNode {
  const { author } = usePreferences();
  const [toEnd, setToEnd] = useState(false);
  const act = (what: () => Promise<unknown>): void =>
    void what().then(
      () => refreshNotes(setId),
      (e: Error) => toastProblem(e.message),
    );
  const add = async (text: string): Promise<void> => {
    await send('POST', `/batches/${batch}/frames/${frame}/notes`, {
      shape: drawn,
      text,
      author,
      ...(toEnd && lastNumber !== null && { to: lastNumber }),
    });
    onDrawn(null);
    await refreshNotes(setId);
  };
  return (
    <section aria-label={LABELS.notes} className="flex min-h-0 w-72 shrink-0 flex-col border-l border-rule bg-chalk">
      <div className="flex flex-col gap-2 border-b border-rule p-3">
        <span className="flex flex-wrap items-center gap-1" role="group" aria-label={LABELS.newNote} title={HELP.newNote}>
          <span className="mr-1 text-sm text-graphite">{LABELS.newNote}</span>
          {NOTE_SHAPES.map((k) => (
            <button
              key={k}
              type="button"
              aria-pressed={k === kind}
              className={`h-7 rounded-sm border border-graphite px-2 text-sm ${k === kind ? 'bg-ink text-chalk' : ''}`}
              onClick={() => onKind(k === kind ? null : k)}
            >
              {SHAPE_WORDS[k]}
            </button>
          ))}
        </span>
        {kind && !drawn && <p className="text-sm text-graphite">{kind === 'pin' ? MESSAGES.clickForNote : MESSAGES.dragForNote}</p>}
        {drawn && (
          <>
            <WordsForm label={LABELS.noteWords} focused send={add} />
            <span className="flex items-center justify-between gap-2">
              {lastNumber !== null && (
                <label className="flex items-center gap-2 text-sm">
                  <input type="checkbox" className="size-4 accent-madder" checked={toEnd} onChange={(e) => setToEnd(e.target.checked)} />
                  {LABELS.untilTheEnd}
                </label>
              )}
              <Button onClick={() => onDrawn(null)}>{LABELS.discard}</Button>
            </span>
          </>
        )}
      </div>
      <ol className="min-h-0 flex-1 overflow-auto">
        {notes.length === 0 && !drawn && <li className="p-3 text-sm text-graphite">{MESSAGES.noNotes}</li>}
        {notes.map((note, i) => (
          <NoteItem
            key={note.id}
            note={note}
            place={i + 1}
            chosen={note.id === chosen}
            act={act}
            onChoose={() => onChoose(note.id === chosen ? null : note.id)}
          />
        ))}
      </ol>
    </section>
  );
}
