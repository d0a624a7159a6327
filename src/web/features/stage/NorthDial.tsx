/** True north by pointing: the plan of the design as its file has it, -Z up, and an arrow that is dragged. */
import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { LABELS } from './daylightWords.js';

const R = 40;

/** Where north is on the plan, dragged. */
export function NorthDial({ north, bounds, onNorth }: { north: number; bounds: Bounds; onNorth: (north: number) => void }): ReactNode {
  const svg = useRef<SVGSVGElement>(null);
  const [draft, setDraft] = useState<number | null>(null);
  const shown = draft ?? north;
  const [w, d] = [bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]];
  const k = 34 / Math.max(w, d, 1e-6);
  const point = (e: PointerEvent): void => {
    if (draft === null || !svg.current) return;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.current.getScreenCTM()!.inverse());
    // Whole degrees: finer ones are written into the field.
    setDraft(Math.round((Math.atan2(p.x, -p.y) * 180) / Math.PI));
  };
  const drop = (): void => {
    if (draft !== null && draft !== north) onNorth(draft);
    setDraft(null);
  };
  const step = (e: KeyboardEvent): void => {
    const way = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
    if (way === 0) return;
    e.preventDefault();
    e.stopPropagation();
    onNorth(Math.round(north) + way * (e.shiftKey ? 10 : 1));
  };
  return (
    <svg
      ref={svg}
      viewBox="-58 -58 116 116"
      className="size-[104px] shrink-0 touch-none select-none"
      aria-label={LABELS.planWithTrueNorth}
      role="group"
      onPointerMove={point}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      <circle r={R} className="fill-chalk stroke-rule" />
      <rect x={(-w * k) / 2} y={(-d * k) / 2} width={w * k} height={d * k} className="fill-none stroke-ink" />
      <g
        transform={`rotate(${shown})`}
        role="slider"
        tabIndex={0}
        aria-label={LABELS.trueNorth}
        aria-valuenow={shown}
        aria-valuetext={LABELS.fromModelZ(shown)}
        className="cursor-grab"
        onKeyDown={step}
        onPointerDown={(e) => {
          svg.current?.setPointerCapture(e.pointerId);
          setDraft(north);
        }}
      >
        <rect x="-10" y="-57" width="20" height="60" fill="transparent" />
        <line y2={-R} className="stroke-madder" strokeWidth="1.6" />
        <path d={`M0 ${-R - 4} l-5 9 h10 z`} className="fill-madder" />
        <text y={-R - 7} textAnchor="middle" className="fill-ink font-semibold" fontSize="10">
          N
        </text>
      </g>
    </svg>
  );
}
