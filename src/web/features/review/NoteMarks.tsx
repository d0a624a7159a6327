/** Notes over a render, two-tone and numbered; and a new one as it is drawn. */
import { type PointerEvent, type ReactNode, useState } from 'react';
import type { PlacedNote } from '../../../contract/notes.js';
import { type Place, placeOfShape } from '../../../core/review/notePlace.js';
import type { NoteShape } from '../../../core/review/notes.js';
import type { Placed } from './useZoom.js';
import { LABELS } from './words.js';

export type NoteKind = NoteShape['kind'];

/** Lines of a shape in a square of 100, which is stretched over the render. */
function Lines({ shape }: { shape: NoteShape }): ReactNode {
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

function Sheet({ children }: { children: ReactNode }): ReactNode {
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

/** Points from one to the next of a stroke, in shares of the render: closer ones say nothing more. */
const MIN_STEP = 0.004;
const MAX_STROKE = 500;

/** Takes one shape: a click for a pin, a drag for all others. */
export function NoteDrawing({ kind, placed, onDrawn }: { kind: NoteKind; placed: Placed; onDrawn: (shape: NoteShape) => void }): ReactNode {
  const [points, setPoints] = useState<Place[]>([]);
  const { left, top, width, height } = placed;
  const at = (e: PointerEvent): Place => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (v: number): number => Math.min(1, Math.max(0, v));
    return [share((e.clientX - box.left) / box.width), share((e.clientY - box.top) / box.height)];
  };
  const shapeOf = (list: readonly Place[]): NoteShape | null => {
    const [a, b] = [list[0], list.at(-1)];
    if (!a || !b) return null;
    if (kind === 'pin') return { kind, points: [b] };
    if (list.length < 2) return null;
    return kind === 'stroke' ? { kind, points: [...list] } : { kind, points: [a, b] };
  };
  const onMove = (e: PointerEvent): void => {
    e.stopPropagation();
    if (e.buttons !== 1 || points.length === 0) return;
    const next = at(e);
    const last = points.at(-1)!;
    if (Math.hypot(next[0] - last[0], next[1] - last[1]) < MIN_STEP || points.length >= MAX_STROKE) return;
    setPoints([...points, next]);
  };
  const shape = shapeOf(points);
  return (
    <div
      className="absolute cursor-copy touch-none"
      style={{ left, top, width, height }}
      data-testid="note-drawing"
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setPoints([at(e)]);
      }}
      onPointerMove={onMove}
      onPointerUp={(e) => {
        e.stopPropagation();
        const drawn = shapeOf(points);
        setPoints([]);
        if (drawn) onDrawn(drawn);
      }}
    >
      {shape && (
        <Sheet>
          <Lines shape={shape} />
        </Sheet>
      )}
    </div>
  );
}
