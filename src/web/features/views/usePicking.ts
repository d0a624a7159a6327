/** What the next clicks in the viewport mean: a point of focus, parts to hide, or points of a plane. */
import { useState } from 'react';
import type { Vec3 } from '../../../core/math/bounds.js';
import type { PartClick } from '../../viewport/picking.js';

/** What a click in the viewport says. */
export type Picking = 'focus' | 'without' | 'points' | null;

/** Whether clicks in the viewport are waited for. */
export interface PickingState {
  picking: Picking;
  setPicking: (what: 'focus' | 'without' | null) => void;
  /** Asks for so many points of the subject, one after another; 0 asks for none any more. */
  pickPoints: (count: number, done: (points: Vec3[]) => void) => void;
  /** How many points are still to be picked. */
  left: number;
  picked: (pick: PartClick) => void;
}

/** `onFocus` hears the point to focus on, `onPart` each part to hide or to show. */
export function usePicking(onFocus: (point: Vec3) => void, onPart: (path: string) => void): PickingState {
  const [picking, setPicking] = useState<Picking>(null);
  const [asked, setAsked] = useState<{ count: number; points: Vec3[]; done: (points: Vec3[]) => void } | null>(null);
  const pickPoints: PickingState['pickPoints'] = (count, done) => {
    setAsked(count > 0 ? { count, points: [], done } : null);
    setPicking(count > 0 ? 'points' : null);
  };
  const picked = ({ path, point }: PartClick): void => {
    if (picking === 'focus') {
      onFocus(point);
      setPicking(null);
    } else if (picking === 'without' && path) onPart(path);
    else if (picking === 'points' && asked) {
      const points = [...asked.points, point];
      if (points.length < asked.count) setAsked({ ...asked, points });
      else {
        pickPoints(0, () => {});
        asked.done(points);
      }
    }
  };
  return { picking, setPicking, pickPoints, left: asked ? asked.count - asked.points.length : 0, picked };
}
