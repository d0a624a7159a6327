/** The plan with each view's cone of sight: eye and target of the chosen view are dragged in it. */
import { type KeyboardEvent, type ReactNode, useState } from 'react';
import type { Bounds, Vec3 } from '../../../core/math/bounds.js';
import { sightCone } from '../../../core/camera/sightCone.js';
import type { Size, View } from '../../../core/camera/view.js';
import { planSquare } from '../../../core/camera/orthographic.js';
import { arrowWay, PlanCanvas } from '../../viewport/PlanCanvas.js';
import { LABELS, MESSAGES } from './words.js';

type End = 'eye' | 'target';

/** The plan, and the views on it. */
export interface ViewPlanProps {
  /** Address of the plan's picture. */
  picture: string;
  bounds: Bounds;
  views: View[];
  chosen: View;
  size: Size;
  pixelAspect: number;
  /** Degrees clockwise from -Z to true north, where there is a site. */
  north?: number;
  onChoose: (id: string) => void;
  /** Ends are dragged level: heights stay. `done` when the hand lets go. */
  onMove: (pose: { eye: Vec3; target: Vec3 }, done: boolean) => void;
}

/** Where the views stand, seen from above. */
export function ViewPlan({ picture, bounds, views, chosen, size, pixelAspect, north, onChoose, onMove }: ViewPlanProps): ReactNode {
  const [drag, setDrag] = useState<{ end: End; eye: Vec3; target: Vec3 } | null>(null);
  const square = planSquare(bounds);
  const shown: View = drag ? { ...chosen, eye: drag.eye, target: drag.target } : chosen;
  const own = { eye: chosen.eye as Vec3, target: chosen.target as Vec3 };
  const move = ([x, z]: [number, number]): void => {
    if (!drag) return;
    const next = { ...drag, [drag.end]: [x, drag[drag.end][1], z] as Vec3 };
    setDrag(next);
    onMove({ eye: next.eye, target: next.target }, false);
  };
  const drop = (): void => {
    if (drag) onMove({ eye: drag.eye, target: drag.target }, true);
    setDrag(null);
  };
  const step = (end: End) => (e: KeyboardEvent) => {
    const way = arrowWay(e.key);
    if (!way || chosen.locked) return;
    e.preventDefault();
    e.stopPropagation();
    const by = square.side * (e.shiftKey ? 0.1 : 0.01);
    const [x, y, z] = own[end];
    onMove({ ...own, [end]: [x + by * way[0], y, z + by * way[1]] }, true);
  };
  const handle = (end: End, unit: number): ReactNode => {
    const [x, y, z] = shown[end] as Vec3;
    return (
      <g
        key={end}
        role="slider"
        tabIndex={0}
        aria-label={end === 'eye' ? LABELS.eyeInPlan : LABELS.targetInPlan}
        aria-valuenow={x}
        aria-valuetext={MESSAGES.xMZM(x.toFixed(3), z.toFixed(3), y.toFixed(3))}
        className="cursor-grab"
        onPointerDown={() => !chosen.locked && setDrag({ end, ...own })}
        onKeyDown={step(end)}
      >
        <circle cx={x} cy={z} r={8 * unit} fill="transparent" />
        {end === 'eye' ? (
          <circle cx={x} cy={z} r={4 * unit} className="fill-madder stroke-chalk" strokeWidth={1.4 * unit} />
        ) : (
          <path
            d={`M${x - 4 * unit} ${z}h${8 * unit}M${x} ${z - 4 * unit}v${8 * unit}`}
            className="fill-none stroke-madder"
            strokeWidth={1.8 * unit}
          />
        )}
      </g>
    );
  };
  return (
    <PlanCanvas
      label={LABELS.planOfTheViews}
      picture={picture}
      square={square}
      reach={[...views, chosen].flatMap((v) => [v.eye, v.target].map((p): [number, number] => [p[0], p[2]]))}
      {...(north !== undefined && { north })}
      onDrag={move}
      onDrop={drop}
    >
      {(unit) => (
        <>
          {views
            .filter((v) => v.id !== chosen.id)
            .map((v) => (
              <g key={v.id} className="cursor-pointer" onPointerDown={(e) => e.stopPropagation()} onClick={() => onChoose(v.id)}>
                <polygon
                  points={sightCone(v, size, pixelAspect).join(' ')}
                  className="fill-none stroke-cobalt"
                  strokeDasharray={v.kind === 'parallel' ? `${3 * unit} ${2 * unit}` : undefined}
                  strokeWidth={0.9 * unit}
                />
                <circle cx={v.eye[0]} cy={v.eye[2]} r={3 * unit} className="fill-cobalt stroke-chalk" strokeWidth={unit}>
                  <title>{v.name}</title>
                </circle>
              </g>
            ))}
          <polygon points={sightCone(shown, size, pixelAspect).join(' ')} className="fill-madder/10 stroke-madder" strokeWidth={1.4 * unit} />
          {handle('target', unit)}
          {handle('eye', unit)}
        </>
      )}
    </PlanCanvas>
  );
}
