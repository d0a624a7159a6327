/** The cutting plane of a section reveal on a drawing that it is seen edge-on in; its stations are dragged. */
import { type KeyboardEvent, type ReactNode, useState } from 'react';
import type { Shot } from '../../../../core/shots/kinds.js';
import { drawingExtent } from '../../../../core/camera/orthographic.js';
import type { InstrumentProps } from '../editorProps.js';
import { arrowWay, PlanCanvas } from '../../../viewport/PlanCanvas.js';
import { LABELS } from './words.js';

/** How a plane lies on its drawing: along which axis of it, and which way that grows. */
function revealLayout(normal: readonly number[]): { drawing: 'plan' | 'elevation'; axis: 0 | 1; sign: number } {
  const [x, y, z] = normal.map(Math.abs) as [number, number, number];
  if (z > x && z > y) return { drawing: 'plan', axis: 1, sign: Math.sign(normal[2]!) };
  if (x > y) return { drawing: 'elevation', axis: 0, sign: Math.sign(normal[0]!) };
  // Heights grow against the drawing's way down.
  return { drawing: 'elevation', axis: 1, sign: -Math.sign(normal[1]!) };
}

/** The way of the plane through the subject, dragged. */
export function SectionRevealEditor({ shot: any, put, frames, index, desk }: InstrumentProps): ReactNode {
  const shot = any as Extract<Shot, { kind: 'sectionReveal' }>;
  const [drag, setDrag] = useState<{ index: number; height: number } | null>(null);
  const { drawing, axis, sign } = revealLayout(shot.normal);
  const square = drawingExtent(drawing, desk.bounds);
  const now = frames[index]!.section!.planes.at(-1)!.offset;
  const heights = shot.stations.map((s, i) => (drag?.index === i ? drag.height : s.height));
  const change = (i: number, height: number): void => {
    put({ ...shot, stations: shot.stations.map((s, k) => (k === i ? { ...s, height: Math.round(height * 1e4) / 1e4 } : s)) });
  };
  const step = (i: number) => (e: KeyboardEvent) => {
    const way = arrowWay(e.key);
    if (!way || way[axis] === 0) return;
    e.preventDefault();
    e.stopPropagation();
    change(i, heights[i]! + way[axis]! * sign * square.side * (e.shiftKey ? 0.05 : 0.005));
  };
  const bar = (height: number): { x1: number; y1: number; x2: number; y2: number } => {
    const at = height * sign;
    return axis === 1 ? { x1: square.x, x2: square.x + square.side, y1: at, y2: at } : { x1: at, x2: at, y1: square.y, y2: square.y + square.side };
  };
  return (
    <div className="flex h-full min-h-0 flex-col">
      <p className="num text-sm" data-testid="plane-of-frame">
        {LABELS.planeAtM(now.toFixed(3))}
      </p>
      <div className="min-h-0 flex-1">
        <PlanCanvas
          label={LABELS.cuttingPlane}
          picture={desk.drawing(drawing)}
          square={square}
          onDrag={(at) => drag && setDrag({ ...drag, height: at[axis] * sign })}
          onDrop={() => {
            if (drag) change(drag.index, drag.height);
            setDrag(null);
          }}
        >
          {(unit) => (
            <>
              {heights.map((height, i) => {
                const { x1, y1, x2, y2 } = bar(height);
                return (
                  <g
                    key={i}
                    role="slider"
                    tabIndex={0}
                    aria-label={LABELS.planeAtStation(i + 1)}
                    aria-valuenow={height}
                    aria-valuetext={`${height.toFixed(3)} m`}
                    className={axis === 1 ? 'cursor-ns-resize' : 'cursor-ew-resize'}
                    onPointerDown={() => setDrag({ index: i, height })}
                    onKeyDown={step(i)}
                  >
                    <line {...{ x1, y1, x2, y2 }} stroke="transparent" strokeWidth={12 * unit} />
                    <line {...{ x1, y1, x2, y2 }} className="stroke-chalk" strokeWidth={3 * unit} />
                    <line {...{ x1, y1, x2, y2 }} className="stroke-cobalt" strokeWidth={1.4 * unit} strokeDasharray={`${5 * unit} ${3 * unit}`} />
                    <text
                      x={x1 + 3 * unit}
                      y={axis === 1 ? y1 - 3 * unit : y1 + 9 * unit}
                      className="num fill-ink stroke-chalk [paint-order:stroke]"
                      strokeWidth={2 * unit}
                      fontSize={8 * unit}
                    >
                      {i + 1} · {height.toFixed(3)} m
                    </text>
                  </g>
                );
              })}
              <line {...bar(now)} className="stroke-madder" strokeWidth={2 * unit} />
            </>
          )}
        </PlanCanvas>
      </div>
    </div>
  );
}
