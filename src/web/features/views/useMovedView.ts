/** The view as it is looked through now: as it is saved, or as it was just moved by hand. */
import { useMemo, useState } from 'react';
import { defaultView } from '../../../core/camera/defaultView.js';
import { type View, viewProblem } from '../../../core/camera/view.js';
import { vec3 } from 'gl-matrix';
import type { Bounds, Vec3 } from '../../../core/math/bounds.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';

interface Pose {
  eye: Vec3;
  target: Vec3;
  width?: number;
}

/** A view as it is looked through, saved or not. */
export interface MovedView {
  /** Null where there is no model. */
  shown: View | null;
  /** It was moved by hand and is not saved so. */
  loose: boolean;
  /** Moves it by hand; null takes that back. */
  setPose: (pose: Pose | null) => void;
  /** Orbits, pans or zooms; going nearer in a parallel view shows less of it. */
  move: (pose: { eye: Vec3; target: Vec3 }) => void;
}

/** The view that is chosen, as far as it was moved by hand. */
export function useMovedView(selected: View | undefined, bounds: Bounds | undefined, sheet: FormatSheet): MovedView {
  const [moved, setMoved] = useState<(Pose & { of: string }) | null>(null);
  const of = selected?.id ?? 'new';
  const loose = moved?.of === of;
  const shown = useMemo((): View | null => {
    if (!bounds) return null;
    const base = selected ?? defaultView(bounds, sheet.size, sheet.pixelAspect);
    if (!moved || moved.of !== of) return base;
    const { eye, target, width = base.width } = moved;
    return { ...base, eye, target, width, keepVerticals: base.keepVerticals && viewProblem({ ...base, ...moved }) === null };
  }, [selected, moved, of, bounds, sheet]);
  const setPose = (pose: Pose | null): void => setMoved(pose && { of, ...pose });
  const move = ({ eye, target }: { eye: Vec3; target: Vec3 }): void => {
    if (!shown) return;
    const nearer = vec3.distance(eye, target) / vec3.distance(shown.eye as Vec3, shown.target as Vec3);
    setPose({ eye, target, ...(shown.kind === 'parallel' && { width: shown.width! * nearer }) });
  };
  return { shown, loose, setPose, move };
}
