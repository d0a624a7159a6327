/** Lines over the output frame, the frame of another set, and edges that can be dragged. */
import { type PointerEvent, type ReactNode, useRef } from 'react';
import type { Size } from '../../core/camera/view.js';
import { SAFE_MARGINS } from '../../core/camera/resizeFrame.js';
import type { GuideChoice } from '../app/preferences.js';
import { LABELS } from './words.js';

const LINE = 'absolute border-chalk/70 mix-blend-difference';

function Inset({ share, dashed }: { share: number; dashed?: boolean }): ReactNode {
  return <span className={`${LINE} border ${dashed ? 'border-dashed' : ''}`} style={{ inset: `${100 * share}%` }} aria-hidden />;
}

/** Thirds, centre and safe margins, in shares of the frame. */
export function Guides({ guides }: { guides: GuideChoice }): ReactNode {
  return (
    <>
      {guides.thirds &&
        [1, 2].map((i) => (
          <span key={i} aria-hidden>
            <span className={`${LINE} inset-y-0 border-l`} style={{ left: `${(100 * i) / 3}%` }} />
            <span className={`${LINE} inset-x-0 border-t`} style={{ top: `${(100 * i) / 3}%` }} />
          </span>
        ))}
      {guides.centre && (
        <span aria-hidden>
          <span className={`${LINE} left-1/2 top-[46%] h-[8%] border-l`} />
          <span className={`${LINE} left-[47%] top-1/2 w-[6%] border-t`} />
        </span>
      )}
      {guides.safe && (
        <>
          <Inset share={SAFE_MARGINS.action} />
          <Inset share={SAFE_MARGINS.graphics} dashed />
        </>
      )}
    </>
  );
}

/** The frame of another size about the same middle, at the same scale of what lies across. */
export function OtherFrame({ size, other, pixelAspect, label }: { size: Size; other: Size; pixelAspect: number; label: string }): ReactNode {
  const [aspect, theirs] = [size, other].map((s) => (s.width * pixelAspect) / s.height) as [number, number];
  // Both have the same long side on the film.
  const long = (a: number): [number, number] => (a >= 1 ? [1, 1 / a] : [a, 1]);
  const [w, h] = long(aspect);
  const [ow, oh] = long(theirs);
  const [across, down] = [(100 * ow) / w, (100 * oh) / h];
  return (
    <span
      data-testid="other-frame"
      className="absolute border border-dashed border-ochre"
      style={{ left: `${50 - across / 2}%`, top: `${50 - down / 2}%`, width: `${across}%`, height: `${down}%` }}
    >
      <span className="mark absolute -top-5 left-0 whitespace-nowrap text-xs">
        {label} {other.width} × {other.height}
      </span>
    </span>
  );
}

const EDGES = [
  { id: 'left', across: -1, down: 0, look: '-left-1.5 top-0 h-full w-3 cursor-ew-resize' },
  { id: 'right', across: 1, down: 0, look: '-right-1.5 top-0 h-full w-3 cursor-ew-resize' },
  { id: 'top', across: 0, down: -1, look: '-top-1.5 left-0 h-3 w-full cursor-ns-resize' },
  { id: 'bottom', across: 0, down: 1, look: '-bottom-1.5 left-0 h-3 w-full cursor-ns-resize' },
] as const;

/** Edges that are dragged; both sides go alike, since the middle stays. Tells the new size in pixels, and when it is let go. */
export function FrameEdges({ size, onSize }: { size: Size; onSize: (size: Size, done: boolean) => void }): ReactNode {
  const held = useRef<{ x: number; y: number; from: Size; scale: number; now: Size } | null>(null);
  return (
    <>
      {EDGES.map((edge) => (
        <span
          key={edge.id}
          data-testid={`edge-${edge.id}`}
          className={`pointer-events-auto absolute touch-none ${edge.look}`}
          title={LABELS.dragToResize}
          onPointerDown={(e: PointerEvent<HTMLSpanElement>) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            const box = e.currentTarget.parentElement!.getBoundingClientRect();
            held.current = { x: e.clientX, y: e.clientY, from: size, scale: size.width / box.width, now: size };
          }}
          onPointerMove={(e) => {
            const h = held.current;
            if (!h) return;
            e.stopPropagation();
            h.now = {
              width: h.from.width + 2 * h.scale * edge.across * (e.clientX - h.x),
              height: h.from.height + 2 * h.scale * edge.down * (e.clientY - h.y),
            };
            onSize(h.now, false);
          }}
          onPointerUp={(e) => {
            const h = held.current;
            held.current = null;
            if (!h) return;
            e.stopPropagation();
            onSize(h.now, true);
          }}
        />
      ))}
    </>
  );
}
