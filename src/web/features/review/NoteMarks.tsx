/** Notes over a render, two-tone and numbered. */
import type { ReactNode } from 'react';
import type { PlacedNote } from '../../../contract/notes.js';
import { type Place, placeOfShape } from '../../../core/review/notePlace.js';
import type { NoteShape } from '../../../core/review/notes.js';
import type { Placed } from './useZoom.js';
import { LABELS } from './words.js';

/** Shape of a note's mark. */
export type NoteKind = NoteShape['kind'];

/** Lines of a shape in a square of 100, which is stretched over the render. */
export function Lines({ shape }: { shape: NoteShape }): ReactNode {
  const points = shape.points.map(([x, y]): Place => [100 * x, 100 * y]);
  const [a, b] = [points[0]!, points.at(-1)!];
  const text =
    shape.kind === 'box' ? `M${a[0]},${a[1]}H${b[0]}V${b[1]}H${a[0]}Z` : points.length > 1 ? `M${points.map(([x, y]) => `${x},${y}`).join('L')}` : '';
  if (text === '') return null;
  return (
    <>
      <path d={text} fill="none" stroke="#15202a" strokeWidth={4} vectorEffect="non-scaling-stroke" />
      <path d={text} fill="none" stroke="#ffffff" strokeWidth={2} vectorEffect="non-scaling-stroke" />
    </>
  );
}

/** That square. */
export function Sheet({ children }: { children: ReactNode }): ReactNode {
  return (
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="pointer-events-none absolute h-full w-full overflow-visible" aria-hidden>
      {children}
    </svg>
  );
}

interface MarksProps {
  notes: readonly PlacedNote[];
  chosen: number | null;
  onChoose: (id: number) => void;
  placed: Placed;
}

/** Marks of notes on the render. */
export function NoteMarks({ notes, chosen, onChoose, placed }: MarksProps): ReactNode {
  const { left, top, width, height } = placed;
  return (
    <span className="pointer-events-none absolute" style={{ left, top, width, height }}>
      <Sheet>
        {notes.map((note) => (
          <Lines key={note.id} shape={note.shape} />
        ))}
      </Sheet>
      {notes.map((note, i) => {
        const [x, y] = placeOfShape(note.shape);
        return (
          <button
            key={note.id}
            type="button"
            aria-label={LABELS.noteMark(i + 1)}
            aria-pressed={note.id === chosen}
            data-testid="note-mark"
            data-how={note.how}
            className={`plate num pointer-events-auto absolute -ml-2.5 -mt-2.5 h-5 min-w-5 px-1 text-xs leading-[18px] ${note.how === 'lost' ? 'border-dashed' : ''} ${note.state === 'done' ? 'line-through' : ''} ${note.id === chosen ? 'outline outline-2 outline-madder' : ''}`}
            style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
            onPointerDown={(e) => e.stopPropagation()}
            onPointerUp={(e) => e.stopPropagation()}
            onClick={() => onChoose(note.id)}
          >
            {i + 1}
          </button>
        );
      })}
    </span>
  );
}
