/** Notes of the frame on the easel: over the render, in a panel beside it, and the button that opens that. */
import { StickyNote } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import type { FrameReply } from '../../../contract/batches.js';
import type { NoteShape } from '../../../core/review/notes.js';
import type { PanelOpen } from './usePanel.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useFrameNotes } from '../../state/notes.js';
import { Button } from '../../ui/controls.js';
import { NoteDrawing } from './NoteDrawing.js';
import { type NoteKind, NoteMarks } from './NoteMarks.js';
import { NotesPanel } from './NotesPanel.js';
import type { Placed } from './useZoom.js';
import { HELP, LABELS } from './words.js';

/** Notes of the render, as parts of the page. */
export interface NotesView {
  overlay: (placed: Placed) => ReactNode;
  panel: ReactNode;
  button: ReactNode;
}

/** @param lastNumber last frame number of a moving shot; null of a still. */
export function useNotes(setId: number, batch: number, frame: FrameReply, lastNumber: number | null, { open, setOpen }: PanelOpen): NotesView {
  const [chosen, setChosen] = useState<number | null>(null);
  const [kind, setKind] = useState<NoteKind | null>(null);
  const [drawn, setDrawn] = useState<NoteShape | null>(null);
  const { data } = useFrameNotes(open ? { batch, frame: frame.id } : null);
  const notes = data ?? [];
  useEffect(() => setDrawn(null), [frame.id]);
  const toggle = (): void => setOpen(!open);
  useKeys({ t: toggle });
  useCommands([{ name: LABELS.notes, keys: 'T', run: toggle }]);
  const choose = (id: number | null): void => {
    setChosen(id);
    setOpen(true);
  };
  return {
    overlay: (placed) =>
      open && (
        <>
          <NoteMarks notes={notes} chosen={chosen} onChoose={choose} placed={placed} />
          {kind && !drawn && (
            <NoteDrawing
              kind={kind}
              placed={placed}
              onCancel={() => setKind(null)}
              onDrawn={(shape) => {
                setDrawn(shape);
                setKind(null);
              }}
            />
          )}
        </>
      ),
    // What is being written stays while another panel is shown.
    panel: (open || drawn) && (
      <div className={open ? 'contents' : 'hidden'}>
        <NotesPanel
          setId={setId}
          batch={batch}
          frame={frame.id}
          lastNumber={lastNumber}
          notes={notes}
          chosen={chosen}
          onChoose={choose}
          kind={kind}
          onKind={setKind}
          drawn={drawn}
          onDrawn={setDrawn}
        />
      </div>
    ),
    button: (
      <Button aria-pressed={open} title={HELP.notes} onClick={toggle}>
        <StickyNote size={16} aria-hidden /> {LABELS.notes}
      </Button>
    ),
  };
}
