/** The stage's own lights in the viewport: dragged over the picture, each at the depth at which it stands. */
import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from 'react';
import type { Vec3 } from '../../../core/math/bounds.js';
import type { UserLight } from '../../../core/stage/userLight.js';
import { type Camera, projectPoint, type Size } from '../../../core/camera/view.js';
import { unprojectAtDepth } from '../../../core/camera/unproject.js';
import { LABELS } from './words.js';

/** The lights as they stand in the view. */
export interface LightHandlesProps {
  lights: UserLight[];
  chosen: string | null;
  camera: Camera;
  size: Size;
  onChoose: (id: string | null) => void;
  onChange: (lights: UserLight[]) => string | null;
}

type End = 'at' | 'target';
/** Share of the frame that an arrow key moves a handle by. */
const STEP = 0.01;

/** Lies in the output frame, in percent of it; what stands outside the frame is drawn outside too. */
export function LightHandles({ lights, chosen, camera, size, onChoose, onChange }: LightHandlesProps): ReactNode {
  const frame = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<{ id: string; end: End; at: Vec3 } | null>(null);
  const held = useRef<{ id: string; end: End; from: Vec3 } | null>(null);
  const move = (id: string, end: End, to: Vec3): void => {
    onChange(lights.map((l) => (l.id === id ? { ...l, [end]: to.map((c) => Number(c.toFixed(4))) as Vec3 } : l)));
  };
  const onPointerMove = (e: PointerEvent): void => {
    const h = held.current;
    if (!h) return;
    e.stopPropagation();
    const box = frame.current!.getBoundingClientRect();
    const pixel: [number, number] = [((e.clientX - box.left) / box.width) * size.width, ((e.clientY - box.top) / box.height) * size.height];
    const at = unprojectAtDepth(camera, size, h.from, pixel);
    if (at) setDragged({ id: h.id, end: h.end, at });
  };
  const drop = (e: PointerEvent): void => {
    const h = held.current;
    held.current = null;
    if (!h) return;
    e.stopPropagation();
    if (dragged) move(h.id, h.end, dragged.at);
    setDragged(null);
  };
  const onKey = (e: KeyboardEvent, light: UserLight, end: End): void => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const from = projectPoint(camera, size, light[end] as Vec3);
    if (!way || !from) return;
    e.preventDefault();
    e.stopPropagation();
    const k = e.shiftKey ? 5 * STEP : STEP;
    const at = unprojectAtDepth(camera, size, light[end] as Vec3, [from[0] + way[0]! * k * size.width, from[1] + way[1]! * k * size.width]);
    if (at) move(light.id, end, at);
  };
  const where = (light: UserLight, end: End): [number, number] | null => {
    const point = dragged?.id === light.id && dragged.end === end ? dragged.at : (light[end] as Vec3);
    const at = projectPoint(camera, size, point);
    return at && [(100 * at[0]) / size.width, (100 * at[1]) / size.height];
  };
  const handle = (light: UserLight, end: End): ReactNode => {
    const at = where(light, end);
    if (!at) return null;
    const on = light.id === chosen;
    return (
      <button
        key={`${light.id} ${end}`}
        type="button"
        aria-label={end === 'at' ? LABELS.lightNamed(light.name) : LABELS.aimOf(light.name)}
        title={end === 'at' ? light.name : LABELS.aimOf(light.name)}
        className={`pointer-events-auto absolute size-4 -translate-x-1/2 -translate-y-1/2 cursor-move border-2 border-chalk outline outline-1 outline-ink ${
          end === 'at' ? (on ? 'bg-madder' : 'bg-cobalt') : 'rotate-45 bg-chalk'
        } ${light.on ? '' : 'opacity-50'}`}
        style={{ left: `${at[0]}%`, top: `${at[1]}%` }}
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
          held.current = { id: light.id, end, from: light[end] as Vec3 };
          onChoose(light.id);
        }}
        onPointerMove={onPointerMove}
        onPointerUp={drop}
        onPointerCancel={drop}
        onKeyDown={(e) => onKey(e, light, end)}
      />
    );
  };
  const aimed = lights.find((l) => l.id === chosen && l.kind !== 'point');
  const [from, to] = aimed ? [where(aimed, 'at'), where(aimed, 'target')] : [null, null];
  return (
    <div ref={frame} className="absolute inset-0" data-testid="lamp-handles">
      {from && to && (
        <svg className="absolute inset-0 size-full overflow-visible" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
          <line
            x1={from[0]}
            y1={from[1]}
            x2={to[0]}
            y2={to[1]}
            className="stroke-chalk"
            strokeWidth="1.5"
            strokeDasharray="4 3"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
      )}
      {aimed && handle(aimed, 'target')}
      {lights.map((l) => handle(l, 'at'))}
    </div>
  );
}
