/** A new note as it is drawn over a render, by pointer, touch or keyboard. */
import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import type { Place } from '../../../core/review/notePlace.js';
import type { NoteShape } from '../../../core/review/notes.js';
import { Lines, type NoteKind, Sheet } from './NoteMarks.js';
import type { Placed } from './useZoom.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Points from one to the next of a stroke, in shares of the render: closer ones say nothing more. */
const MIN_STEP = 0.004;
const MAX_STROKE = 500;

/** Where the cross begins, and how far an arrow key moves it: alone, and with Shift; in shares of the render. */
const MIDDLE: Place = [0.5, 0.5];
const COARSE = 0.02;
const FINE = 0.002;

const MOVES: Readonly<Record<string, Place>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

const share = (v: number): number => Math.min(1, Math.max(0, v));

/** Two-tone, so that it is seen on anything. */
function Cross({ at: [x, y] }: { at: Place }): ReactNode {
  return (
    <svg
      viewBox="-12 -12 24 24"
      className="pointer-events-none absolute -ml-3 -mt-3 h-6 w-6"
      style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
      data-testid="note-cross"
      aria-hidden
    >
      <path d="M-11,0H-3M3,0H11M0,-11V-3M0,3V11" stroke="#15202a" strokeWidth="4" />
      <path d="M-11,0H-3M3,0H11M0,-11V-3M0,3V11" stroke="#ffffff" strokeWidth="2" />
    </svg>
  );
}

interface Props {
  kind: NoteKind;
  placed: Placed;
  onDrawn: (shape: NoteShape) => void;
  /** Nothing is to be drawn after all. */
  onCancel: () => void;
}

/**
 * Takes one shape: a click for a pin, a drag for all others. By keyboard the arrow keys move a cross, and Enter sets a
 * point; the last point of a stroke is set twice.
 */
export function NoteDrawing({ kind, placed, onDrawn, onCancel }: Props): ReactNode {
  const [points, setPoints] = useState<Place[]>([]);
  const [cross, setCross] = useState<Place | null>(null);
  const sheet = useRef<HTMLDivElement>(null);
  useEffect(() => sheet.current?.focus({ preventScroll: true }), [kind]);
  const { left, top, width, height } = placed;
  const at = (e: PointerEvent): Place => {
    const box = e.currentTarget.getBoundingClientRect();
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
  const set = (at: Place): void => {
    const last = points.at(-1);
    const isSame = last !== undefined && Math.hypot(at[0] - last[0], at[1] - last[1]) < MIN_STEP;
    // A shape of no extent says nothing.
    if (isSame && (kind !== 'stroke' || points.length < 2)) return;
    const next = isSame ? points : [...points, at].slice(0, MAX_STROKE);
    const isWhole = kind === 'pin' || (kind === 'stroke' ? isSame : next.length === 2);
    const drawn = isWhole ? shapeOf(next) : null;
    setPoints(drawn ? [] : next);
    if (drawn) onDrawn(drawn);
  };
  const onKey = (e: KeyboardEvent): void => {
    const move = MOVES[e.key];
    if (!move && e.key !== 'Enter' && e.key !== 'Escape') return;
    e.preventDefault();
    e.stopPropagation();
    const at = cross ?? MIDDLE;
    const by = e.shiftKey ? FINE : COARSE;
    if (move) setCross([share(at[0] + move[0] * by), share(at[1] + move[1] * by)]);
    else if (e.key === 'Escape' && points.length > 0) setPoints([]);
    else if (e.key === 'Escape') onCancel();
    else if (cross) set(cross);
    else setCross(MIDDLE);
  };
  const shape = shapeOf(cross && points.length > 0 && kind !== 'pin' ? [...points, cross] : points);
  return (
    <div
      ref={sheet}
      role="application"
      tabIndex={0}
      aria-label={LABELS.placeNote}
      title={kind === 'pin' ? HELP.placePin : kind === 'stroke' ? HELP.placeStroke : HELP.placeTwo}
      className="absolute cursor-copy touch-none"
      style={{ left, top, width, height }}
      data-testid="note-drawing"
      onKeyDown={onKey}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setCross(null);
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
      {cross && <Cross at={cross} />}
      <span className="sr-only" aria-live="polite">
        {cross && MESSAGES.crossAt(Math.round(100 * cross[0]), Math.round(100 * cross[1]))}
      </span>
    </div>
  );
}
