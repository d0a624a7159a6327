/** Laying a set anew on the model as it is now: reference bounds move only by this act, which says what moves with them. */
import { type Bounds, centreOf, radiusOf } from '../math/bounds.js';
import { kindOf, shotName } from '../shots/kinds.js';
import { fitView } from '../camera/view.js';
import type { SetFile } from '../plan/set.js';

/** Metres below which bounds are the same. */
const SAME = 1e-6;

/** What changes where a set takes the bounds of another revision as its reference. */
export interface Rebase {
  /** Metres that the middle moves by, and how the size changes. */
  moved: number;
  grown: number;
  lowest: number;
  /** Names of shots that turn about the middle or cut by the bounds. */
  pivots: string[];
  /** Names of views that are fitted anew, where that is asked for. */
  views: string[];
}

/** What a refit to the bounds would move, or null where the set stands on them already. */
export function rebaseProposal(set: SetFile, bounds: Bounds): Rebase | null {
  const { reference } = set;
  if (
    !reference ||
    [0, 1, 2].every((i) => Math.abs(reference.min[i]! - bounds.min[i]!) < SAME && Math.abs(reference.max[i]! - bounds.max[i]!) < SAME)
  )
    return null;
  const from = centreOf(reference);
  const to = centreOf(bounds);
  return {
    moved: Math.hypot(...from.map((c, i) => to[i]! - c)),
    grown: radiusOf(bounds) / Math.max(1e-9, radiusOf(reference)) - 1,
    lowest: bounds.min[1] - reference.min[1],
    pivots: set.shots.filter((s) => kindOf(s).pivotFollowsSubject?.(s)).map(shotName),
    views: set.views.filter((v) => !v.locked && v.kind !== 'panorama').map((v) => v.name),
  };
}

/** The set on the bounds; `views`: unlocked ones are fitted to them, from where they look. */
export function rebaseSet(set: SetFile, bounds: Bounds, views: boolean): SetFile {
  const { size, pixelAspect } = set.sheet;
  return {
    ...set,
    reference: bounds,
    ...(views && { views: set.views.map((v) => (v.locked || v.kind === 'panorama' ? v : { ...v, ...fitted(v) })) }),
  };
  function fitted(view: SetFile['views'][number]): Pick<typeof view, 'eye' | 'target' | 'width'> {
    const { eye, target, width } = fitView(view, bounds, size, pixelAspect);
    return { eye, target, ...(width !== undefined && { width }) };
  }
}
