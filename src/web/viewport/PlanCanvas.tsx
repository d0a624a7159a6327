/** A drawing to scale of the subject, from above or from the front, on which things are placed and dragged. */
import { type PointerEvent, type ReactNode, useRef } from 'react';
import type { DrawingExtent } from '../../core/camera/orthographic.js';
import { useCoarseFirst } from '../ui/Thumbnail.js';
import { useThumbnailPriority } from '../ui/thumbnailQueue.js';
import { LABELS } from './words.js';

/** Milliseconds at most that a drawing waits for the small frames of the same page. */
const FRAMES_FIRST = 2000;

/** A drawing from above. */
export interface PlanCanvasProps {
  label: string;
  /** Address of the drawing's picture, and the square in metres that it shows; across to the right, down to the bottom. */
  picture: string;
  square: DrawingExtent;
  /** Points in metres, across and down, that must be seen, as far as that is not too far. */
  reach?: [number, number][];
  /** Degrees clockwise from up to true north. */
  north?: number;
  /** The hand moves with something in it, or lets go. */
  onDrag?: (at: [number, number]) => void;
  onDrop?: () => void;
  /** What lies on the drawing; `unit` is a two-hundredth of its breadth, in metres. */
  children: (unit: number) => ReactNode;
}

/** A drawing from above on which things are dragged. */
export function PlanCanvas({ label, picture, square, reach = [], north, onDrag, onDrop, children }: PlanCanvasProps): ReactNode {
  const svg = useRef<SVGSVGElement>(null);
  const free = useThumbnailPriority(FRAMES_FIRST);
  const { shown, refine } = useCoarseFirst(picture);
  const [cx, cy] = [square.x + square.side / 2, square.y + square.side / 2];
  const needed = reach.reduce((r, [x, y]) => Math.max(r, Math.abs(x - cx) * 1.08, Math.abs(y - cy) * 1.08), square.side / 2);
  const half = Math.min(3 * square.side, needed);
  const unit = half / 100;
  const move = (e: PointerEvent): void => {
    if (!onDrag || e.buttons === 0) return;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.current!.getScreenCTM()!.inverse());
    onDrag([p.x, p.y]);
  };
  return (
    <svg
      ref={svg}
      viewBox={`${cx - half} ${cy - half} ${2 * half} ${2 * half}`}
      className="h-full w-full touch-none select-none bg-chalk"
      role="group"
      aria-label={label}
      onPointerDown={(e) => svg.current?.setPointerCapture(e.pointerId)}
      onPointerMove={move}
      onPointerUp={onDrop}
      onPointerCancel={onDrop}
    >
      <image href={free ? shown : undefined} x={square.x} y={square.y} width={square.side} height={square.side} onLoad={refine} />
      {children(unit)}
      {north !== undefined && (
        <g transform={`translate(${cx + half * 0.86} ${cy - half * 0.8}) scale(${unit}) rotate(${north})`} aria-label={LABELS.trueNorth}>
          <path d="M0 -9 L4 5 L0 2 L-4 5 Z" className="fill-ink stroke-chalk" strokeWidth="0.8" />
          <text y="-11" textAnchor="middle" className="fill-ink font-semibold" fontSize="8">
            N
          </text>
        </g>
      )}
    </svg>
  );
}

/** What an arrow key moves, across and down; null for other keys. */
export function arrowWay(key: string): [number, number] | null {
  const ways: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  return ways[key] ?? null;
}
